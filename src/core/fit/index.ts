/** What is done with parts on a wearer: acts of the rack as edits, and the one true cause why a part cannot be seen. */
export * from './acts';
export { type Bent, bentBody, bentForm, type WearerFrames } from './bent';
export { cameraOf } from './camera';
export { CastMeasure, type ClearanceCell, type Measured } from './cells';
export type { Clearance, ClearanceShape } from './clearance';
export { boxInHead, headSizeFactor, type Mend, mendOf, sayCause } from './mend';
export type { SeenShape } from './picture';
export { type LandmarkAt, seatOf } from './seats';
export { type Blind, type HiddenCause, type Sight, whyHidden } from './sight';
export type { LayerSample, PartSample, StackRow, StackWhy } from './stack';
export { bareUnder, coveredAreas, hidingOf, outsideAreas } from './wornareas';
export { bareUnderCloth } from './wornbare';
export { clothAt, type WornPoseRow, wornOverPoses } from './wornfit';
export { type WornReport, type WornRow, wornReport } from './wornreport';
