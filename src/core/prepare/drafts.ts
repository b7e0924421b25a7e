/** Steps as data: fixes put together into steps. Light: a page loads this and none of what runs a step. */
import { STEP_KINDS, STEPS, type StepDef, type StepDraft } from '../piece/recipe';

/** Mending can show what was hidden before (a vertex that no triangle uses any more): fixes are asked for this often. */
export const FIX_ROUNDS = 4;

/** Many fixes as few steps, one of each kind, in the order of work. Each fix speaks of the model as it is. */
export function mergeDrafts(drafts: readonly StepDraft[]): StepDraft[] {
  return STEP_KINDS.flatMap((step): StepDraft[] => {
    const all = drafts.filter((d) => d.step === step).map((d) => d.settings);
    if (all.length === 0) return [];
    const { merge } = STEPS[step] as StepDef;
    return [{ step, settings: merge ? merge(all) : all[all.length - 1] } as StepDraft];
  });
}
