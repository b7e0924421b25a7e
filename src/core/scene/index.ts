/** Surroundings: for now, environments of our own. */
export { makeSky, SKIES, SKY_LABELS, type SkyName } from './sky';
