/** Surroundings: environments of our own, and how surfaces mirror any. */
export { domePicture, mainLight, type Reflections, reflectionsOf } from './reflect';
export { makeSky } from './sky';
