/**
 * The body: a parametric full figure made from numbers alone, with the head form on it unchanged, a skeleton of VRM 1.0 humanoid bones and
 * skin weights. Build the base once, then shape any measures in a fraction of a second and pose them in less.
 */

export { BODY_MEASURES, BODY_RANGE, type BodyAsk, type BodyMeasureName, bodyOfSize } from './ask';
export { BARE, BARE_TEXT, type BareBrush, bareShare, barest, hidingTriangles, packBare, strokeBare, unpackBare } from './bare';
export { BODY_VERSION, type BodyBase, buildBodyBase } from './base';
export { type BodySkin, bendBody } from './bend';
export { type Body, type BodyJoint, type DrawnBody, drawnBody, poseBody, restOf, type ShapedBody, shapeBody, wearingFace } from './body';
export { carryInHead } from './carry';
export { type BodyHold, heldPose, motionSeconds } from './hold';
export { BODY_PRESETS, BodyError, type BodyMeasures, bodyMeasures } from './measures';
export { idle, MOTIONS, type MotionDef, type Stander, standerOf, turnAbout, walk } from './motion';
export { BODY_POSES, type BodyPose, type BodyPoseName, type BodySkeleton, poseTurns, solveBodyPose, T_TURNS } from './pose';
export { type BodyRest, bodyRest, knowsRest, type RestMm, restOfSize, tellRest } from './rests';
export { BODY_LABELS, bodyContradictions } from './words';
