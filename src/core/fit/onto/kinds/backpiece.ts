/**
 * Back pieces: a plate against the back between the shoulder blades, straps over the shoulders where there are some. *Common practice*: straps
 * run half way between neck and the shoulders' ends, and a plate without any is worn a hand below the nape.
 */
import { dropPlaces } from '../../drop';
import { type Asked, type Attempt, type Doubt, type Fitter, mm, type OwnPair, type Point, within } from '../attempt';
import { skinAlong } from '../head';
import { lineThrough } from '../line';
import { type Place, placed, placedAll, type Stand, unplaced } from '../stand';

/** Of the breadth: what is in the middle. */
const MIDDLE = 0.1;
const ROWS = 24;
/** Of the height: what differs by less lies in the plate, and what stands further before it is no part of it. */
const FLAT = 0.05;
const BEFORE = 0.07;
/** So much of its places must stand before the plate on a side to be a strap; they keep so near to one line down. */
const STRAP_SHARE = 0.004;
const STRAP_SPREAD = 0.35;
/** Of a strap: what lies over the shoulder, by its height; what lies furthest before the plate, by its depth; how much of that comes round. */
const TOP = 0.25;
const FAR = 0.6;
const LEAST_ROUND = 0.35;
/** Where straps run, of the way to the shoulder's end; the middle of a plate below the nape, metres. */
const STRAP_AT = 0.5;
const PLATE_DOWN_M = 0.085;
/** Back pieces without straps are about so broad and high (the mean of both, metres). */
const USUAL_M = 0.6;
/** Brought near from so far behind, and let down from so far above, metres. */
const BEHIND_M = 0.08;
const ABOVE_M = 0.04;
/** The shoulder is looked for from so far over the nape: below the jaw, metres. */
const OVER_NAPE_M = 0.03;
/** Where straps may lie at the top of a shoulder, from where it is highest, metres. */
const ON_SHOULDER_M = 0.03;

interface Plate {
  /** How far fore it is, and from where to where it reaches. */
  fore: number;
  low: number;
  top: number;
  /** How it leans: fore by going up. */
  slope: number;
  /** Of its rows those that lie flat. */
  flat: number;
}

function plateOf(stand: Stand): Plate | null {
  const [breadth, height] = [stand.hi.x - stand.lo.x, stand.hi.y - stand.lo.y];
  const middle = stand.within((x) => Math.abs(x) < MIDDLE * breadth);
  const rows: { y: number; z: number }[] = [];
  for (let i = 0; i < middle.length; i += 3) {
    const k = Math.min(ROWS - 1, Math.floor(((middle[i + 1] - stand.lo.y) / height) * ROWS));
    rows[k] ??= { y: stand.lo.y + ((k + 0.5) / ROWS) * height, z: -Infinity };
    rows[k].z = Math.max(rows[k].z, middle[i + 2]);
  }
  const there = rows.filter((r) => r !== undefined);
  if (there.length < 4) return null;
  const most = [...there].sort((a, b) => b.z - a.z);
  const fore = most[most.length >> 2].z;
  const flat = there.filter((r) => Math.abs(r.z - fore) < FLAT * height);
  if (flat.length < 4) return null;
  // z by y: how it leans
  const { slope } = lineThrough(flat.map((r) => ({ z: r.y, y: r.z })));
  const [low, top] = [flat[0].y, flat[flat.length - 1].y];
  return { fore, low, top, slope, flat: flat.length / there.filter((r) => r.y >= low && r.y <= top).length };
}

interface Straps {
  /** To the side; what of both lies over the shoulders, three numbers each; how far they come before the plate, and from where to where. */
  side: number;
  over: number[];
  /** Of what lies furthest before the plate, how much lies between top and foot: they come round. */
  round: number;
  /** How high the middle of what comes furthest is over the middle between top and foot, of their height. */
  upper: number;
  depth: number;
  low: number;
  top: number;
}

function strapsOf(stand: Stand, plate: Plate): Straps | null {
  const height = stand.hi.y - stand.lo.y;
  const from = plate.fore + BEFORE * height;
  const all = stand.points.length / 3;
  const sides = ([1, -1] as const).map((s) => {
    const own: number[] = [];
    for (let i = 0; i < stand.points.length; i += 3)
      if (stand.points[i + 2] > from && stand.points[i] * s > 0) own.push(stand.points[i] * s);
    const mean = own.reduce((a, x) => a + x, 0) / own.length;
    const spread = Math.sqrt(own.reduce((a, x) => a + (x - mean) ** 2, 0) / own.length);
    return own.length > STRAP_SHARE * all && spread < STRAP_SPREAD * mean ? mean : null;
  });
  const [left, right] = sides;
  if (left === null || right === null) return null;
  const side = (left + right) / 2;
  // with all of them that lies before the plate: the corners too, for what touches
  const places = stand.within((x, _, z) => z > plate.fore && Math.abs(Math.abs(x) - side) < side * 0.6);
  let [low, top, fore] = [Infinity, -Infinity, -Infinity];
  for (let i = 0; i < places.length; i += 3) {
    low = Math.min(low, places[i + 1]);
    top = Math.max(top, places[i + 1]);
    fore = Math.max(fore, places[i + 2]);
  }
  const [depth, high] = [fore - plate.fore, top - low];
  const over: number[] = [];
  let [far, between, up] = [0, 0, 0];
  for (let i = 0; i < places.length; i += 3) {
    const [y, z] = [places[i + 1], places[i + 2]];
    if (y > top - TOP * high) over.push(places[i], y, z);
    if (z < plate.fore + FAR * depth) continue;
    far++;
    up += y;
    if (y > low + high / 4 && y < top - high / 4) between++;
  }
  return { side, over, round: far > 0 ? between / far : 0, upper: far > 0 ? (up / far - (low + top) / 2) / high : 0, depth, low, top };
}

/** Its plate upright. */
function levelled(stand: Stand): Stand {
  const plate = plateOf(stand);
  return plate && Math.abs(plate.slope) < 0.6 ? stand.lifted(Math.atan(plate.slope)) : stand;
}

/** What is its plate depends on which side is fore: it is levelled each way it may stand. */
export const BACKPIECE: Fitter = {
  level: (stand) => stand,
  fit: (asked) => fitBackpiece({ ...asked, stand: levelled(levelled(asked.stand)) }),
};

function fitBackpiece({ stand, head, gapM, keep }: Asked): Attempt | string {
  const plate = plateOf(stand);
  if (!plate) return 'It has no plate that could lie against a back.';
  const straps = strapsOf(stand, plate);
  const [breadth, height] = [stand.hi.x - stand.lo.x, stand.hi.y - stand.lo.y];
  const [nape, shoulder] = [head.at('cervicale'), head.at('acromionL')];
  const at = STRAP_AT * shoulder[0];
  const factor = keep ?? (straps ? at / straps.side : USUAL_M / Math.sqrt(breadth * height));
  const place: Place = { factor, liftRad: 0, x: 0, y: 0, z: 0 };
  const middle: Point = [0, (plate.low + plate.top) / 2, plate.fore];
  const front = stand.within(
    (x, y, z) => Math.abs(x) < MIDDLE * breadth && y >= plate.low && y <= plate.top && z > plate.fore - FLAT * height,
  );
  const toBack = (): Point | null => {
    place.z += nape[2] - BEHIND_M - placed(place, middle)[2];
    const down = dropPlaces(placedAll(place, front), head.field, [0, 0, 1], gapM);
    if (!down) return null;
    place.z += down.wayM;
    return [down.atM[0], down.atM[1], down.atM[2] + down.wayM];
  };
  // the top of the shoulder where a strap is to lie; a landmark of its own it has not
  const rest = skinAlong(head, [at, nape[1] + OVER_NAPE_M, shoulder[2] - 0.012], [0, -1, 0]);
  if (straps && rest) place.y = rest.y + ABOVE_M - placed(place, [0, straps.top, plate.fore])[1];
  else place.y = nape[1] - PLATE_DOWN_M - placed(place, middle)[1];
  let touch = toBack();
  if (!touch) return 'Brought to the back from behind, it meets nobody.';
  const doubts: Doubt[] = [];
  let limit = `Its plate lies on the back, ${mm(Math.abs(touch[1] - nape[1]))} below the nape.`;
  const pairs: OwnPair[] = [];
  if (straps) {
    const down = dropPlaces(placedAll(place, straps.over), head.field, [0, -1, 0], gapM);
    if (!down) return 'Let down on the shoulders, its straps meet nobody.';
    place.y -= down.wayM;
    touch = toBack() ?? touch;
    const on: Point = [down.atM[0], down.atM[1] - down.wayM, down.atM[2]];
    limit = 'Its straps lie on the shoulders; its plate on the back.';
    const off = Math.hypot(on[0] - Math.sign(on[0]) * at, rest ? on[1] - rest.y : 0);
    doubts.push(...within(off, [0, ON_SHOULDER_M], (x) => `Its straps would lie ${mm(x)} beside the tops of the shoulders.`));
    for (const [s, name] of [
      [1, 'left strap'],
      [-1, 'right strap'],
    ] as const) {
      const own = unplaced(place, [Math.abs(on[0]) * s, on[1], on[2]]);
      pairs.push({ name, own: [own[0], own[1], own[2]], form: [s * Math.abs(on[0]), on[1] - gapM, on[2]] });
    }
  } else limit += ' It touches nothing that its size would follow from: it is as large as such things usually are.';
  for (const [y, name] of [
    [plate.top, 'top of the plate'],
    [plate.low, 'foot of the plate'],
  ] as const) {
    const own: Point = [0, y, plate.fore];
    const [x, up, z] = placed(place, own);
    const back = skinAlong(head, [x, up, z - BEHIND_M], [0, 0, 1]);
    if (back) pairs.push({ name, own, form: [back.x, back.y, back.z - gapM] });
  }
  doubts.push(
    ...within(breadth * factor, [0.1, 1.8], (x) => `It would be ${mm(x)} broad.`),
    ...within(height * factor, [0.15, 1.5], (x) => `It would be ${mm(x)} high.`),
    ...within((plate.top - plate.low) * factor, [0.06, 0.9], (x) => `Its plate would be ${mm(x)} high.`),
    ...within(plate.flat, [0.6, 1], () => 'What would lie against the back is not flat.'),
  );
  if (straps) {
    doubts.push(...within(straps.depth * factor, [0.07, 0.45], (x) => `Its straps would reach ${mm(x)} before its plate.`));
    if (straps.round < LEAST_ROUND) doubts.push({ why: 'What would be its straps does not come round a shoulder.', left: 0.2 });
    // over the shoulder they come far out, under the arm they go back
    if (straps.upper < 0) doubts.push({ why: 'Its straps would come round the other way up.', left: 0.05 });
    doubts.push(...within((straps.top - straps.low) * factor, [0.1, 0.8], (x) => `Its straps would be ${mm(x)} high.`));
  } else {
    doubts.push({ why: 'Nothing of it goes over the shoulders.', left: 0.7 });
    doubts.push(...aboutItsPlate(stand, plate));
  }
  return { stand, place, pairs, limit, doubts };
}

/** Of what has no straps: it spreads to both sides behind its plate, and hangs about it. */
function aboutItsPlate(stand: Stand, plate: Plate): Doubt[] {
  const [breadth, height] = [stand.hi.x - stand.lo.x, stand.hi.y - stand.lo.y];
  let [up, before] = [0, 0];
  for (let i = 0; i < stand.points.length; i += 3) {
    up += stand.points[i + 1];
    if (stand.points[i + 2] > plate.fore + FLAT * height) before++;
  }
  const n = stand.points.length / 3;
  const off = Math.abs(up / n - (plate.low + plate.top) / 2) / height;
  const depth = (plate.fore - stand.lo.z) / Math.sqrt(breadth * height);
  return [
    ...within(off, [0, 0.2], () => 'Most of it would lie above or below its plate.'),
    ...within(before / n, [0, 0.03], (x) => `${Math.round(x * 100)} % of it would lie before its plate, in the wearer.`),
    ...within(depth, [0.02, 0.4], () => 'It is too flat or too deep to be worn on a back.'),
    ...within(breadth / height, [0.7, 6], () => 'It would be higher than broad.'),
  ];
}
