/** Motions of a wearer as plain lists of keys: how head, neck, shoulders and face are held over time. Angles in degrees. */
import type { Turn } from '../math/offset';
import { type ActionUnit, type Expression, type FaceWeights, weightsOf } from '../words/face';
import type { MotionName } from '../words/humanoid';
import type { BodyHold } from './body/hold';

/** How a wearer is held at a moment: the head within the neck, the neck within the shoulders, the shoulders in the world. */
export interface TakeKey {
  atS: number;
  head: Turn;
  neck: Turn;
  shoulders: Turn;
  /** Left out: at rest. */
  face?: Expression;
  /** How far the wearer has gone from where they stood, metres: side, up, fore. */
  awayM?: readonly [number, number, number];
  /** From here to the next key no head is found. */
  lost?: true;
}
export type TakePose = Omit<TakeKey, 'atS'> & { body?: BodyHold };

/** A motion of a wearer; times in seconds. */
export interface Take {
  readonly id: string;
  readonly label: string;
  readonly seconds: number;
  /** Keys in order of time; none where the body moves by a motion. One that comes home ends as it begins. */
  readonly keys: readonly TakeKey[];
  /** Straight from key to key, as what was recorded is; left out, eased. */
  readonly straight?: true;
  /** What the whole body does. */
  readonly motion?: MotionName;
}

export const STILL: Turn = { yawDeg: 0, pitchDeg: 0, rollDeg: 0 };
const NOWHERE = [0, 0, 0] as const;

/** How the wearer is held at a time of the take; the take repeats. */
export function poseAtTime(take: Take, timeS: number): TakePose {
  if (take.motion) return { head: STILL, neck: STILL, shoulders: STILL, body: { motion: take.motion, atS: timeS } };
  const t = timeS - Math.floor(timeS / take.seconds) * take.seconds;
  const next = take.keys.findIndex((k) => k.atS > t);
  if (next <= 0) return take.keys[next < 0 ? take.keys.length - 1 : 0];
  const [a, b] = [take.keys[next - 1], take.keys[next]];
  const u = (t - a.atS) / (b.atS - a.atS);
  return mixed(a, b, take.straight ? u : u * u * (3 - 2 * u));
}

function mixed(a: TakeKey, b: TakeKey, share: number): TakePose {
  const mix = (x: number, y: number) => x + (y - x) * share;
  const turn = (x: Turn, y: Turn): Turn => ({
    yawDeg: mix(x.yawDeg, y.yawDeg),
    pitchDeg: mix(x.pitchDeg, y.pitchDeg),
    rollDeg: mix(x.rollDeg, y.rollDeg),
  });
  const [from, to] = [a.awayM ?? NOWHERE, b.awayM ?? NOWHERE];
  return {
    head: turn(a.head, b.head),
    neck: turn(a.neck, b.neck),
    shoulders: turn(a.shoulders, b.shoulders),
    ...(a.face || b.face ? { face: between(weightsOf(a.face ?? {}), weightsOf(b.face ?? {}), share) } : {}),
    ...(a.awayM || b.awayM ? { awayM: [0, 1, 2].map((k) => mix(from[k], to[k])) as [number, number, number] } : {}),
    ...(a.lost ? { lost: true as const } : {}),
  };
}

function between(a: FaceWeights, b: FaceWeights, share: number): FaceWeights {
  const out: Partial<Record<ActionUnit, number>> = {};
  for (const unit of new Set([...Object.keys(a), ...Object.keys(b)] as ActionUnit[]))
    out[unit] = (a[unit] ?? 0) + ((b[unit] ?? 0) - (a[unit] ?? 0)) * share;
  return out;
}

/** What may be lost where keys are left out: nobody sees less. */
const SEEN = { turnDeg: 0.1, weight: 0.005, awayM: 0.0005 } as const;

/** How much of what may be lost lies between two ways of being held; over 1 it is seen. */
function apart(a: TakePose, b: TakePose): number {
  if (a.lost !== b.lost) return Number.POSITIVE_INFINITY;
  let most = 0;
  for (const k of ['head', 'neck', 'shoulders'] as const)
    for (const d of ['yawDeg', 'pitchDeg', 'rollDeg'] as const) most = Math.max(most, Math.abs(a[k][d] - b[k][d]) / SEEN.turnDeg);
  const [x, y] = [weightsOf(a.face ?? {}), weightsOf(b.face ?? {})];
  for (const unit of [...Object.keys(x), ...Object.keys(y)] as ActionUnit[])
    most = Math.max(most, Math.abs((x[unit] ?? 0) - (y[unit] ?? 0)) / SEEN.weight);
  const [from, to] = [a.awayM ?? NOWHERE, b.awayM ?? NOWHERE];
  for (let i = 0; i < 3; i++) most = Math.max(most, Math.abs(from[i] - to[i]) / SEEN.awayM);
  return most;
}

/**
 * Keys of which those are left out that straight lines between the others meet within 0.1°, half a hundredth of a weight and half a
 * millimetre (Douglas and Peucker 1973, with the greatest difference of any channel as the distance).
 */
export function thinKeys(keys: readonly TakeKey[]): TakeKey[] {
  const kept = new Set([0, keys.length - 1]);
  const open: [number, number][] = [[0, keys.length - 1]];
  for (let span = open.pop(); span; span = open.pop()) {
    const [from, to] = span;
    const [a, b] = [keys[from], keys[to]];
    let [worst, at] = [1, -1];
    for (let i = from + 1; i < to; i++) {
      const off = apart(mixed(a, b, (keys[i].atS - a.atS) / (b.atS - a.atS)), keys[i]);
      if (off > worst) [worst, at] = [off, i];
    }
    if (at < 0) continue;
    kept.add(at);
    open.push([from, at], [at, to]);
  }
  return keys.filter((_, i) => kept.has(i));
}

const tidy = (x: number, grain: number) => Math.round(x * grain) / grain + 0;
/** As much of the numbers as is seen: hundredths of a degree, thousandths of a weight, tenths of a millimetre, milliseconds. */
export function tidyKey({ atS, face, awayM, lost, ...turns }: TakeKey): TakeKey {
  const turn = (t: Turn): Turn => ({ yawDeg: tidy(t.yawDeg, 100), pitchDeg: tidy(t.pitchDeg, 100), rollDeg: tidy(t.rollDeg, 100) });
  const weights = Object.entries(weightsOf(face ?? {})).map(([unit, w]) => [unit, tidy(w, 1000)] as const);
  const gone = awayM?.some((x) => Math.abs(x) >= 5e-5) ? awayM : undefined;
  return {
    atS: tidy(atS, 1000),
    head: turn(turns.head),
    neck: turn(turns.neck),
    shoulders: turn(turns.shoulders),
    ...(weights.length > 0 ? { face: Object.fromEntries(weights) } : {}),
    ...(gone ? { awayM: gone.map((x) => tidy(x, 10_000)) as [number, number, number] } : {}),
    ...(lost ? { lost } : {}),
  };
}
