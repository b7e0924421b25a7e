/** piece × capture × memory → stage state. The one place where document, models, form and motion meet. */

export { trianglesWithout } from '../model/without';
export type { SolidMesh } from '../parts/solidmesh';
export { SCREEN_AHEAD_M, Seen } from './anchors';
export { type Drift, driftOver } from './drift';
export { type WorldShape, worldBox, worldShapes } from './geometry';
export { meshOf } from './meshes';
export { PATCH_GRID, PATCH_SPREAD, type PatchMesh } from './patch';
export { advance, copyMemory, type Memory, STEP_S, settle, start } from './run';
export { Runner, sourceOf } from './runner';
export { type Assets, compile, restFramesOf, type Show, type ShowNode } from './show';
export { stageOf, stageStill, worldVertices } from './stage';
export type { DrawShape, StageForm, StageLayer, StageLight, StagePart, StageState, Wears } from './state';
export { type Swim, swimOver } from './swim';
export { type Held, takeSource, wearerCapture } from './wearer';
