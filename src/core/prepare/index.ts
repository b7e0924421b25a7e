/** Recipes on stock models: running their steps, putting fixes together, keeping fits. */
export { divideOffset } from './keep';
export { combineTransforms, FIX_ROUNDS, mergeDrafts, type RecipeReport, type RecipeTools, runRecipe, turnOf } from './recipe';
export { type PictureBytes, type PictureTools, readPictures } from './textures';
export { applyNodes, applyTransform, isQuarterTurn, type Similarity } from './transform';
