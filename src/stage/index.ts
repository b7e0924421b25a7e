/** three.js drawing of an evaluated piece: the same code in the application and, later, the player. */
export { type DrawSize, type PlateWindow, plateCamera, Stage, type TableLook } from './stage';
