/** Ear ornaments: the top of the hook or post in the lobe, the rest hanging straight down from there, clear of neck and jaw. The left one. */
import { Vector3 } from 'three';
import { guessUnit } from '../../../model/lie/units';
import { KINDS } from '../../../words/kinds';
import { dropPlaces } from '../../drop';
import { type Asked, type Attempt, type Doubt, type Fitter, mm, type Point, within } from '../attempt';
import { type Place, placedAll, type Stand } from '../stand';

/** A lobe is pierced so far above its lowest point, metres (*common practice*). */
const PIERCED_M = 0.004;
/** Of its height: what is its top; and how far below the eye of the hook is looked for. */
const TOP = 0.03;
const EYE = 0.12;
/** It is held off the skin by no more than this, metres. */
const MOST_ASIDE_M = 0.006;
/** From so far out it is let come in, metres. */
const OUT_M = 0.03;

/** Where it hangs from: the underside of its highest place. */
function hookOf(stand: Stand): Point {
  const high = stand.hi.y - stand.lo.y;
  const top = stand.within((_, y) => y > stand.hi.y - TOP * high);
  const at = new Vector3();
  for (let i = 0; i < top.length; i += 3) at.add(new Vector3(top[i], top[i + 1], top[i + 2]));
  at.divideScalar(top.length / 3);
  const from = new Vector3(at.x, stand.hi.y - EYE * high, at.z);
  const up = stand.meets(from, new Vector3(0, 1, 0));
  const y = Number.isFinite(up) && up < EYE * high ? from.y + up : stand.hi.y;
  return [at.x, y, at.z];
}

/** What goes through a lobe is thin, and has room below it for the lobe. */
function hookDoubts(stand: Stand, own: Point): Doubt[] {
  const high = stand.hi.y - stand.lo.y;
  const top = stand.within((_, y) => y > stand.hi.y - EYE * high);
  const reach = [0, 2].map((k) => {
    let [lo, hi] = [Infinity, -Infinity];
    for (let i = k; i < top.length; i += 3) {
      lo = Math.min(lo, top[i]);
      hi = Math.max(hi, top[i]);
    }
    return hi - lo;
  });
  if (Math.max(...reach) > WIDE_TOP * high) return [{ why: 'Its top is too wide to go through a lobe.', left: 0.3 }];
  // from below one comes to a wire's underside, and from inside of what is solid to its top
  const thick = (stand.hi.y - own[1]) / high;
  // and beside it nothing is in the lobe's way
  const inEye = new Vector3(own[0], own[1] - BELOW_HOOK * high, own[2]);
  const free = [1, -1].every((x) => stand.meets(inEye, new Vector3(x, 0, 0)) > FREE * high);
  return free && thick > WIRE[0] && thick < WIRE[1] ? [] : [{ why: 'It has no hook that a lobe could lie in.', left: 0.45 }];
}
/** Of its height: how far its top reaches, and how thick a hook is. */
const WIDE_TOP = 0.4;
const WIRE = [0.003, 0.1] as const;
/** How far below its underside the lobe is looked for, and how far beside that nothing may be. */
const BELOW_HOOK = 0.015;
const FREE = 0.2;

/** Lifted to the file's own axis, where that is near: who models one hangs it as it hangs. */
function upright(stand: Stand): Stand | null {
  const up = new Vector3(0, 1, 0).applyQuaternion(stand.turn.clone().invert());
  const nearest = [0, 1, 2].reduce((a, b) => (Math.abs(up.getComponent(b)) > Math.abs(up.getComponent(a)) ? b : a));
  const axis = new Vector3().setComponent(nearest, Math.sign(up.getComponent(nearest))).applyQuaternion(stand.turn);
  return Math.abs(axis.x) < 0.005 && axis.y > NEAR_AXIS ? stand.lifted(Math.atan2(axis.z, axis.y)) : null;
}
const NEAR_AXIS = 0.97;

/** Turned so that its middle is straight below where it hangs. */
function hanging(stand: Stand): Stand {
  let now = stand;
  for (let k = 0; k < 3; k++) {
    const [, y, z] = hookOf(now);
    let [my, mz, n] = [0, 0, 0];
    for (let i = 0; i < now.points.length; i += 3) {
      my += now.points[i + 1];
      mz += now.points[i + 2];
      n++;
    }
    const by = Math.atan2(z - mz / n, y - my / n);
    if (Math.abs(by) < 1e-4 || Math.abs(by) > 0.6) break;
    now = now.lifted(by);
  }
  return now;
}

export const EARRING: Fitter = { level: (stand) => stand, fit: fitEarring };

function fitEarring({ stand: asked, head, gapM, keep }: Asked): Attempt | string {
  const stand = upright(asked) ?? hanging(asked);
  const own = hookOf(stand);
  const high = stand.hi.y - stand.lo.y;
  const size = stand.thing.sizeM;
  const sizeMm = [stand.hi.x - stand.lo.x, high, stand.hi.z - stand.lo.z].map((x) => x * size * 1000) as [number, number, number];
  // the unit it was most likely made in; where none suits, as large as they are
  const { usualMm, told, spread } = KINDS.earring;
  const unit = guessUnit('earring', sizeMm)?.factor ?? 1;
  const off = Math.abs(Math.log((sizeMm[told] * unit) / usualMm[told]));
  const factor = keep ?? (off < 2.5 * spread[told] ? unit * size : usualMm[told] / 1000 / high);
  const lobe = head.at('subauraleL');
  const form: Point = [lobe[0], lobe[1] + PIERCED_M, lobe[2]];
  /** With its hook in the lobe, as large as this. */
  const hung = (f: number): Place => ({ factor: f, liftRad: 0, x: form[0] - f * own[0], y: form[1] - f * own[1], z: form[2] - f * own[2] });
  const below = stand.within((_, y) => y < own[1] - 0.3 * high);
  // how far out is told at a usual size: what hangs swings out of the way, however large it is
  const usual = hung(usualMm[told] / 1000 / high);
  const aside = below.length > 0 ? dropPlaces(placedAll({ ...usual, x: usual.x + OUT_M }, below), head.field, [-1, 0, 0], gapM) : null;
  const out = aside ? Math.min(MOST_ASIDE_M, Math.max(0, OUT_M - aside.wayM)) : 0;
  const place = hung(factor);
  place.x += out;
  const doubts: Doubt[] = [
    ...within((stand.hi.y - stand.lo.y) * factor, [0.004, 0.16], (x) => `It would be ${mm(x)} high.`),
    ...within((stand.hi.x - stand.lo.x) * factor, [0, 0.1], (x) => `It would be ${mm(x)} wide.`),
    ...within((stand.hi.z - stand.lo.z) * factor, [0, 0.09], (x) => `It would be ${mm(x)} deep.`),
  ];
  doubts.push(...hookDoubts(stand, own));
  const limit = `It hangs from the left lobe${out > 0.0005 ? `, ${mm(out)} out from it so that it clears the neck` : ''}.`;
  return { stand, place, pairs: [{ name: 'hook', own, form }], limit, doubts };
}
