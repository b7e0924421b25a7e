/**
 * Bringing models in: the importer registry, containers with every limit checked before allocation, reading into a
 * glTF-Transform Document, the plain model evaluation works on, and the facts Stock and the command line show.
 */
export { checkGltfLimits, type GltfJson, openGltf } from './container';
export { IntakeError } from './errors';
export { Finding, type FindingLevel, ModelFacts, type Unreadable } from './facts';
export { COMPANION_EXTENSIONS, findImporter, IMPORTERS, type Importer } from './importers';
export { countDrawn, inspectModel, sceneSize, type ValidatorIssue } from './inspect';
export { INTAKE_LIMITS } from './limits';
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
export { type Companions, cleanPath, createGltfIo, type GltfDecoders, type ReadGltf, readGltf } from './read';
