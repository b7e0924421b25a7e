/** Long work on the server: what is asked for, how far it is, what came of it. */
import * as z from 'zod';
import { Kind } from '@/core/intake';
import { Id, Name, RecipeStep, Sha256 } from '@/core/piece';
import { Limits, Solution, StepCost, VisibleError, Weight, WeightPart } from '@/core/prepare/terms';
import { AssetFacts } from './schemas';

/** A stock model: what it came to be used as, and what kind of thing it is. */
export const JobTarget = z.strictObject({ stock: Id, original: Sha256, model: Sha256, name: Name, kind: Kind.nullable() });
export type JobTarget = z.infer<typeof JobTarget>;

export const JobRequest = z.discriminatedUnion('job', [
  /** Runs a recipe, measures each step, and keeps what it yields. */
  z.strictObject({ job: z.literal('measure'), target: JobTarget, steps: z.array(RecipeStep).max(200) }),
  /** Searches for settings that meet limits, after the steps that stand before. */
  z.strictObject({ job: z.literal('solve'), target: JobTarget, steps: z.array(RecipeStep).max(200), limits: Limits }),
  /** Runs one recipe, or meets the same limits, over many models. */
  z.strictObject({
    job: z.literal('batch'),
    targets: z.array(JobTarget).min(1).max(200),
    steps: z.array(RecipeStep).max(200),
    limits: Limits.nullable(),
  }),
]);
export type JobRequest = z.infer<typeof JobRequest>;

export const MeasureResult = z.object({
  job: z.literal('measure'),
  before: Weight,
  after: Weight,
  parts: z.object({ before: z.array(WeightPart), after: z.array(WeightPart) }),
  error: VisibleError.nullable(),
  e: z.number().nullable(),
  steps: z.array(StepCost),
  unmatched: z.array(z.string()),
  undrawn: z.array(z.string()).default([]),
  /** By how the steps move the whole model: a column-major matrix. */
  moved: z.array(z.number()).length(16),
  /** What the recipe yields; null without steps. */
  asset: AssetFacts.nullable(),
});
export type MeasureResult = z.infer<typeof MeasureResult>;
export const SolveResult = Solution.extend({ job: z.literal('solve'), before: Weight });
export type SolveResult = z.infer<typeof SolveResult>;
/** What came of one model of many. */
export const BatchRow = z.object({
  stock: Id,
  name: Name,
  /** Why it could not be prepared; null where it was. */
  failed: z.string().nullable(),
  before: Weight.nullable(),
  after: Weight.nullable(),
  e: z.number().nullable(),
  met: z.boolean(),
  unmet: z.array(z.string()),
  /** What made it: given and found. */
  steps: z.array(RecipeStep),
  asset: AssetFacts.nullable(),
});
export type BatchRow = z.infer<typeof BatchRow>;
export const BatchResult = z.object({ job: z.literal('batch'), rows: z.array(BatchRow) });
export type BatchResult = z.infer<typeof BatchResult>;
export const JobResult = z.discriminatedUnion('job', [MeasureResult, SolveResult, BatchResult]);
export type JobResult = z.infer<typeof JobResult>;

export const JobState = z.enum(['queued', 'running', 'done', 'failed', 'stopped']);
export type JobState = z.infer<typeof JobState>;
export const JobAnswer = z.object({
  id: Id,
  request: JobRequest,
  state: JobState,
  share: z.number(),
  what: z.string(),
  error: z.object({ code: z.string(), message: z.string() }).nullable(),
  result: JobResult.nullable(),
  createdAt: z.string(),
});
export type JobAnswer = z.infer<typeof JobAnswer>;
