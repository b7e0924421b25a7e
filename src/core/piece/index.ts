/**
 * The document of a piece: its schema (the only definition), the edits that change it, undo and redo, what to do
 * when two people edited, and reading stored documents.
 */
export { type Merge, mergeEdits, takeMine, takeMineAsCopies } from './conflict';
export {
  createModelItem,
  createModelPart,
  createOccluder,
  createPiece,
  drawnModel,
  HEAD_OCCLUDER_ID,
  OFFSET_AT_ANCHOR,
  usedFile,
} from './defaults';
export { applyEdit, describeEdit, Edit, EditError, type EditKind, entitiesOf, invertEdit, SingleEdit } from './edits';
export { commit, createHistory, type Done, type History, rebase, redo, undo } from './history';
export { PieceFormatError, readPiece } from './migrate';
export {
  type BonesSettings,
  type ClipsSettings,
  type CompressSettings,
  DetailDab,
  type HiddenSettings,
  isUponForm,
  linkedPictures,
  MEND_OPS,
  type MendOp,
  MendSettings,
  NO_TRANSFORM,
  PACKINGS,
  PICTURE_ROLES,
  type PictureEncoding,
  type PictureRoleName,
  type PicturesSettings,
  type PivotSettings,
  type PlaySettings,
  type QuantiseSettings,
  Recipe,
  RecipeFile,
  RecipeStep,
  type RelinkSettings,
  type RepaintSettings,
  type SimplifySettings,
  StepDraft,
  type StepKind,
  stepFits,
  stepsFor,
  TextureSettings,
  TransformSettings,
} from './recipe';
export {
  Anchor,
  canHang,
  Dismissed,
  Id,
  MEDIA_KINDS,
  MediaItem,
  type MediaKind,
  ModelItem,
  ModelPart,
  Name,
  NO_STOCK_CREDIT,
  OccluderPart,
  Offset,
  Part,
  PIECE_SCHEMA,
  Piece,
  ProfileId,
  Sha256,
  StockCredit,
  StockItem,
  type StockKind,
} from './schema';
