/**
 * The document of a piece: its schema (the only definition), the edits that change it, undo and redo, what to do
 * when two people edited, and reading stored documents.
 */
export { type Merge, mergeEdits, takeMine, takeMineAsCopies } from './conflict';
export { createModelItem, createModelPart, createOccluder, createPiece, drawnModel, HEAD_OCCLUDER_ID, OFFSET_AT_ANCHOR } from './defaults';
export { applyEdit, describeEdit, Edit, EditError, type EditKind, entitiesOf, invertEdit, SingleEdit } from './edits';
export { commit, createHistory, type Done, type History, rebase, redo, undo } from './history';
export { PieceFormatError, readPiece } from './migrate';
export {
  MEND_OPS,
  type MendOp,
  MendSettings,
  NO_TRANSFORM,
  Recipe,
  RecipeStep,
  type RelinkSettings,
  StepDraft,
  TextureSettings,
  TransformSettings,
} from './recipe';
export {
  Anchor,
  Dismissed,
  Id,
  ModelItem,
  ModelPart,
  Name,
  NO_STOCK_CREDIT,
  OccluderPart,
  Offset,
  Part,
  PIECE_SCHEMA,
  PictureItem,
  Piece,
  ProfileId,
  Sha256,
  StockCredit,
  StockItem,
} from './schema';
