/**
 * Recipes on stock files: running their steps, putting fixes together, keeping fits; pictures and sequences as planes;
 * what it all costs the eye, and the search for what costs least. A page takes what is told of it from `terms`: the rest computes.
 */

export { FIX_ROUNDS, mergeDrafts } from './drafts';
export { judgeFixes, SAME_PICTURE, SEEN_FAULTS } from './judgefixes';
export { divideOffset } from './keep';
export { brokenLimits, limitWords } from './limits';
export { errorOf, errorTerms, makeReference, measureError, type Reference } from './measure/error';
export { type Heat, heatOf } from './measure/heat';
export { moveShape, readShape, type Shape } from './measure/shape';
export { mipTexture } from './measure/texture';
export { type DracoModules, PACKING_EXTENSIONS, type Packing, packDocument, packingOf, unpackDocument } from './pack';
export type { PictureBytes, PictureEncoder, PictureTools } from './picturetools';
export { picturePlane, sequencePlane } from './plane';
export { type RecipeReport, type RecipeTools, runRecipe, runStep } from './recipe';
export { type MeasuredRun, movesOf, type RunTools, referenceOf, runMeasured, TextureCache } from './run';
export { framePlace, putFrame, type SheetLayout, sheetLayout, takeFrame } from './sheet';
export type { Effort } from './solve/ladder';
export { type SolveTools, solve } from './solve/solve';
export { crop, straighten, straightSize } from './straighten';
export * from './terms';
export { readPictures } from './textures';
export { undrawn } from './undrawn';
export { REFERENCE_M, VIEW_RING, viewingDistance } from './viewing';
export { weighDocument, weighParts } from './weigh';
