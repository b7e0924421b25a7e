/** Steps as data: fixes put together into steps, transforms into one. Light: a page loads this and none of what runs a step. */
import { type Quaternion, Vector3 } from 'three';
import { quarterQuaternion } from '../intake/placing';
import { yawPitchRoll } from '../math/turns';
import { type SettingsOf, STEP_KINDS, type StepDraft, type StepKind, type TransformSettings } from '../piece/recipe';

export const turnOf = (t: Pick<TransformSettings, 'turnDeg'>): Quaternion =>
  quarterQuaternion({ yawDeg: t.turnDeg.yaw, pitchDeg: t.turnDeg.pitch, rollDeg: t.turnDeg.roll });

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

/** Mending can show what was hidden before (a vertex that no triangle uses any more): fixes are asked for this often. */
export const FIX_ROUNDS = 4;

const united = <T>(all: readonly { ops: T[] }[]): { ops: T[] } => ({ ops: [...new Set(all.flatMap((x) => x.ops))] });
const rankOf = (t: TransformSettings) => (t.shiftM.some((x) => x !== 0) ? 0 : t.factor !== 1 ? 1 : 2);

/** How several of a kind become one; of what is not here the last word counts. */
const MERGES: { readonly [K in StepKind]?: (all: SettingsOf<K>[]) => SettingsOf<K> } = {
  // a shift before a size, a size before a turn: together they do what each does alone
  transform: (all) => all.sort((x, y) => rankOf(x) - rankOf(y)).reduce(combineTransforms),
  mend: united,
  relink: (all) => ({ links: all.flatMap((x) => x.links) }),
  repaint: (all) => ({ links: all.flatMap((x) => x.links) }),
  alpha: united,
  texture: (all) => ({
    ...united(all),
    maxEdge: Math.min(...all.filter((t) => t.ops.includes('resize')).map((t) => t.maxEdge), 16384),
  }),
};

/** Many fixes as few steps, one of each kind, in the order of work. Each fix speaks of the model as it is. */
export function mergeDrafts(drafts: readonly StepDraft[]): StepDraft[] {
  return STEP_KINDS.flatMap((step): StepDraft[] => {
    const all = drafts.filter((d) => d.step === step).map((d) => d.settings);
    if (all.length === 0) return [];
    const merge = MERGES[step] as ((all: unknown[]) => unknown) | undefined;
    return [{ step, settings: merge ? merge(all) : all[all.length - 1] } as StepDraft];
  });
}
