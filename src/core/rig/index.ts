/** Bones and weights raised in a shape: traced middle lines, chains, limbs, heat and voxels, poses that test them. */
export { type Bone, ROOT } from './bone';
export { type ChainPlan, chainPlans, MOST_BONES, proposedBones, SHOWS_MM } from './chain';
export type { ChainChange, ChainChanges } from './changes';
export { contours, foremost } from './contours';
export {
  axesOf,
  type FigureAsked,
  type FigureJoint,
  findFigure,
  mirroredJoint,
  type RiggedFigure,
  rigFigure,
  SURE,
} from './figure';
export { hangChains } from './hang';
export { type Held, heldBy, sharesOf } from './held';
export { type KnownSkeleton, knownSkeleton, type ToldSkeleton, tellBones, toldSkeleton } from './known';
export { garmentBones } from './known/garment';
export { FOUND_BY, findLimbs, type Limb } from './limbs';
export { type MiddleLine, middleLine, RigError, type Vec } from './middle';
export { addClip, type MotionAsked, type MotionClip, motionClip } from './motion/clip';
export { type RetargetAsked, retargetClip, retargetName } from './motion/retarget';
export { normalsOf } from './normals';
export { type ChainAsked, type Rig, type RiggedChain, rigChains, rigLimbs } from './plan';
export { carriedBy, carriesOf, measurePosed } from './posed';
export { axisOf, POSE_AXES, type PoseAxis, type Posed, type PoseTest, poseOne, TEST_TURN_DEG, testPoses } from './posetest';
export { raiseBones } from './raise';
export { type Spar, type SparChain, sparsOf } from './spars';
export { restIn } from './stance';
export { type Surface, surfaceFrom, surfaceOf } from './surface';
export { type LoosePiece, loosePieces, overFour, unhungBones } from './unhung';
export { type Binding, bind, methodFor, type WeightMethod } from './weights/bind';
export {
  BRUSHES,
  type Brush,
  type BrushKind,
  beginPainting,
  carryPainting,
  type Painting,
  patchOf,
  redoStroke,
  Stroking,
  settlePainting,
  undoStroke,
  type WeightPatch,
} from './weights/brush';
export { editShares, runShares, type SharesEdit } from './weights/edits';
// what raises it brings a search tree along: `./weights/laid` is asked by itself
export type { Laid, LaidAsked } from './weights/laid';
export { mostInfluences } from './weights/shares';
