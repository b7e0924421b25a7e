/** Entry of the disposable process: one job, one answer, then it ends. Bundled to dist/worker/code.cjs, started by job.cjs. */
import type { Job, JobAnswer } from './run';

let told = 0;
/** Now and then: a message costs more than what it tells. */
const report = (share: number, what: string) => {
  const now = Date.now();
  if (now - told < 150 && share < 1) return;
  told = now;
  process.send?.({ progress: { share, what } } satisfies JobAnswer);
};

/** Only what a job needs is loaded: all of it together takes most of a second. */
const load = {
  intake: () => import('./intake'),
  prepare: () => import('./prepare'),
  pack: () => import('./pack'),
  lighten: () => import('./lighten'),
  rig: () => import('./rig'),
  fit: () => import('./fit'),
};
/** For the first job, which keeps the code as it was compiled. */
export const loadAll = () => Promise.all(Object.values(load).map((l) => l()));

async function run(job: Job): Promise<unknown> {
  switch (job.job) {
    case 'intake':
      return (await load.intake()).runIntake(job.data);
    case 'open':
      return (await load.intake()).runOpen(job.data);
    case 'prepare':
      return (await load.prepare()).runPrepare(job.data);
    case 'pack':
      return (await load.pack()).runPack(job.data);
    case 'unpack':
      return (await load.pack()).runUnpack(job.data);
    case 'unpack-pictures':
      return (await load.pack()).runUnpackPictures(job.data);
    case 'measure':
      return (await load.lighten()).runMeasure(job.data, report);
    case 'rig':
      return (await load.rig()).runRig(job.data);
    case 'fit':
      return (await load.fit()).runFit(job.data);
    case 'solve':
      return (await load.lighten()).runSolve(job.data, report);
  }
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
