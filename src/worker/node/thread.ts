/** Entry of the disposable thread: one job, one answer, then it ends. Bundled to dist/worker/thread.js. */
import { parentPort, workerData } from 'node:worker_threads';
import { runIntake } from './intake';
import { runPack, runUnpack } from './pack';
import type { ThreadAnswer, ThreadJob } from './run';

async function run(job: ThreadJob): Promise<unknown> {
  if (job.job === 'intake') return runIntake(job.data);
  if (job.job === 'pack') return runPack(job.data);
  return runUnpack(job.data);
}

run(workerData as ThreadJob).then(
  (result) => parentPort?.postMessage({ ok: true, result } satisfies ThreadAnswer),
  (error: Error & { code?: unknown }) => {
    // only errors with an `area/kebab` code are meant for the user
    const code = typeof error.code === 'string' && /^[a-z]+\/[a-z-]+$/.test(error.code) ? error.code : null;
    parentPort?.postMessage({ ok: false, code, message: error.message, stack: code ? undefined : error.stack } satisfies ThreadAnswer);
  },
);
