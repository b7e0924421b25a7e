/** Stock files that are no models: pictures, sequences, sounds, environments, motion clips, test films. */

export type { Pixels } from '../../math/pixels';
export { direction, type Radiance } from '../../math/radiance';
export { type AlphaStats, alphaStats, bleedColour } from './alpha';
export { type Apng, composeFrames, MOST_FRAMES, readApng } from './apng';
export { drawBall, drawUnrolled } from './ball';
export { type Bvh, bvhDocument, guessBvhUnit, readBvh, restHeight } from './bvh';
export {
  cleanRadiance,
  environmentFindings,
  measureRadiance,
  readRgbe,
  writeRgbe,
} from './environment';
export {
  AlphaKind,
  EnvironmentFacts,
  FootageFacts,
  MediaFacts,
  MotionFacts,
  PICTURE_FORMATS,
  PictureFacts,
  SequenceFacts,
  SoundFacts,
} from './facts';
export { footageFindings } from './footage';
export { type FrameGroup, frameGroups, gapFindings, naturalOrder } from './frames';
export { type Histogram, histogram } from './histogram';
export { figureAt, measureMotion, motionFindings, type StickFigure, stickFigure } from './motion';
export { mmOfPixels, PIXELS_PER_INCH, packingFor, pictureFindings } from './picture';
export { profileFinding, profileName } from './profile';
export {
  decodeWav,
  loudness,
  peakOf,
  readWavLayout,
  type Samples,
  silenceAtEnds,
  soundFindings,
  trimWav,
  waveform,
  wavHeader,
} from './sound';
export { safeSvg, svgInPixels } from './svg';
