/** Jobs in disposable processes: intake, recipes, packing, unpacking. */

export type { IntakeDone, IntakeFile, IntakeJob, ItemDone } from './intake';
export type { PrepareDone, PrepareJob } from './prepare';
export { intake, JobError, pack, prepare, type RunOptions, unpack } from './run';
