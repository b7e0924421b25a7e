/** Where a figure's joints are: leaps of thickness say where limbs end, necks and bends where they bend, proportions the rest. */
import { HUMANOID_PARENT } from '../../words/humanoid';
import type { Vec } from '../middle';
import { add, cross, dot, mix, size, sub, unit } from '../vec';
import { type Band, bandsOf, bendAt, clamp01, leapAt, middleAt, neckAt } from './bands';
import type { Match } from './match';
import { cellAt, type Solid } from './solid';

export interface FigureJoint {
  /** VRM 1.0 humanoid bone that turns here. */
  name: string;
  parent: string | null;
  at: Vec;
  /** 0 … 1; below `SURE` it is worth a look. */
  sure: number;
  /** By what it was found. */
  by: 'neck' | 'bend' | 'leap' | 'proportion' | 'middle' | 'given';
}

export interface Axes {
  up: Vec;
  front: Vec;
  /** The wearer's left. */
  left: Vec;
  /** Whether the feet say where the front is. */
  frontSure: number;
}

export interface Placed {
  joints: FigureJoint[];
  axes: Axes;
  /** Ends of limbs, for the bones there: metres of the model. */
  tips: Record<string, Vec>;
}

/** Shares of the way from a fingertip to the shoulder's joint, and from a toe's tip to the hip's (Drillis & Contini 1966, from memory). */
const WRIST = 0.255;
const ELBOW = 0.59;
const ANKLE = 0.21;
const KNEE = 0.59;
/** Shares of the way from head to foot: what lies between arm pit and shoulder, crotch and hip, along the trunk. */
const PIT_TO_SHOULDER = 0.025;
const CROTCH_TO_HIP = 0.06;
const HALF_TRUNK = 0.075;
/** A bend of so many degrees is a joint's. */
const BENT = 30;
/** Shares of the trunk from the hips' joint to the neck's. */
const SPINE: readonly (readonly [string, number])[] = [
  ['spine', 0.173],
  ['chest', 0.374],
  ['upperChest', 0.595],
];
const SHOULDER_HEIGHT = 0.92;

interface Arm {
  bands: Band[];
  /** Way from the fingertip to the pit and to the shoulder's joint. */
  pit: number;
  long: number;
  shoulder: Vec;
  found: boolean;
}

function armOf(solid: Solid, m: Match, k: 0 | 1, own: (c: number) => boolean): Arm {
  const S = m.lengthM;
  const bands = bandsOf(solid, m.far.hands[k], own, 0.75 * S);
  const leap = leapAt(bands, 0.2 * S, 1.9);
  // however the shoulders are shaped, arms do not begin in the middle of the trunk
  const pit = Math.min(leap ?? 0.38 * S, 0.55 * S, m.far.hands[k][m.hands[1 - k]] / 2 - HALF_TRUNK * S);
  const last = middleAt(bands, pit - 0.015 * S);
  const along = unit(sub(last, middleAt(bands, pit - 0.075 * S)));
  const beyond = PIT_TO_SHOULDER * S + 0.015 * S;
  return { bands, pit, long: pit + PIT_TO_SHOULDER * S, shoulder: add(last, along, beyond), found: leap !== null };
}

interface Leg {
  bands: Band[];
  long: number;
  crotch: number;
  hip: Vec;
  found: boolean;
}

function legOf(solid: Solid, m: Match, k: 0 | 1, up: Vec, own: (c: number) => boolean): Leg {
  const S = m.lengthM;
  const between = m.far.feet[k][m.feet[1 - k]] / 2;
  // a skirt or a robe joins the legs far below
  const found = between > 0.38 * S;
  const crotch = found ? between : 0.46 * S;
  const bands = bandsOf(solid, m.far.feet[k], own, crotch + 0.1 * S);
  const hip = add(middleAt(bands, crotch - 0.02 * S), up, (CROTCH_TO_HIP + 0.02) * S);
  return { bands, long: crotch + CROTCH_TO_HIP * S, crotch, hip, found };
}

interface Found {
  at: number;
  place: Vec;
  sure: number;
  by: FigureJoint['by'];
}
interface Limb {
  bands: Band[];
  long: number;
}

/** A joint by its bend, or its neck, or its share of the limb. */
function along({ bands, long }: Limb, share: number, spread: number, neck: boolean): Found {
  const usual = share * long;
  const [lo, hi] = [(share - spread) * long, (share + spread) * long];
  const bend = bendAt(bands, lo, hi, 0.12 * long);
  if (bend.deg > BENT)
    return { at: bend.at, place: middleAt(bands, bend.at), sure: 0.6 + clamp01((bend.deg - BENT) / 60) * 0.35, by: 'bend' };
  const narrow = neck ? neckAt(bands, lo, hi, 0.16 * long) : null;
  if (narrow && narrow.depth > 1.15)
    return { at: narrow.at, place: middleAt(bands, narrow.at), sure: 0.7 + clamp01((narrow.depth - 1.15) * 1.5) * 0.25, by: 'neck' };
  return { at: usual, place: middleAt(bands, usual), sure: 0.65, by: 'proportion' };
}

/** Beyond this share of a limb the two sides of a body do not differ. */
const ALIKE = 0.02;

/** The same joint of both sides: a body mirrors, so each stands at the mean of both shares, the surer counting more. */
function pairAlong(limbs: readonly Limb[], share: number, spread: number, neck: boolean): Found[] {
  const found = limbs.map((l) => along(l, share, spread, neck));
  const shares = found.map((f, k) => f.at / limbs[k].long);
  const off = Math.abs(shares[0] - shares[1]);
  if (off < ALIKE) return found;
  const weights = found.map((f) => f.sure ** 4);
  const mean = (shares[0] * weights[0] + shares[1] * weights[1]) / (weights[0] + weights[1]);
  return found.map((f, k) => {
    const at = mean * limbs[k].long;
    return { ...f, at, place: middleAt(limbs[k].bands, at), sure: f.sure - clamp01(off * 1.5) * 0.3 };
  });
}

/** Middle of the trunk at a share of the way from `low` to `high`, of the cells that are its own. */
function trunkAt(solid: Solid, low: Vec, high: Vec, share: number, own: (c: number) => boolean): Vec {
  const axis = unit(sub(high, low));
  const level = share * size(sub(high, low));
  let [n, sum] = [0, [0, 0, 0] as Vec];
  for (let c = 0; c < solid.cells.length; c++) {
    if (!own(c)) continue;
    const p = cellAt(solid, c);
    if (Math.abs(dot(sub(p, low), axis) - level) > solid.voxels.size * 1.5) continue;
    n++;
    sum = add(sum, p);
  }
  return n > 0 ? (sum.map((x) => x / n) as Vec) : mix(low, high, share);
}

/** Every joint of 22 bones. */
export function placeJoints(solid: Solid, m: Match): Placed {
  const S = m.lengthM;
  const all = [m.far.head, ...m.far.hands, ...m.far.feet];
  const nearest = (c: number) => all.reduce((b, f, i) => (f[c] < all[b][c] ? i : b), 0);
  const of = Uint8Array.from({ length: solid.cells.length }, (_, c) => nearest(c));
  // half of the figure each: where the arm meets the trunk its slices leap
  const arms = [0, 1].map((k) => armOf(solid, m, k as 0 | 1, (c) => m.far.hands[k][c] <= m.far.hands[1 - k][c]));
  const shoulders = mix(arms[0].shoulder, arms[1].shoulder, 0.5);
  const crotches = [0, 1].map((k) =>
    middleAt(
      bandsOf(solid, m.far.feet[k], (c) => of[c] === 3 + k, 0.6 * S),
      m.far.feet[k][m.feet[1 - k]] / 2,
    ),
  );
  const up0 = unit(sub(shoulders, mix(crotches[0], crotches[1], 0.5)));
  const legs = [0, 1].map((k) => legOf(solid, m, k as 0 | 1, up0, (c) => of[c] === 3 + k));
  const hips = add(mix(legs[0].hip, legs[1].hip, 0.5), up0, 0.017 * S);

  // the head: from the crown down to the narrowest place above the shoulders
  const skull = bandsOf(solid, m.far.head, (c) => of[c] === 0 && !arms.some((a, k) => m.far.hands[k][c] < a.pit), 0.45 * S);
  const neck = neckAt(skull, 0.06 * S, 0.34 * S, 0.16 * S);
  const necked = neck !== null && neck.depth > 1.2;
  const neckWay = necked ? neck.at : 0.14 * S;
  const neckSure = necked ? 0.65 + clamp01((neck.depth - 1.2) * 0.6) * 0.3 : 0.4;
  const headAt = middleAt(skull, neckWay - 0.03 * S);
  const neckAtBase = middleAt(skull, neckWay + 0.035 * S);
  const up = unit(sub(neckAtBase, hips));

  // the feet say where the front is
  const feet = pairAlong(legs, ANKLE, 0.1, true);
  const toes = legs.map((l, k) => sub(l.bands[0]?.middle ?? cellAt(solid, m.feet[k]), feet[k].place));
  const ahead = add(toes[0], toes[1]);
  const level = add(ahead, up, -dot(ahead, up));
  const across = sub(arms[0].shoulder, arms[1].shoulder);
  const side = unit(add(across, up, -dot(across, up)));
  // at right angles to up and to the shoulders; the toes choose which way
  const normal = unit(cross(side, up));
  const frontSure = clamp01(size(level) / (0.12 * S));
  const front = (dot(normal, level) >= 0 ? normal : normal.map((x) => -x)) as Vec;
  const left = unit(cross(up, front));
  const axes: Axes = { up, front, left, frontSure };

  const trunkCell = (c: number) => !arms.some((a, k) => m.far.hands[k][c] < a.pit) && !legs.some((l, k) => m.far.feet[k][c] < l.crotch);
  const base = 1 - clamp01(m.misfit / 2) * 0.35;
  const joints: FigureJoint[] = [];
  const put = (name: string, at: Vec, sure: number, by: FigureJoint['by']) =>
    joints.push({ name, parent: HUMANOID_PARENT[name], at, sure: Math.round(clamp01(sure * base) * 100) / 100, by });
  const legsFound = legs.every((l) => l.found);
  put('hips', hips, legsFound ? 0.9 : 0.5, legsFound ? 'leap' : 'proportion');
  for (const [name, share] of SPINE) put(name, trunkAt(solid, hips, neckAtBase, share, trunkCell), 0.85, 'middle');
  put('neck', neckAtBase, neckSure, necked ? 'neck' : 'proportion');
  put('head', headAt, neckSure, necked ? 'neck' : 'proportion');
  const clavicle = mix(hips, neckAtBase, SHOULDER_HEIGHT);
  const tips: Record<string, Vec> = { head: cellAt(solid, m.head) };
  const sides = [0, 1].map((k) => (dot(sub(arms[k].shoulder, shoulders), left) > 0 ? 'left' : 'right'));
  const legSides = [0, 1].map((k) => (dot(sub(legs[k].hip, hips), left) > 0 ? 'left' : 'right'));
  const [elbows, wrists] = [pairAlong(arms, ELBOW, 0.1, false), pairAlong(arms, WRIST, 0.08, true)];
  const knees = pairAlong(legs, KNEE, 0.1, false);
  for (const k of [0, 1]) {
    const [arm, s] = [arms[k], sides[k]];
    const elbow = elbows[k];
    const wrist = wrists[k];
    put(`${s}Shoulder`, mix(clavicle, arm.shoulder, 0.13), arm.found ? 0.85 : 0.5, 'middle');
    put(`${s}UpperArm`, arm.shoulder, arm.found ? 0.9 : 0.45, arm.found ? 'leap' : 'proportion');
    put(`${s}LowerArm`, elbow.place, elbow.sure, elbow.by);
    put(`${s}Hand`, wrist.place, wrist.sure, wrist.by);
    tips[`${s}Hand`] = cellAt(solid, m.hands[k]);
  }
  for (const k of [0, 1]) {
    const [leg, s] = [legs[k], legSides[k]];
    const knee = knees[k];
    const foot = feet[k];
    put(`${s}UpperLeg`, leg.hip, leg.found ? 0.9 : 0.5, leg.found ? 'leap' : 'proportion');
    put(`${s}LowerLeg`, knee.place, knee.sure, knee.by);
    put(`${s}Foot`, foot.place, foot.sure, foot.by);
    put(`${s}Toes`, middleAt(leg.bands, foot.at * 0.38), Math.min(foot.sure, 0.8), 'proportion');
    tips[`${s}Toes`] = cellAt(solid, m.feet[k]);
  }
  return { joints, axes, tips };
}

/** Lengths as shares of the way from head to foot, and cosines, that no body goes beyond. */
const TRUNK = [0.15, 0.5] as const;
const SHOULDERS = [0.06, 0.42] as const;
const HEAD_ON = 0.35;
const LEGS_DOWN = 0.2;
const ASIDE = 0.1;
const PARALLEL = 0.5;

/** What speaks against a placing being a body's; null where nothing does. */
export function flawOf({ joints, tips }: Placed, m: Match): string | null {
  const S = m.lengthM;
  const at = (n: string) => (joints.find((j) => j.name === n) as FigureJoint).at;
  const [sl, sr, hl, hr] = ['leftUpperArm', 'rightUpperArm', 'leftUpperLeg', 'rightUpperLeg'].map(at);
  const [shoulders, hips] = [mix(sl, sr, 0.5), mix(hl, hr, 0.5)];
  const trunk = sub(shoulders, hips);
  const across = sub(sl, sr);
  const within = (x: number, [lo, hi]: readonly [number, number]) => x >= lo * S && x <= hi * S;
  if (!within(size(trunk), TRUNK)) return 'its trunk is too short or too long for its limbs';
  if (!within(size(across), SHOULDERS)) return 'its arms begin too near or too far from one another';
  if (dot(unit(sub(tips.head, shoulders)), unit(trunk)) < HEAD_ON) return 'its head does not go on from its trunk';
  if (dot(unit(sub(mix(tips.leftToes, tips.rightToes, 0.5), hips)), unit(trunk)) > LEGS_DOWN)
    return 'its legs do not leave its trunk at the lower end';
  if (Math.abs(dot(sub(tips.head, hips), unit(across))) > ASIDE * S) return 'its head is not between its arms';
  if (Math.abs(dot(unit(across), unit(sub(hl, hr)))) < PARALLEL) return 'its arms and its legs are not side by side';
  return null;
}
