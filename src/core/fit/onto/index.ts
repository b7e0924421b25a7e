/** Fit it: a thing of a stated kind brought onto a head by its own features, and how sure that is. */
export { type FitAsked, type FitPair, type Fitted, fitIt, SURE_FIT } from './fitit';
export { headOf } from './head';
export { leftBetween, solvePairs } from './pairs';
export type { Onto } from './stand';
export { shapesOfModel, type ThingShape } from './thing';
