/**
 * How much of a sweep is run: all of it by `./scaphos test sweep`, else a tenth, drawn by a seed that changes with the commit.
 * The seed is printed by the test command; SCAPHOS_SEED=N draws the same again.
 */
import { seededRandom } from '@/core/math';

export const WHOLE = process.env.SCAPHOS_SWEEP === '1';
/** How far searches look. */
export const EFFORT = WHOLE ? 'full' : 'quick';
export const SEED = Number(process.env.SCAPHOS_SEED ?? 1);

/** A tenth of a number, at least one; all of it in a sweep. */
export const share = (all: number): number => (WHOLE ? all : Math.max(1, Math.ceil(all / 10)));

/** A tenth of a list in its order, drawn by the seed; all of it in a sweep. @param salt so that lists are drawn apart */
export function drawn<T>(list: readonly T[], salt = 0): T[] {
  if (WHOLE) return [...list];
  const random = seededRandom(SEED + salt);
  const order = list.map((_, i) => ({ i, at: random() })).sort((a, b) => a.at - b.at);
  const kept = new Set(order.slice(0, share(list.length)).map((o) => o.i));
  return list.filter((_, i) => kept.has(i));
}

/** Whether this commit looks at what has this name: one in four does. */
export function inTurn(name: string): boolean {
  let hash = SEED;
  for (let i = 0; i < name.length; i++) hash = Math.imul(hash ^ name.charCodeAt(i), 0x01000193) >>> 0;
  return WHOLE || seededRandom(hash)() < 1 / 4;
}
