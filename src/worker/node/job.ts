/** Entry of the disposable process: one job, one answer, then it ends. Bundled to dist/worker/job.js. */
import { runIntake, runOpen } from './intake';
import { runMeasure, runSolve } from './lighten';
import { runPack, runUnpack } from './pack';
import { runPrepare } from './prepare';
import type { Job, JobAnswer } from './run';

let told = 0;
/** Now and then: a message costs more than what it tells. */
const report = (share: number, what: string) => {
  const now = Date.now();
  if (now - told < 150 && share < 1) return;
  told = now;
  process.send?.({ progress: { share, what } } satisfies JobAnswer);
};

async function run(job: Job): Promise<unknown> {
  if (job.job === 'intake') return runIntake(job.data);
  if (job.job === 'open') return runOpen(job.data);
  if (job.job === 'prepare') return runPrepare(job.data);
  if (job.job === 'pack') return runPack(job.data);
  if (job.job === 'measure') return runMeasure(job.data, report);
  if (job.job === 'solve') return runSolve(job.data, report);
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
