/** How surfaces look: finishes, their blends, colours between people and light. */
export { BLEND_WAYS, type BlendWay, blended, blendedByFactors, writesDepth } from './blend';
export { hexOf, linearOf, type Rgb } from './colour';
export { LIBRARY, libraryFinish, libraryName } from './library';
export { finishOfMaterial } from './ofmaterial';
export { FinishRow } from './row';
export { BLEND_WORDS, BLENDS, type Blend, EVERY, FACES, type Faces, finishFor, MAP_LABELS, MAP_ROLES, type MapRole } from './words';
