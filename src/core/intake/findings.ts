/** Findings: what a check says, and the step that mends it. */
import * as z from 'zod';
import { StepDraft } from '../piece/recipe';

export const FindingLevel = z.enum(['blocker', 'warning', 'note']);
export type FindingLevel = z.infer<typeof FindingLevel>;
/** A step of the recipe that mends the finding, and what it will change, in sentences. */
export const Fix = z.intersection(
  StepDraft,
  z.object({
    changes: z.array(z.string()),
    /** A guess: it is pressed by itself, never with others. */
    alone: z.boolean().optional(),
    /**
     * It changes the picture: the least structural similarity among the views, in which, and that view before and
     * after beside one another as a data address. Such a fix is offered singly.
     */
    shows: z.object({ ssim: z.number(), view: z.string(), picture: z.string().max(40_000).nullable() }).optional(),
  }),
);
export type Fix = z.infer<typeof Fix>;
export const Finding = z.strictObject({
  code: z.string(),
  level: FindingLevel,
  message: z.string(),
  where: z.string().optional(),
  fix: Fix.optional(),
});
export type Finding = z.infer<typeof Finding>;

/** The fix may be run with all others: it is no guess, and nothing looks different after it but the fault itself. */
export const isUnseen = (f: Finding): f is Finding & { fix: Fix } => f.fix !== undefined && f.fix.shows === undefined && !f.fix.alone;
