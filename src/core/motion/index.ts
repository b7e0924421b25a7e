/** Motion of models: clips sampled at a time, node matrices, skinned and instanced vertices. */
export { type LocalPose, nodeMatrices, type PosedPrimitive, poseAt, posedPrimitives, restPose, sampleChannel, sceneNodes } from './pose';
