/** Jobs in disposable processs: intake, packing, unpacking. */

export type { IntakeDone, IntakeFile, IntakeJob } from './intake';
export { intake, JobError, pack, type RunOptions, unpack } from './run';
