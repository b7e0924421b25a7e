/** What is said of a head's measures. */
import type { FinerName, MeasureName } from './measures';

export const MEASURE_LABELS: Readonly<Record<MeasureName, string>> = {
  headLength: 'Head length',
  headBreadth: 'Head breadth',
  bizygomaticBreadth: 'Cheekbones',
  bitragionBreadth: 'Ear to ear',
  faceLength: 'Face length',
  interpupillaryDistance: 'Pupils apart',
  noseProtrusion: 'Nose stands out',
  noseBreadth: 'Nose breadth',
};
export const FINER_LABELS: Readonly<Record<FinerName, string>> = {
  browToCrown: 'Brow to crown',
  templeBreadth: 'Temples apart',
  earLength: 'Ear length',
  earHeight: 'Ear root height',
  noseBridgeBreadth: 'Bridge breadth',
  noseBridgeAngle: 'Nose flanks',
  neckGirth: 'Neck girth',
};
