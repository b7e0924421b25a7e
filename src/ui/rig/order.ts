/** Where steps about bones stand in a recipe: each after what it is about, all before what shows when bytes are written. */
import { ulid } from 'ulid';
import { type RecipeStep, STEPS } from '@/core/piece';

const ORDER = ['figure', 'garment', 'chains', 'known', 'shares', 'weights', 'stance', 'motion', 'retarget', 'bones'] as const;
const placeOf = (step: RecipeStep['step']) => (ORDER as readonly RecipeStep['step'][]).indexOf(step);

export type StepOf<K extends RecipeStep['step']> = Extract<RecipeStep, { step: K }>;

/** The step of each kind about bones, where there is one. */
export const bonesSteps = (steps: readonly RecipeStep[]): { [K in (typeof ORDER)[number]]?: StepOf<K> } =>
  Object.fromEntries(ORDER.map((kind) => [kind, steps.find((s) => s.step === kind)]));

/** Where a step stands or would stand: behind what it is about, else before what comes later and what packs. What stands stays there. */
export function placeIn(steps: readonly RecipeStep[], step: RecipeStep['step']): number {
  const own = steps.findIndex((s) => s.step === step);
  if (own >= 0) return own;
  const about = steps.findLastIndex((s) => placeOf(s.step) >= 0 && placeOf(s.step) < placeOf(step));
  if (about >= 0) return about + 1;
  const later = steps.findIndex((s) => placeOf(s.step) > placeOf(step) || STEPS[s.step].effect === 'pack');
  return later < 0 ? steps.length : later;
}

/** The one step of its kind with these settings, in its place; null: none of it. */
export function withStep<K extends RecipeStep['step']>(
  steps: readonly RecipeStep[],
  step: K,
  settings: StepOf<K>['settings'] | null,
): RecipeStep[] {
  const others = steps.filter((s) => s.step !== step);
  if (!settings) return others;
  const at = placeIn(steps, step);
  const own = { id: steps.find((s) => s.step === step)?.id ?? ulid(), on: true, step, settings } as RecipeStep;
  return [...others.slice(0, at), own, ...others.slice(at)];
}

const RAISES: ReadonlySet<RecipeStep['step']> = new Set(['chains', 'figure', 'garment']);
/** What goes with the bones it is about. */
const WITH_CHAINS: ReadonlySet<RecipeStep['step']> = new Set(['motion', 'retarget']);

/** What raises bones stands once, whichever it is, and chains pressed on it with it; what was about bones that are gone is gone too. */
export function withRaised(
  steps: readonly RecipeStep[],
  next: Pick<Extract<RecipeStep, { step: 'chains' | 'figure' | 'garment' }>, 'step' | 'settings'> | null,
): RecipeStep[] {
  const kept = steps.filter((s) => {
    const hung = s.step === 'chains' && s.settings.chains !== 'all' && steps.some((o) => o !== s && o.step === next?.step);
    if (RAISES.has(s.step)) return s.step === next?.step || hung;
    if (!next) return placeOf(s.step) < 0;
    return next.step === 'figure' || !WITH_CHAINS.has(s.step);
  });
  return next ? withStep(kept, next.step, next.settings as never) : kept;
}
