/** Figures: found in a shape, rigged at a detail, put right by hand. */

export { SURE } from '../../words/humanoid';
export { axesOf, mirroredJoint } from './axes';
export { type Axes, type Figure, type FigureJoint, findFigure } from './find';
export { type FigureAsked, type RiggedFigure, rigFigure } from './rig';
