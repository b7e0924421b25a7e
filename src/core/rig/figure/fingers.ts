/** Fingers of a hand that was found: its ends, seen closer than the figure's grid sees them; a mitten has none. */
import { fingerBones, HUMANOID_FINGERS, HUMANOID_PARENT, mirrorName } from '../../words/humanoid';
import { branchesOf } from '../limbs';
import type { Vec } from '../middle';
import { type Surface, surfaceFrom } from '../surface';
import { add, dot, size, sub, unit } from '../vec';
import { spread } from '../weights/voxel';
import { bandsOf, middleAt } from './bands';
import type { FigureJoint } from './joints';
import { cellAt, type Solid, solidOf } from './solid';

/** Voxels along the longest side of a hand. */
const GRID = 90;
/** An end that stands out less than this share of the hand is a knuckle. */
const STANDS_OUT = 0.12;
/** Of the hand's length: what lies so near to the wrist is where ways begin. */
const CUFF = 0.12;
/**
 * Joints as shares of what stands out of a finger, from its tip: the last two of its bones, and its root in the palm. (The phalanges of a
 * hand and the webs between them; common practice.)
 */
const SHARES: Readonly<Record<'finger' | 'thumb', readonly [number, number, number]>> = {
  finger: [0.35, 0.75, 1.41],
  thumb: [0.37, 0.81, 1.42],
};
const FOUND = 0.7;

/**
 * Fifteen joints of one hand; none where it has no five fingers.
 * @param wrist and middle finger's tip, metres of the model. @param left whether it is the left hand
 */
export function fingersOf(
  surface: Surface,
  wrist: Vec,
  tip: Vec,
  left: boolean,
): { joints: FigureJoint[]; tips: Record<string, Vec> } | null {
  const long = size(sub(tip, wrist));
  const along = unit(sub(tip, wrist));
  const hand = crop(surface, (p) => {
    const off = sub(p, wrist);
    return dot(off, along) > -0.05 * long && size(off) < 1.25 * long;
  });
  if (!hand) return null;
  const solid = solidOf(hand, GRID);
  const seeds = new Map<number, number>();
  for (let c = 0; c < solid.cells.length; c++) if (dot(sub(cellAt(solid, c), wrist), along) < CUFF * long) seeds.set(c, 0);
  if (seeds.size === 0) return null;
  const far = new Float64Array(solid.cells.length);
  spread(seeds, solid.near, far);
  const ends = branchesOf(solid.near, { far }).filter((b) => b.lengthM > STANDS_OUT * long);
  if (ends.length !== 5) return null;
  const places = ends.map((e) => cellAt(solid, e.tip));
  // the thumb leaves the hand nearest to the wrist; the others lie across the palm, the index next to it
  const roots = ends.map((e) => far[e.root]);
  const oldest = ends.findIndex((e) => e.met < 0);
  const thumb = roots.reduce((best, r, i) => (i !== oldest && (best < 0 || r < roots[best]) ? i : best), -1);
  const across = unit(sub(places[thumb], add(wrist, along, dot(sub(places[thumb], wrist), along))));
  const order = [0, 1, 2, 3, 4]
    .filter((i) => i !== thumb)
    .sort((a, b) => dot(sub(places[b], wrist), across) - dot(sub(places[a], wrist), across));
  // the oldest branch met no other: its finger stands out as far as its neighbours do
  const web = order.filter((i) => i !== oldest).reduce((s, i) => s + roots[i], 0) / 3;
  const joints: FigureJoint[] = [];
  const tips: Record<string, Vec> = {};
  for (const [k, i] of [thumb, ...order].entries()) {
    const names = fingerBones(HUMANOID_FINGERS[k]).map((n) => (left ? n : mirrorName(n)));
    const { places: at, end } = jointsOf(solid, far, ends[i].tip, i === oldest ? web : roots[i], SHARES[k === 0 ? 'thumb' : 'finger']);
    for (const [n, name] of names.entries()) joints.push({ name, parent: HUMANOID_PARENT[name], at: at[n], sure: FOUND, by: 'proportion' });
    tips[names[2]] = end;
  }
  return { joints, tips };
}

/** Root, middle and end joint of a finger, along the middle of what stands out, and its tip. */
function jointsOf(
  solid: Solid,
  far: Float64Array,
  tip: number,
  level: number,
  shares: readonly [number, number, number],
): { places: Vec[]; end: Vec } {
  // what is joined to the tip farther out than the web
  const own = new Uint8Array(far.length);
  own[tip] = 1;
  const open = [tip];
  for (let i = 0; i < open.length; i++)
    for (let e = solid.near.start[open[i]]; e < solid.near.start[open[i] + 1]; e++) {
      const c = solid.near.to[e];
      if (own[c] || far[c] <= level) continue;
      own[c] = 1;
      open.push(c);
    }
  const way = Float64Array.from(far, (d) => far[tip] - d);
  const out = far[tip] - level;
  const bands = bandsOf(solid, way, (c) => own[c] === 1, out);
  const [a, b] = [middleAt(bands, out * 0.25), middleAt(bands, out * 0.9)];
  const inwards = unit(sub(b, a));
  // the root lies beyond the web, in the palm
  const root = add(middleAt(bands, out * 0.9), inwards, out * (shares[2] - 0.9));
  return { places: [root, middleAt(bands, out * shares[1]), middleAt(bands, out * shares[0])], end: cellAt(solid, tip) };
}

/** Triangles of which a corner lies inside; null where there are none. */
function crop(surface: Surface, inside: (p: Vec) => boolean): Surface | null {
  const { positions, triangles } = surface;
  const kept = Uint8Array.from({ length: positions.length / 3 }, (_, v) =>
    inside([positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]]) ? 1 : 0,
  );
  const own: number[] = [];
  const place = new Map<number, number>();
  const at: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    if (!kept[triangles[t]] && !kept[triangles[t + 1]] && !kept[triangles[t + 2]]) continue;
    for (let k = 0; k < 3; k++) {
      const v = triangles[t + k];
      if (!place.has(v)) {
        place.set(v, at.length / 3);
        at.push(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]);
      }
      own.push(place.get(v) as number);
    }
  }
  return own.length > 0 ? surfaceFrom(Float32Array.from(at), Uint32Array.from(own)) : null;
}
