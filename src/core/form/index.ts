/**
 * The form: a parametric head and bust made from numbers alone. Build the base once (about 1 s, cacheable),
 * then make any size or expression in tens of milliseconds. Fixed topology, measures in mm that come out exact,
 * landmarks of anthropometry, expressions by FACS action units.
 */

export type { FaceCover } from '../words/covers';
export {
  ACTION_UNITS,
  type ActionUnit,
  AT_REST,
  type Expression,
  type FaceWeights,
  faceOf,
  unitWords,
  WHOLE_UNITS,
  weightsOf,
} from '../words/face';
export { LANDMARKS, type LandmarkName } from '../words/landmarks';
export { buildFormBase, FORM_VERSION } from './base';
export type { FormBase } from './basemesh';
export type { Coarse } from './coarse';
export { contradictions, contradictionsOf, tapeContradiction } from './contradict';
export { eyeCentreM, FaceMotion, gazeTurn, isAtRest } from './facemotion';
export { nearFacePlace, placeUnder } from './faceplaces';
export { type FacePlace, type FacePoint, facePoint, facePointFrame } from './facepoint';
export { faceIndices } from './facesurface';
export { windowPlaces } from './facewindow';
export { finerOf } from './finer';
export { expressForm, type Form, FormError, makeForm } from './form';
export { FINER_LABELS, MEASURE_LABELS } from './labels';
export { LOOK_ABOUT } from './lookabout';
export {
  FINER,
  type FinerName,
  FORM_SIZES,
  type FormAsk,
  type FormSize,
  isAngle,
  MEASURE_ENDS,
  MEASURES,
  type MeasureName,
  type Measures,
  PRESETS,
} from './measures';
export { keysOver, type Moment, overlaid } from './overlay';
export { BODY_STRIP, FACE_STRIP, type HeadTurn, POSES, type Pose } from './poses';
export { type FormRegion, growForm, namedIndices, regionIndices } from './regions';
export { type BentBones, bendBones, bendForm, bendShares, isRigid, SKELETONS, skeletonFor, skeletonOf } from './skeleton';
export { poseAtTime, STILL, type Take, type TakeKey, type TakePose, thinKeys, tidyKey } from './take';
export { formDocument, formName, formObj } from './takeaway';
export { SHOULDER_SWAY, TAKES } from './takes';
