/** What three's math lacks: typed quantities, seeded random numbers, boxes over bulk positions. */

export { type Box, boxOf, emptyBox, growBox } from './box';
export { type Dimension, parseQuantity, type QuantityResult, seededRandom, showCount, showMegabytes, showQuantity } from './quantity';
