/** What three's math lacks: typed quantities, seeded random numbers, boxes over bulk positions, projective maps, similarity fits. */

export { type Box, boxOf, emptyBox, growBox } from './box';
export { type Corners, type Homography, homographyOf, isConvex, mapPoint, type Point2 } from './homography';
export { type Grid, type LaidOn, layOnto } from './layonto';
export { type Offset, offsetMatrix, offsetRotation, type Turn, turnAbout, turnMatrix, wrapTurn } from './offset';
export type { Pixels } from './pixels';
export {
  type Dimension,
  parseBytes,
  parseQuantity,
  type QuantityResult,
  seededRandom,
  showBytes,
  showBytesFinely,
  showCount,
  showMegabytes,
  showQuantity,
} from './quantity';
export { fitSimilarity, type Similarity } from './similarity';
export { yawPitchRoll } from './turns';
export { inkOf, type UvShape, uvEdges, uvLayoutSvg } from './uvlayout';
