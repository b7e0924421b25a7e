/** What jobs do: recipes run under measure, limits met. And the queue of this process. */
import type { BatchRow, JobRequest, JobResult, JobTarget } from '@/api';
import { type RecipeStep, stepFits } from '@/core/piece';
import type { Limits } from '@/core/prepare';
import { JobError, measure, meetLimits, solveBudget } from '@/worker/node';
import { filesFor, keepPrepared, listAssets } from './assets';
import { blobPath, withTempDir } from './blobs';
import { solvedDir } from './config';
import { database, type Knex } from './db';
import { HttpError, notFound } from './errors';
import { JobQueue, type JobRunner } from './jobs';

/** Checks what a job names before it waits in line. @throws {HttpError} 404 not in the yard, 422 no model or a step that is none for it */
export async function checkTarget(db: Knex, yardId: string, target: JobTarget, steps: readonly RecipeStep[]) {
  const facts = (await listAssets(db, yardId, [target.original])).find((a) => a.model === target.model)?.facts;
  if (!facts) throw notFound('file');
  if (facts.kind !== 'model') throw new HttpError(422, 'recipe/kind', `${target.name} is a ${facts.kind}; only models are made light.`);
  const stray = steps.find((s) => !stepFits('model', s.step));
  if (stray) throw new HttpError(422, 'recipe/kind', `${stray.step} is no step for a model.`);
  const files = await filesFor(db, yardId, steps);
  return { facts, files };
}

type Hooks = Parameters<JobRunner>[1];

export const runJob =
  (db: Knex): JobRunner =>
  ({ yardId, request }, hooks) => {
    if (request.job === 'batch') return runBatch(db, yardId, request, hooks);
    return request.job === 'solve' ? runSearch(db, yardId, request, hooks) : runRecipe(db, yardId, request, hooks);
  };

type Asked<K extends JobRequest['job']> = Extract<JobRequest, { job: K }>;

/** A model of the yard as the worker takes it. */
async function jobOf(db: Knex, yardId: string, target: JobTarget, steps: RecipeStep[]) {
  const { facts, files } = await checkTarget(db, yardId, target, steps);
  return { facts, job: { path: blobPath(target.model), bytes: facts.bytes, steps, files, kind: target.kind } };
}

async function runSearch(db: Knex, yardId: string, { target, steps, limits }: Asked<'solve'>, hooks: Hooks): Promise<JobResult> {
  const { job } = await jobOf(db, yardId, target, steps);
  const { peakMemoryMb: _peak, cached: _cached, ...done } = await solveBudget({ ...job, limits, cacheDir: solvedDir() }, hooks);
  return { job: 'solve', ...done };
}

async function runRecipe(db: Knex, yardId: string, { target, steps }: Asked<'measure'>, hooks: Hooks): Promise<JobResult> {
  const { job, facts } = await jobOf(db, yardId, target, steps);
  return withTempDir(async (dir) => {
    const keep = steps.length > 0 ? { keep: { outDir: dir, from: facts } } : {};
    const { peakMemoryMb: _peak, kept, ...done } = await measure({ ...job, measure: 'steps', ...keep }, hooks);
    return { job: 'measure', ...done, asset: kept && (await keepPrepared(db, yardId, dir, target.original, kept)) };
  });
}

/** One model after the other; one that fails is told of in its row and holds up none of the others. */
async function runBatch(db: Knex, yardId: string, { targets, steps, limits }: Asked<'batch'>, hooks: Hooks): Promise<JobResult> {
  const rows: BatchRow[] = [];
  for (const [i, target] of targets.entries()) {
    if (i > 0) await hooks.giveWay();
    const part: Hooks = {
      ...hooks,
      progress: ({ share, what }) => hooks.progress({ share: (i + share) / targets.length, what: `${target.name}: ${what}` }),
    };
    const { stock, name } = target;
    try {
      rows.push({ stock, name, failed: null, ...(await batchRow(db, yardId, target, steps, limits, part)) });
    } catch (error) {
      if (hooks.signal.aborted || !(error instanceof JobError || error instanceof HttpError)) throw error;
      const nothing = { before: null, after: null, e: null, met: false, unmet: [], steps: [], asset: null };
      rows.push({ stock, name, failed: error.message, ...nothing });
    }
  }
  return { job: 'batch', rows };
}

async function batchRow(db: Knex, yardId: string, target: JobTarget, given: RecipeStep[], limits: Limits | null, hooks: Hooks) {
  const { job, facts } = await jobOf(db, yardId, target, given);
  return withTempDir(async (dir) => {
    const ask = { ...job, keep: { outDir: dir, from: facts } };
    const { done, steps, met, unmet } = limits
      ? await meetLimits({ ...ask, limits, cacheDir: solvedDir() }, hooks)
      : { done: await measure({ ...ask, measure: 'end' }, hooks), steps: given, met: true, unmet: [] };
    const asset = done.kept && (await keepPrepared(db, yardId, dir, target.original, done.kept));
    return { before: done.before, after: done.after, e: done.e, met, unmet, steps, asset };
  });
}

const held = globalThis as { scaphosJobs?: JobQueue };
/** The queue of this process. */
export function jobs(): JobQueue {
  held.scaphosJobs ??= new JobQueue(database(), runJob(database()));
  return held.scaphosJobs;
}
