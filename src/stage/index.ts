/** three.js drawing of an evaluated piece: the same code in the application and, later, the player. */
export type { TableShow } from './bench';
export { type PlateWindow, plateCamera, Stage } from './stage';
export { type HeatSurface, type OnTable, type TableDab, type TableLook, type TableView, USUAL_HEIGHT_RAD } from './table';
export type { DrawSize } from './view';
