/** Anchor frames, offsets, and the one true cause why a part cannot be seen. */
export { boxInHead, headSizeFactor, type Mend, mendOf, sayCause } from './mend';
export { cameraOf, type HiddenCause, type Sight, whyHidden } from './sight';
