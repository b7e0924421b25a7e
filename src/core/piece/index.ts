/**
 * The document of a piece: its tables (a registry from which schema, edits, inverses, conflicts and words come), undo and redo, what
 * to do when two people edited, and reading stored documents and edits.
 */
export * from '../parts';
export { MATTE_NAMES, Matte, type MatteName } from '../words/mattes';
export { Id, Name, Offset, offsetAtAnchor, Sha256 } from '../words/values';
export {
  askOf,
  bodyAskOf,
  castOf,
  measuresOf,
  shownAsk,
  shownBody,
  shownWearer,
  type Wearer,
  wearerWords,
  wornBy,
} from './cast';
export { usersOf } from './change';
export { ColourwayRow } from './colourwayrow';
export { colourwaysOf, shownColourway, type Wearing, wearersOf, wearing, wearingIn } from './colourways';
export { type Merge, mergeEdits, takeMine, takeMineAsCopies } from './conflict';
export {
  copyOfPart,
  createFace,
  createGroup,
  createLayers,
  createModelItem,
  createModelPart,
  createOccluder,
  createPatch,
  createPiece,
  createScreen,
  createSolid,
  HEAD_OCCLUDER_ID,
  partNameOf,
  setRecipe,
} from './defaults';
export { blobsOfDoc } from './document';
export { drawnFinish } from './drawnfinish';
export {
  add,
  applyEdit,
  batch,
  change,
  changedEntities,
  changePart,
  describeEdit,
  Edit,
  EditError,
  editsBetween,
  entitiesOf,
  invertEdit,
  nameEntity,
  order,
  remove,
  SingleEdit,
  settings,
  singles,
  spellOut,
  touchedByEdit,
} from './edits';
export { Entities } from './entities';
export { copyFinishRow, FinishClip, picturesOf } from './finishclip';
export { FINER_RANGE, FormRow, formRow, MEASURE_RANGE } from './formrow';
export { commit, commitOn, createHistory, type Done, type History, joined, rebase, redo, type Stepped, undo } from './history';
export {
  CAMERA_LAYER_ID,
  LAYER_LABELS,
  Layer,
  type LayerKind,
  layerName,
  MATTE_LABELS,
} from './layers';
export { BARE_EDITS_SCHEMA, PieceFormatError, readEdits, readPiece, type StoredEdits, storeEdits } from './migrate';
export { REACHED, reachedBy } from './reached';
export * from './recipe';
export { PIECE_SCHEMA, Piece, type RowTypes } from './schema';
export {
  anchorOf,
  branchOf,
  drawnModel,
  drawnSky,
  goesWithFace,
  hasBody,
  hasFace,
  hiddenBy,
  litBy,
  partsOf,
  rackOf,
  seesBody,
  stockOf,
  stocksOf,
  usedFile,
} from './selectors';
export {
  canFill,
  canHang,
  Dismissed,
  MEDIA_KINDS,
  MediaItem,
  ModelItem,
  NO_STOCK_CREDIT,
  StockCredit,
  StockItem,
  type StockKind,
} from './stock';
export { Environment, type Surroundings, usualSurroundings } from './surroundings';
export { type Doc, sameValue } from './table';
export { MAX_LAYERS, MAX_PARTS, MAX_STOCK, PIECE_KIND, ProfileId, Settings, TABLES, type TableName } from './tables';
export { MOST_KEYS, MOST_TAKE_S, TakeRow, takeOf, takeRow } from './takerow';
