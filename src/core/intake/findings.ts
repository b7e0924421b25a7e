/** Findings: what a check says, and the step that mends it. */
import * as z from 'zod';
import { StepDraft } from '../piece/recipe';

export const FindingLevel = z.enum(['blocker', 'warning', 'note']);
export type FindingLevel = z.infer<typeof FindingLevel>;
/** A step of the recipe that mends the finding, and what it will change, in sentences. */
export const Fix = z.intersection(StepDraft, z.object({ changes: z.array(z.string()) }));
export type Fix = z.infer<typeof Fix>;
export const Finding = z.strictObject({
  code: z.string(),
  level: FindingLevel,
  message: z.string(),
  where: z.string().optional(),
  fix: Fix.optional(),
});
export type Finding = z.infer<typeof Finding>;
