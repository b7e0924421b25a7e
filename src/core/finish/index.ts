/** How surfaces look: finishes, their blends, colours between people and light. */
export { BLEND_WAYS, type BlendWay, blended, blendedByFactors, writesDepth } from './blend';
export { hexOf, linearOf, type Rgb } from './colour';
export { BLEND_WORDS, MAP_LABELS } from './labels';
export { LIBRARY, libraryFinish, libraryName } from './library';
export { finishOfMaterial } from './ofmaterial';
export { type DrawnFinish, type DrawnMap, FinishRow, type MapSet } from './row';
export { BLENDS, type Blend, EVERY, FACES, type Faces, finishFor, MAP_ROLES, type MapRole } from './words';
