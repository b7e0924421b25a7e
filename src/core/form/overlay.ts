/** A take with what sliders did while it played laid over it. */
import type { Turn } from '../math/offset';
import { ACTION_UNITS, type ActionUnit, weightsOf } from '../words/face';
import { poseAtTime, type Take, type TakeKey, thinKeys, tidyKey } from './take';

/** What sliders stood at when the take was at a time; what was never touched is left out and stays the take's own. */
export interface Moment {
  atS: number;
  face: Readonly<Partial<Record<ActionUnit, number>>>;
  head: Readonly<Partial<Turn>>;
}

const RATE_HZ = 30;
const HEAD = ['yawDeg', 'pitchDeg', 'rollDeg'] as const;

/** The take as it is at a time, with a moment over it. */
export function overlaid(take: Take, atS: number, { face, head }: Pick<Moment, 'face' | 'head'>): TakeKey {
  const { body: _, ...pose } = poseAtTime(take, atS);
  const weights = weightsOf({ ...weightsOf(pose.face ?? {}), ...face });
  const { face: _own, ...rest } = pose;
  return { ...rest, atS, head: { ...pose.head, ...head }, ...(Object.keys(weights).length > 0 ? { face: weights } : {}) };
}

/**
 * Keys of the take with moments laid over it: thirty a second, those that nobody would miss left out. Between two moments a slider went
 * straight; before it was touched the take has its own way.
 * @param moments in order of time
 */
export function keysOver(take: Take, moments: readonly Moment[]): TakeKey[] {
  const steps = Math.max(1, Math.ceil(take.seconds * RATE_HZ));
  let next = 0;
  const keys = Array.from({ length: steps + 1 }, (_, i): TakeKey => {
    // the end of the take, not the beginning of its next time round
    const atS = i < steps ? i / RATE_HZ : take.seconds - 1e-9;
    while (next < moments.length && moments[next].atS <= atS) next++;
    const [a, b] = [moments[next - 1], moments[next]];
    if (!a) return overlaid(take, atS, { face: {}, head: {} });
    const u = b ? (atS - a.atS) / (b.atS - a.atS) : 0;
    const between = (x: number | undefined, y: number | undefined) => (x === undefined ? undefined : x + ((y ?? x) - x) * u);
    const face: Partial<Record<ActionUnit, number>> = {};
    for (const unit of ACTION_UNITS) {
      const w = between(a.face[unit], b?.face[unit]);
      if (w !== undefined) face[unit] = w;
    }
    const head: Partial<Turn> = {};
    for (const k of HEAD) {
      const deg = between(a.head[k], b?.head[k]);
      if (deg !== undefined) head[k] = deg;
    }
    return overlaid(take, atS, { face, head });
  });
  return thinKeys(keys.map(tidyKey));
}
