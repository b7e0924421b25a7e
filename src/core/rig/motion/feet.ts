/** Feet that stay where they stand: when a captured foot stands, and legs bent so that it does so on another figure. Metres of a body. */
import { Quaternion, Vector3 } from 'three';
import type { MovedFigure, Stance } from './figure';

type Side = 'left' | 'right';
export const SIDES: readonly Side[] = ['left', 'right'];

/** A ball of a foot stands while it is no higher than this above its lowest and moves slower than that (*common practice*). */
const HIGH_M = 0.035;
const SLOW_MS = 0.35;
/** A shorter touch is no stand, seconds. */
const LEAST_S = 0.1;
/** So long a foot takes to go over from how it moves to where it stands, keys. */
const EASE = 4;
/** A leg is never stretched quite straight. */
const STRETCH = 0.999;

export interface Stand {
  side: Side;
  /** First and last key. */
  from: number;
  to: number;
}

const ballsOf = (figure: MovedFigure, stances: readonly Stance[], side: Side): Vector3[] =>
  stances.map((s) => (figure.placesIn(s).get(`${side}Toes`) as { place: Vector3 }).place);

const lowOf = (heights: readonly number[]) => [...heights].sort((a, b) => a - b)[Math.floor(heights.length * 0.05)];

/** When feet stand. */
export function standsOf(figure: MovedFigure, stances: readonly Stance[], rate: number): Stand[] {
  const out: Stand[] = [];
  for (const side of SIDES) {
    const balls = ballsOf(figure, stances, side);
    const low = lowOf(balls.map((b) => b.y));
    const stands = balls.map((b, k) => {
      const [before, after] = [balls[Math.max(0, k - 1)], balls[Math.min(balls.length - 1, k + 1)]];
      const steps = Math.min(balls.length - 1, k + 1) - Math.max(0, k - 1);
      return b.y - low < HIGH_M && after.distanceTo(before) * (rate / Math.max(1, steps)) < SLOW_MS;
    });
    for (let k = 0; k < stands.length; k++) {
      if (!stands[k]) continue;
      const from = k;
      while (k + 1 < stands.length && stands[k + 1]) k++;
      if (k - from + 1 >= LEAST_S * rate) out.push({ side, from, to: k });
    }
  }
  return out;
}

const ease = (u: number) => u * u * (3 - 2 * u);

/** How far a ball is put aside at each key: onto its place while it stands, and over to it before and after. */
function asideOf(balls: readonly Vector3[], stands: readonly Stand[], floor: number): Vector3[] {
  const out = balls.map(() => new Vector3());
  const places = stands.map(({ from, to }) => {
    const own = balls.slice(from, to + 1);
    return own
      .reduce((s, b) => s.add(b), new Vector3())
      .divideScalar(own.length)
      .setY(floor);
  });
  stands.forEach(({ from, to }, i) => {
    for (let k = from; k <= to; k++) out[k].subVectors(places[i], balls[k]);
  });
  balls.forEach((_, k) => {
    if (stands.some((s) => k >= s.from && k <= s.to)) return;
    for (const s of stands) {
      const [edge, away] = k < s.from ? [s.from, s.from - k] : [s.to, k - s.to];
      if (away < EASE) out[k].addScaledVector(out[edge], ease(1 - away / EASE));
    }
  });
  return out;
}

/** The same motion with feet that stay: legs bent by two-bone geometry, hips lowered where a leg would not reach. */
export function stand(figure: MovedFigure, stances: readonly Stance[], stands: readonly Stand[]): Stance[] {
  const floor = (side: Side) => figure.stander.joint(`${side}Toes`).y;
  const balls = new Map(SIDES.map((side) => [side, ballsOf(figure, stances, side)]));
  // a capture's own floor is seldom where its rest says
  const sunk = Math.min(...SIDES.map((side) => lowOf((balls.get(side) as Vector3[]).map((b) => b.y)) - floor(side)));
  const level = stances.map((s) => ({ turns: s.turns, hips: s.hips.clone().setY(s.hips.y - sunk) }));
  for (const list of balls.values()) for (const b of list) b.y -= sunk;
  const aside = new Map(
    SIDES.map((side) => [
      side,
      asideOf(
        balls.get(side) as Vector3[],
        stands.filter((s) => s.side === side),
        floor(side),
      ),
    ]),
  );
  const legs = level.map((s, k) => {
    const at = figure.placesIn(s);
    return SIDES.map((side) => {
      const of = (n: string) => (at.get(side + n) as { place: Vector3 }).place;
      const [hip, knee, ankle] = [of('UpperLeg'), of('LowerLeg'), of('Foot')];
      return { side, hip, knee, ankle, to: ankle.clone().add((aside.get(side) as Vector3[])[k]) };
    });
  });
  const lower = smoothed(
    legs.map((pair) =>
      Math.max(
        0,
        ...pair.map(({ hip, knee, ankle, to }) => {
          const long = (hip.distanceTo(knee) + knee.distanceTo(ankle)) * STRETCH;
          const d = to.clone().sub(hip);
          const flat = Math.hypot(d.x, d.z);
          return flat < long ? -d.y - Math.sqrt(long * long - flat * flat) : 0;
        }),
      ),
    ),
  );
  return level.map((s, k) => {
    const turns = new Map(s.turns);
    for (const leg of legs[k]) {
      const down = new Vector3(0, -lower[k], 0);
      bend(leg.side, leg.hip.clone().add(down), leg.knee.clone().add(down), leg.ankle.clone().add(down), leg.to, turns);
    }
    return { turns, hips: s.hips.clone().setY(s.hips.y - lower[k]) };
  });
}

/** No less than asked anywhere, without leaps: the most of some keys to each side, then their mean. */
function smoothed(values: readonly number[]): number[] {
  const around = (list: readonly number[], k: number) => list.slice(Math.max(0, k - EASE), k + EASE + 1);
  const most = values.map((_, k) => Math.max(...around(values, k)));
  return most.map((_, k) => around(most, k).reduce((s, x) => s + x, 0) / around(most, k).length);
}

/** Turns thigh and shin so that the ankle is where it ought to be, in the plane the knee bends in; the foot keeps its turn. */
function bend(side: Side, hip: Vector3, knee: Vector3, ankle: Vector3, to: Vector3, turns: Map<string, Quaternion>): void {
  const [thigh, shin] = [knee.clone().sub(hip), ankle.clone().sub(knee)];
  const [l1, l2] = [thigh.length(), shin.length()];
  const want = Math.min(Math.max(to.distanceTo(hip), Math.abs(l1 - l2) + 1e-6), (l1 + l2) * STRETCH);
  const flexed = thigh.angleTo(shin);
  const flex = Math.acos(Math.max(-1, Math.min(1, (want * want - l1 * l1 - l2 * l2) / (2 * l1 * l2))));
  const axis = thigh.clone().cross(shin);
  // a straight leg bends its knee forwards: about the side the pelvis faces
  if (axis.length() < 1e-6 * l1 * l2) axis.set(1, 0, 0).applyQuaternion(turns.get('hips') as Quaternion);
  const atKnee = new Quaternion().setFromAxisAngle(axis.normalize(), flex - flexed);
  const reached = shin.clone().applyQuaternion(atKnee).add(thigh);
  const atHip = new Quaternion().setFromUnitVectors(reached.normalize(), to.clone().sub(hip).normalize());
  const turn = (bone: string, q: Quaternion) => turns.set(side + bone, q.multiply(turns.get(side + bone) as Quaternion));
  turn('UpperLeg', atHip.clone());
  turn('LowerLeg', atHip.clone().multiply(atKnee));
}

/** The farthest a ball goes from key to key while it stands, metres of a body. */
export function slipWhile(figure: MovedFigure, stances: readonly Stance[], stands: readonly Stand[]): number {
  let most = 0;
  for (const side of SIDES) {
    const balls = ballsOf(figure, stances, side);
    for (const s of stands)
      if (s.side === side)
        for (let k = s.from + 1; k <= s.to; k++)
          most = Math.max(most, Math.hypot(balls[k].x - balls[k - 1].x, balls[k].z - balls[k - 1].z));
  }
  return most;
}
