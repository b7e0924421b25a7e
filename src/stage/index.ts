/** three.js drawing of an evaluated piece: the same code in the application and, later, the player. */
export type { TableShow } from './bench';
export { type MirrorLook, Stage } from './stage';
export type { HeatSurface, OnTable, TableDab, TableLook, TableView } from './table';
export type { DrawSize } from './view';
