/** How surfaces look: finishes, their blends, colours between people and light. */
export { type AlphaFault, type AlphaShares, alphaFault, readAlpha } from './alpha';
export { beyondGltf, FinishExtras } from './beyond';
export { BLEND_WAYS, type BlendWay, blended, blendedByFactors, writesDepth } from './blend';
export { hexOf, linearOf, type Rgb } from './colour';
export { BLEND_WORDS, CHANNELS, COLOUR_ROLES, FINISH_KIND_WORDS, MAP_LABELS, UV_WORDS } from './labels';
export { LIBRARY, libraryFinish, libraryName } from './library';
export { finishOfMaterial } from './ofmaterial';
export { type DrawnFinish, type DrawnMap, FinishRow, type MapSet } from './row';
export { type SetMaps, withSet } from './set';
export {
  BLENDS,
  type Blend,
  EVERY,
  FACES,
  type Faces,
  FINISH_KINDS,
  type FinishKind,
  finishFor,
  MAP_ROLES,
  type MapRole,
  UV_SOURCES,
  type UvSource,
} from './words';
