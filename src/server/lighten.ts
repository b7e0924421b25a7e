/** What jobs do: recipes run under measure, limits met. And the queue of this process. */
import { join } from 'node:path';
import type { JobRequest, JobResult, JobTarget } from '@/api';
import { type RecipeStep, stepFits } from '@/core/piece';
import { measure, solveBudget } from '@/worker/node';
import { keepPrepared, listAssets, picturesFor } from './assets';
import { blobPath, withTempDir } from './blobs';
import { cacheDir } from './config';
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
  const pictures = await picturesFor(db, yardId, steps);
  return { facts, pictures };
}

export const runJob =
  (db: Knex): JobRunner =>
  async ({ yardId, request }: { yardId: string; request: JobRequest }, { signal, progress }): Promise<JobResult> => {
    const { target, steps } = request;
    const { facts, pictures } = await checkTarget(db, yardId, target, steps);
    const job = { path: blobPath(target.model), bytes: facts.bytes, steps, pictures, kind: target.kind };
    if (request.job === 'solve') {
      const {
        peakMemoryMb: _peak,
        cached: _cached,
        ...done
      } = await solveBudget({ ...job, limits: request.limits, cacheDir: join(cacheDir(), 'solved') }, { signal, progress });
      return { job: 'solve', ...done };
    }
    return withTempDir(async (dir) => {
      const {
        peakMemoryMb: _peak,
        kept,
        ...done
      } = await measure(
        { ...job, measure: 'steps', ...(steps.length > 0 ? { keep: { outDir: dir, from: facts } } : {}) },
        { signal, progress },
      );
      return { job: 'measure', ...done, asset: kept && (await keepPrepared(db, yardId, dir, target.original, kept)) };
    });
  };

const held = globalThis as { scaphosJobs?: JobQueue };
/** The queue of this process. */
export function jobs(): JobQueue {
  held.scaphosJobs ??= new JobQueue(database(), runJob(database()));
  return held.scaphosJobs;
}
