/** A glTF read into plain arrays, posed and skinned; the whole of it moved. Metres. */
export { type ModelMaterial, readMaterial } from './material';
export {
  type Model,
  type ModelChannel,
  type ModelClip,
  type ModelMesh,
  type ModelNode,
  type ModelPrimitive,
  type ModelSkin,
  readModel,
} from './model';
export { type LocalPose, nodeMatrices, type PosedPrimitive, poseAt, posedPrimitives, restPose, sampleChannel, sceneNodes } from './pose';
export { stillMeshNodes } from './still';
export { applyNodes, applyTransform, isQuarterTurn, type Similarity } from './transform';
export { trianglesWithout } from './without';
