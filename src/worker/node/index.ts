/** Jobs in disposable processes: intake, recipes, packing, unpacking. */

export type { FitDone, FitJob, FitWearer } from './fit';
export type { IntakeDone, IntakeFile, IntakeJob, ItemDone, OpenDone } from './intake';
export type { MeasureDone, MeasureJob, SolveDone, SolveJob } from './lighten';
export { type MeetDone, type MeetJob, meetLimits, namedSteps } from './meet';
export type { PrepareDone, PrepareJob } from './prepare';
export type { RigDone, RigJob } from './rig';
export {
  fitToForm,
  intake,
  JobError,
  jobCommand,
  measure,
  openModel,
  type Progress,
  pack,
  prepare,
  type RunOptions,
  rig,
  solveBudget,
  unpack,
  unpackPictures,
} from './run';
