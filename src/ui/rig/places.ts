/** Places on the model as it is drawn, told where they were when a step ran: steps behind it may have moved the whole model. */

import { Vector3 } from 'three';
import { combineTransforms, type RecipeStep, type TransformSettings, turnOf } from '@/core/piece';
import { placeIn } from './order';
import type { Place } from './picture';

export interface Before {
  place: (p: Place) => Place;
  /** Metres. */
  length: (m: number) => number;
}

/** By how much only running them tells. */
const UNTOLD: ReadonlySet<RecipeStep['step']> = new Set(['pivot', 'ground']);
export const MOVED_BEHIND =
  'A step that moves the model (its origin, or onto the ground) stands behind its bones in the recipe. Put it before them in Prepare; then this can be done.';

/** null: it cannot be told, for `MOVED_BEHIND`. */
export function beforeMoves(steps: readonly RecipeStep[], kind: RecipeStep['step']): Before | null {
  const behind = steps.slice(placeIn(steps, kind)).filter((s) => s.on);
  if (behind.some((s) => UNTOLD.has(s.step))) return null;
  const moves = behind.flatMap((s): TransformSettings[] => (s.step === 'transform' ? [s.settings] : []));
  if (moves.length === 0) return { place: (p) => p, length: (m) => m };
  const whole = moves.reduce(combineTransforms);
  const turn = turnOf(whole).invert();
  const shift = new Vector3(...whole.shiftM);
  return {
    place: (p) => new Vector3(...p).sub(shift).divideScalar(whole.factor).applyQuaternion(turn).toArray(),
    length: (m) => m / whole.factor,
  };
}
