/** Where steps about bones stand in a recipe: each after what it is about, all before what shows when bytes are written. */
import { ulid } from 'ulid';
import { type RecipeStep, STEPS } from '@/core/piece';

const ORDER: readonly RecipeStep['step'][] = ['chains', 'figure', 'garment', 'known', 'shares', 'stance', 'motion', 'retarget', 'bones'];

/** The one step of its kind with these settings, in its place; null: none of it. */
export function withStep<K extends RecipeStep['step']>(
  steps: readonly RecipeStep[],
  step: K,
  settings: Extract<RecipeStep, { step: K }>['settings'] | null,
): RecipeStep[] {
  const others = steps.filter((s) => s.step !== step);
  if (!settings) return others;
  const later = others.findIndex((s) => ORDER.indexOf(s.step) > ORDER.indexOf(step) || STEPS[s.step].effect === 'pack');
  const at = later < 0 ? others.length : later;
  const own = { id: steps.find((s) => s.step === step)?.id ?? ulid(), on: true, step, settings } as RecipeStep;
  return [...others.slice(0, at), own, ...others.slice(at)];
}

const RAISES: ReadonlySet<RecipeStep['step']> = new Set(['chains', 'figure', 'garment']);
/** What goes with the bones it is about. */
const WITH_CHAINS: ReadonlySet<RecipeStep['step']> = new Set(['motion', 'retarget']);

/** What raises bones stands once, whichever it is; what was about bones that are gone is gone too. */
export function withRaised(
  steps: readonly RecipeStep[],
  next: Pick<Extract<RecipeStep, { step: 'chains' | 'figure' | 'garment' }>, 'step' | 'settings'> | null,
): RecipeStep[] {
  const kept = steps.filter((s) => {
    if (RAISES.has(s.step)) return s.step === next?.step;
    if (!next) return !ORDER.includes(s.step);
    return next.step === 'figure' || !WITH_CHAINS.has(s.step);
  });
  return next ? withStep(kept, next.step, next.settings as never) : kept;
}
