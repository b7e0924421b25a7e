/**
 * Bringing models in: the importer registry, containers with every limit checked before allocation, reading into a
 * glTF-Transform Document, the plain model evaluation works on, and the facts and findings Stock and the command line show.
 */

export {
  type Model,
  type ModelChannel,
  type ModelClip,
  type ModelMesh,
  type ModelNode,
  type ModelPrimitive,
  type ModelSkin,
  readModel,
} from '../model/model';
export type { Picture } from './check/context';
export {
  type PictureLook,
  type PictureReader,
  type PictureRole,
  type PictureStats,
  pictureLeaf,
  pictureLook,
  readPictureName,
} from './check/pictures';
export { bytesWithMips } from './check/textures';
export { checkGltfLimits, type GltfJson, openGltf } from './container';
export { IntakeError } from './errors';
export {
  FileCredit,
  FileFacts,
  FormReturn,
  ModelFacts,
  type ModelFormat,
  PlacingFacts,
  StockFacts,
  Unreadable,
  type WantedPicture,
} from './facts';
export { Finding, type FindingLevel, Fix, isUnseen } from './findings';
export { type Converter, type PictureConverter, readForeign, sniffPicture } from './foreign';
export { COMPANION_EXTENSIONS, findImporter, IMPORTERS, type Importer, MODEL_EXTENSIONS } from './importers';
export { countDrawn, type InspectExtras, inspectModel, NO_CREDIT, sceneBox, sceneSize, type ValidatorIssue } from './inspect';
export {
  type AtHand,
  factsOfStock,
  type JudgeContext,
  judgeFindings,
  judgeMedia,
  judgeStock,
  ownCredit,
  picturesAtHand,
  type StockJudgement,
} from './judge';
export { type Credit, licenceFindings, licencePermits, mayDeliver, OWN_WORK, type Permits, UNKNOWN_LICENCE } from './licence';
export { isLicence, LICENCES, readCredit, readLicence } from './licencetext';
export { INTAKE_LIMITS, pixelsFor } from './limits';
export * from './media';
export { KINDS, Kind, lengthWords, nearestQuarter, QUARTER_TURNS, quarterQuaternion, SURE } from './placing';
export { isAtHome } from './placing/athome';
export { FORM_TRIANGLES, findForm, type Sculpt, sculptOf } from './placing/formreturn';
export { type Companions, cleanPath, createGltfIo, type GltfDecoders, type ReadGltf, readGltf } from './read';
export { type Match, type PictureBrief, type Relinking, rankPictures, relinkAll, relinkFindings } from './relink';
export { type TextureUse, textureUses } from './textureuse';
export { firstSlot, fulfil, standIn, wantedName, wantedPictures } from './wanted';
