import { type Quaternion, Vector3 } from 'three';
import * as z from 'zod';
import { turnFromDeg, yawPitchRoll } from '../../math/turns';
import { defineStep } from './define';

/** Rigid change of the whole model: first size, then turn (YXZ), then shift; baked into shapes, bones and clips. */
export const TransformSettings = z.strictObject({
  factor: z.number().min(1e-6).max(1e6),
  turnDeg: z.strictObject({
    yaw: z.number().min(-360).max(360),
    pitch: z.number().min(-360).max(360),
    roll: z.number().min(-360).max(360),
  }),
  shiftM: z.tuple([z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6)]),
  /** Node scale and turns are worked into the shapes where nothing moves them. */
  apply: z.boolean(),
});
export type TransformSettings = z.infer<typeof TransformSettings>;
export const NO_TRANSFORM: TransformSettings = { factor: 1, turnDeg: { yaw: 0, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: false };

export const turnOf = (t: Pick<TransformSettings, 'turnDeg'>): Quaternion => turnFromDeg(t.turnDeg);

/** `b` after `a` as one transform. */
export function combineTransforms(a: TransformSettings, b: TransformSettings): TransformSettings {
  const turn = turnOf(b).multiply(turnOf(a));
  const e = yawPitchRoll(turn);
  const deg = (x: number) => tidy(Math.round((x * 180e9) / Math.PI) / 1e9);
  const shift = new Vector3(...a.shiftM)
    .applyQuaternion(turnOf(b))
    .multiplyScalar(b.factor)
    .add(new Vector3(...b.shiftM));
  return {
    factor: Number((a.factor * b.factor).toPrecision(12)),
    turnDeg: { yaw: deg(e.y), pitch: deg(e.x), roll: deg(e.z) },
    shiftM: [tidy(shift.x), tidy(shift.y), tidy(shift.z)],
    apply: a.apply || b.apply,
  };
}

const tidy = (x: number) => (Math.abs(x) < 1e-12 ? 0 : x);

const rankOf = (t: TransformSettings) => (t.shiftM.some((x) => x !== 0) ? 0 : t.factor !== 1 ? 1 : 2);

export const transform = defineStep({
  settings: TransformSettings,
  for: ['model'],
  effect: 'place',
  // a shift before a size, a size before a turn: together they do what each does alone
  merge: (all) => all.sort((x, y) => rankOf(x) - rankOf(y)).reduce(combineTransforms),
});
