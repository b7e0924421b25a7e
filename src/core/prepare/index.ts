/** Recipes on stock files: running their steps, putting fixes together, keeping fits; pictures and sequences as planes. */
export { divideOffset } from './keep';
export { picturePlane, sequencePlane } from './plane';
export { combineTransforms, FIX_ROUNDS, mergeDrafts, type RecipeReport, type RecipeTools, runRecipe, turnOf } from './recipe';
export { framePlace, putFrame, type SheetLayout, sheetLayout, takeFrame } from './sheet';
export { crop, straighten, straightSize } from './straighten';
export { type PictureBytes, type PictureTools, readPictures } from './textures';
export { applyNodes, applyTransform, isQuarterTurn, type Similarity } from './transform';
