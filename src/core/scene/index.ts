/** Surroundings: for now, environments of our own. */
export { makeSky } from './sky';
