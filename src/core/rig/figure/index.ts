/** Figures: found in a shape, rigged at a detail, put right by hand. */

export { SURE } from '../../words/humanoid';
export { type Axes, type Figure, type FigureJoint, findFigure } from './find';
export { axesOf, type FigureAsked, mirroredJoint, type RiggedFigure, rigFigure } from './rig';
