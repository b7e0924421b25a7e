/**
 * Spectacles: rims before the eyes, a bridge on the nose, temples to the ears' roots. *Common practice*: lenses and bridge are told by the
 * boxes round them (ISO 8624), pupils stand a little above the boxes' middle, and the plane of the lenses 12 to 14 mm before the eye.
 */

import { nearestLandmark } from '../../../form/near';
import { placeWords } from '../../../words/places';
import { dropPlaces } from '../../drop';
import { type Asked, type Attempt, type Doubt, type Fitter, mm, type OwnPair, type Point, within } from '../attempt';
import { type Head, skinAlong } from '../head';
import { lineThrough } from '../line';
import { type Place, placed, placedAll, type Stand, unplaced } from '../stand';

/** Of the whole breadth: how far the front reaches back, and beyond what aside temples run. */
const FRONT = 0.22;
const ASIDE = 0.34;
/** Slices across and along, of the breadth. */
const SLICE = 0.02;
/** A temple that leaves its line by this share of the breadth is bent down. */
const BENT = 0.02;
/** Pupils above the middle of the boxes, lenses before the eye, metres. */
const PUPIL_UP_M = 0.002;
const BEFORE_EYE_M = 0.013;
const ROUNDS = 8;
/** Of what is let down on the nose, at first: so far before its tip, metres. */
const AWAY_M = 0.03;

interface Boxes {
  /** Breadth of one, gap between them, height, middle of one to the side and up. */
  a: number;
  dbl: number;
  b: number;
  side: number;
  up: number;
  /** Where most of its surface is, fore. */
  fore: number;
}

/** The boxes round the rims, from what stands in front. */
function boxesOf(front: readonly number[], breadth: number): Boxes | null {
  const slice = SLICE * breadth;
  const lo: number[] = [];
  const hi: number[] = [];
  for (let i = 0; i < front.length; i += 3) {
    const k = Math.floor(Math.abs(front[i]) / slice);
    lo[k] = Math.min(lo[k] ?? Infinity, front[i + 1]);
    hi[k] = Math.max(hi[k] ?? -Infinity, front[i + 1]);
  }
  const tall = Array.from(lo, (_, k) => (lo[k] === undefined ? 0 : hi[k] - lo[k]));
  const most = Math.max(...tall);
  const high = tall.flatMap((h, k) => (h > 0.45 * most ? [k] : []));
  if (high.length < 3) return null;
  const rims = high.filter((k) => k >= high[0]);
  const [first, last] = [rims[0], rims[rims.length - 1]];
  const deep: number[] = [];
  // to where exactly: what of the first and last slice is high enough
  let [inner, outer, low, top] = [Infinity, 0, Infinity, -Infinity];
  for (let i = 0; i < front.length; i += 3) {
    const x = Math.abs(front[i]);
    const k = Math.floor(x / slice);
    if (k < first || k > last) continue;
    deep.push(front[i + 2]);
    inner = Math.min(inner, x);
    outer = Math.max(outer, x);
    low = Math.min(low, front[i + 1]);
    top = Math.max(top, front[i + 1]);
  }
  return {
    a: outer - inner,
    dbl: 2 * inner,
    b: top - low,
    side: (inner + outer) / 2,
    up: (low + top) / 2,
    fore: deep.sort((x, y) => x - y)[deep.length >> 1],
  };
}

interface Temple {
  /** Where it comes to lie on the ear: its inner underside. */
  ear: Point;
  /** Whether it bends down there. */
  bends: boolean;
  /** How its straight part climbs towards the front. */
  slope: number;
  /** Its inner side before the ear, three numbers each. */
  inner: number[];
  lengthBack: number;
}

function templeOf(stand: Stand, side: 1 | -1, breadth: number): Temple | null {
  const from = stand.hi.z - FRONT * breadth;
  const run = stand.within((x, _, z) => x * side > ASIDE * breadth && z < from);
  if (run.length < 30) return null;
  const slice = SLICE * breadth;
  const rows: { z: number; y: number; low: number; x: number }[] = [];
  for (let k = 0; k < 80; k++) {
    const [hi, lo] = [from - k * slice, from - (k + 1) * slice];
    let [n, y, low, x] = [0, 0, Infinity, Infinity];
    for (let i = 0; i < run.length; i += 3)
      if (run[i + 2] <= hi && run[i + 2] > lo) {
        n++;
        y += run[i + 1];
        low = Math.min(low, run[i + 1]);
        x = Math.min(x, Math.abs(run[i]));
      }
    if (n > 0) rows.push({ z: (hi + lo) / 2, y: y / n, low, x });
  }
  const length = from - Math.min(...rows.map((r) => r.z));
  // a stub at the hinge is no temple
  if (rows.length < 8 || length < 0.3 * breadth) return null;
  // the line of its first part, taken on while it holds
  let line = lineThrough(rows.slice(0, Math.max(4, Math.floor(rows.length * 0.4))));
  let end = rows.length - 1;
  for (let k = Math.max(4, Math.floor(rows.length * 0.4)); k < rows.length; k++) {
    if (Math.abs(rows[k].y - line.at(rows[k].z)) > BENT * breadth) {
      end = k - 1;
      break;
    }
    line = lineThrough(rows.slice(0, k + 1));
  }
  const { x, z } = rows[end];
  const straight = rows.slice(0, end + 1);
  const under = straight.reduce((s, r) => s + (r.low - r.y), 0) / straight.length;
  return {
    ear: [side * x, line.at(z) + under, z],
    bends: end < rows.length - 1,
    slope: line.slope,
    inner: straight.flatMap((r) => [side * r.x, r.y, r.z]),
    lengthBack: length,
  };
}

/** Temples level: what leads from the front to the ears runs straight back. */
function levelled(stand: Stand): Stand {
  const breadth = stand.hi.x - stand.lo.x;
  const slopes = ([1, -1] as const).flatMap((s) => templeOf(stand, s, breadth)?.slope ?? []);
  return slopes.length === 0 ? stand : stand.lifted(-Math.atan(slopes.reduce((s, x) => s + x, 0) / slopes.length));
}

export const EYEWEAR: Fitter = { level: (stand) => levelled(levelled(stand)), fit: fitEyewear };

function fitEyewear({ stand, head, gapM, keep }: Asked): Attempt | string {
  const breadth = stand.hi.x - stand.lo.x;
  const fore = stand.hi.z - FRONT * breadth;
  const front = stand.within((_, __, z) => z > fore);
  const boxes = boxesOf(front, breadth);
  if (!boxes) return 'It has no front that could stand before the eyes.';
  const temples = [templeOf(stand, 1, breadth), templeOf(stand, -1, breadth)];
  const [left, right] = temples;
  const doubts: Doubt[] = [];
  const ear = head.at('otobasionSuperiorL');
  const pupil = head.at('pupilL');
  const both =
    left && right
      ? { x: (left.ear[0] - right.ear[0]) / 2, y: (left.ear[1] + right.ear[1]) / 2, z: (left.ear[2] + right.ear[2]) / 2 }
      : null;
  if (!both) doubts.push({ why: 'It has no two temples that lead to the ears.', left: 0.55 });
  const lens: Point = [boxes.side, boxes.up, boxes.fore];
  const place: Place = {
    factor: keep ?? (both ? (ear[0] + gapM) / both.x : (head.at('zygionL')[0] * 2.06) / breadth),
    liftRad: 0,
    x: 0,
    y: 0,
    z: 0,
  };
  let limit = 'It could not be let down on the nose.';
  let touches: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    place.y += pupil[1] - PUPIL_UP_M - placed(place, lens)[1];
    place.z += head.at('pronasale')[2] + AWAY_M + 0.02 - placed(place, [0, 0, Math.min(stand.hi.z, fore)])[2];
    const down = dropPlaces(placedAll(place, front), head.field, [0, 0, -1], gapM);
    if (!down) return 'Brought to the nose from before, it meets nobody.';
    place.z -= down.wayM;
    touches = [down.atM[0], down.atM[1], down.atM[2] - down.wayM];
    const by = nearestLandmark(head.form, touches);
    limit = by ? `It comes no closer than ${placeWords(by)}.` : 'It comes no closer than the face.';
    if (!both) break;
    // what lies at the ears' roots lies on them
    const restZ = both.z;
    const at = placed(place, [0, both.y, restZ]);
    const reach = placed(place, lens)[2] - at[2];
    const lift = reach > 0.02 ? (at[1] - (ear[1] + gapM)) / reach : 0;
    place.liftRad = Math.min(0.5, Math.max(-0.5, place.liftRad + lift));
    if (keep === null) place.factor *= sidesTouch(head, place, temples as Temple[], ear, gapM);
  }
  if (both && keep === null) limit += ' Its temples lie at the roots of the ears.';
  const touch = unplaced(place, touches);
  const pairs: OwnPair[] = [{ name: 'bridge', own: touch, form: onSkin(head, touches) }];
  for (const [t, name, landmark] of [
    [left, 'left ear', 'otobasionSuperiorL'],
    [right, 'right ear', 'otobasionSuperiorR'],
  ] as const)
    if (t) {
      const [x, y, z] = head.at(landmark);
      // a straight temple may lie on the ear with any place of it
      const own: Point = t.bends ? t.ear : [t.ear[0], t.ear[1], t.ear[2] + (z - placed(place, t.ear)[2]) / place.factor];
      pairs.push({ name, own, form: [x + Math.sign(x) * gapM, y + gapM, z] });
    }
  for (const [side, name, landmark] of [
    [1, 'left lens', 'pupilL'],
    [-1, 'right lens', 'pupilR'],
  ] as const) {
    const [x, y, z] = head.at(landmark);
    pairs.push({ name, own: [side * lens[0], lens[1], lens[2]], form: [x, y - PUPIL_UP_M, z + BEFORE_EYE_M] });
  }
  limit += boxing(stand, boxes, place.factor);
  doubts.push(...looksRight(stand, boxes, front, place, head));
  if (both && left && right) {
    const off = placed(place, [0, both.y, both.z])[2] - ear[2];
    if (left.bends && Math.abs(off) > 0.02)
      doubts.push({ why: `Its temples bend down ${mm(Math.abs(off))} ${off > 0 ? 'before' : 'behind'} the ears.`, left: 0.8 });
    doubts.push(...within(left.lengthBack * place.factor, [0.05, 0.2], (l) => `Its temples would be ${mm(l)} long.`));
  }
  return { stand, place, pairs, limit, doubts };
}

/** By what its size changes so that its temples just touch: the ears' roots, or the sides of the head before them. */
function sidesTouch(head: Head, place: Place, temples: readonly Temple[], ear: readonly [number, number, number], gapM: number): number {
  const eye = head.at('ectocanthionL')[2];
  let need = 0;
  for (const t of temples) {
    need = Math.max(need, (ear[0] + gapM) / Math.abs(placed(place, t.ear)[0]));
    const here = placedAll(place, t.inner);
    for (let i = 0; i < here.length; i += 3) {
      if (here[i + 2] < ear[2] + BEFORE_EAR_M || here[i + 2] > eye) continue;
      need = Math.max(need, 1 + (gapM - head.field.distance(here[i], here[i + 1], here[i + 2])) / Math.abs(here[i]));
    }
  }
  return need;
}
/** So far before its root begins the ear, metres. */
const BEFORE_EAR_M = 0.014;

/** Fewer places of glass, and its edge is not told. */
const GLASS_PLACES = 60;
/** Breadth of a lens and what lies between the two, as frames are marked by (ISO 8624); of the rims where there is no glass. */
function boxing(stand: Stand, rims: Boxes, factor: number): string {
  const { glass } = stand.thing;
  let [inner, outer, n] = [Infinity, 0, 0];
  for (let i = 0; i < glass.length; i++) {
    if (!glass[i]) continue;
    n++;
    inner = Math.min(inner, Math.abs(stand.points[i * 3]));
    outer = Math.max(outer, Math.abs(stand.points[i * 3]));
  }
  const lenses = n > GLASS_PLACES && inner > 0;
  const [a, dbl] = lenses ? [outer - inner, 2 * inner] : [rims.a, rims.dbl];
  const whole = (m: number) => Math.round(m * factor * 1000);
  return ` Its ${lenses ? 'lenses' : 'rims'} are ${whole(a)}□${whole(dbl)} mm.`;
}

/** Sizes that spectacles have, once they are worn: *common practice*, wide on purpose. */
function looksRight(stand: Stand, boxes: Boxes, front: readonly number[], place: Place, head: Head): Doubt[] {
  const f = place.factor;
  const breadth = (stand.hi.x - stand.lo.x) * f;
  const out = [
    ...within(boxes.a * f, [0.028, 0.09], (x) => `Each lens would be ${mm(x)} wide.`),
    ...within(boxes.b * f, [0.014, 0.09], (x) => `Its lenses would be ${mm(x)} high.`),
    ...within(boxes.dbl * f, [0.003, 0.045], (x) => `Its lenses would stand ${mm(x)} apart.`),
    ...within(breadth, [0.105, 0.24], (x) => `It would be ${mm(x)} wide.`),
    ...within((stand.hi.y - stand.lo.y) * f, [0.014, 0.16], (x) => `It would be ${mm(x)} high.`),
  ];
  // over the nose it leaves room
  let [mid, low, top] = [Infinity, Infinity, -Infinity];
  for (let i = 0; i < front.length; i += 3) {
    low = Math.min(low, front[i + 1]);
    top = Math.max(top, front[i + 1]);
    if (Math.abs(front[i]) * f < 0.004) mid = Math.min(mid, front[i + 1]);
  }
  if (!Number.isFinite(mid)) out.push({ why: 'Nothing of it goes over the nose.', left: 0.2 });
  else if ((mid - low) / (top - low) < 0.12) out.push({ why: 'It leaves no room for the nose.', left: 0.3 });
  // the eye's middle is behind it, not beside it
  const pupil = head.at('pupilL');
  const lensX = boxes.side * f;
  if (Math.abs(lensX - pupil[0]) > 0.014)
    out.push({ why: `Its lenses’ middles are ${mm(Math.abs(lensX - pupil[0]))} beside the pupils.`, left: 0.4 });
  return out;
}

const onSkin = (head: Head, p: readonly number[]): Point =>
  skinAlong(head, [p[0], p[1], p[2]], [0, 0, -1])?.toArray() ?? [p[0], p[1], p[2]];
