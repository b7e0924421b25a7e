/** Limits met for one model: the search, then the chosen point made and weighed as the whole file it is. */
import type { RecipeStep, StepDraft } from '@/core/piece';
import { brokenLimits, type Limits, limitWords } from '@/core/prepare';
import type { MeasureDone, MeasureJob, SolveDone } from './lighten';
import { measure, type RunOptions, solveBudget } from './run';

export interface MeetJob extends Omit<MeasureJob, 'measure'> {
  limits: Limits;
  /** Where answers of searches are kept; left out, none is. */
  cacheDir?: string;
}
export interface MeetDone {
  solution: SolveDone;
  done: MeasureDone;
  /** Given and found, as they were run. */
  steps: RecipeStep[];
  met: boolean;
  /** Why not. */
  unmet: string[];
}

export const namedSteps = (list: readonly (StepDraft & { on?: boolean })[], from: string): RecipeStep[] =>
  list.map((s, i) => ({ ...s, on: s.on ?? true, id: `${from}-${i}` }) as RecipeStep);

/** Share of the progress the search takes. */
const SEARCH = 0.85;
/** Points further down the front that are tried where a whole file is a few bytes over what was reckoned. */
const LIGHTER = 4;

/** @throws {JobError} as measuring and searching do */
export async function meetLimits({ limits, cacheDir, ...job }: MeetJob, options: RunOptions = {}): Promise<MeetDone> {
  const part = (from: number, to: number): RunOptions => ({
    ...options,
    progress: (p) => options.progress?.({ ...p, share: from + (to - from) * p.share }),
  });
  const solution = await solveBudget({ ...job, limits, cacheDir }, part(0, SEARCH));
  const tries: StepDraft[][] = [];
  for (let i = solution.chosen; i >= Math.max(0, solution.chosen - LIGHTER); i--) tries.push(solution.front[i].steps);
  if (tries.length === 0) tries.push([]);
  for (const [i, drafts] of tries.entries()) {
    const steps = [...job.steps, ...namedSteps(drafts, 'found')];
    const done = await measure({ ...job, steps, measure: 'end' }, part(SEARCH, 1));
    const broken = brokenLimits(done.after, limits).map((k) => limitWords(k, done.after, limits));
    const met = broken.length === 0;
    if (met || !solution.met || i === tries.length - 1)
      return { solution, done, steps, met, unmet: met ? [] : solution.met ? broken : solution.unmet };
  }
  throw new Error('nothing was tried');
}
