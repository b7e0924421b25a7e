/** Entry of the disposable process: one job, one answer, then it ends. Bundled to dist/worker/job.js. */
import { runIntake } from './intake';
import { runPack, runUnpack } from './pack';
import { runPrepare } from './prepare';
import type { Job, JobAnswer } from './run';

async function run(job: Job): Promise<unknown> {
  if (job.job === 'intake') return runIntake(job.data);
  if (job.job === 'prepare') return runPrepare(job.data);
  if (job.job === 'pack') return runPack(job.data);
  return runUnpack(job.data);
}

const answer = (a: JobAnswer) => process.send?.(a, () => process.disconnect?.());

process.on('disconnect', () => process.exit());
process.once('message', (job: Job) => {
  run(job).then(
    (result) => answer({ ok: true, result }),
    (error: Error & { code?: unknown }) => {
      // only errors with an `area/kebab` code are meant for the user
      const code = typeof error.code === 'string' && /^[a-z0-9]+\/[a-z-]+$/.test(error.code) ? error.code : null;
      answer({ ok: false, code, message: error.message, stack: code ? undefined : error.stack });
    },
  );
});
