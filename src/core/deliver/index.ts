/** Profiles, what a package holds and leaves out, and the two packagers: GLB and bundle. */
export { BUNDLE_LIMITS, BundleError, blobsOf, type Credits, packBundle, readBundle } from './bundle';
export { type Contents, type LeftOut, type LicenceBlocker, licenceBlockers, NOT_IN_GLB, packageContents, rootsOf } from './contents';
export { DeliverError, packGlb } from './glb';
export { PROFILES, type Profile } from './profiles';
