/**
 * The middle line of a limb between two presses: rings of equal distance along the surface give its first run, then each point moves to the
 * middle of the cut across the line, until it stays. (Rings of a geodesic function: Verroust & Lazarus, "Extracting skeletal curves from 3D
 * scattered data", The Visual Computer 16, 2000.)
 */
import { distancesFrom, wayTo } from './geodesic';
import { Sets } from './sets';
import { nearestVertex, type Surface } from './surface';
import { add, cross, dot, size, sub, unit, type Vec } from './vec';

export type { Vec };

export interface MiddleLine {
  /** From the root to the tip, metres, evenly spaced along it. */
  points: Vec[];
  /** Half the width of the cut at each point, metres: girth over 2 π. */
  radii: number[];
  lengthM: number;
}

export class RigError extends Error {
  constructor(
    readonly code:
      | 'rig/no-figure'
      | 'rig/joints'
      | 'rig/speed'
      | 'rig/apart'
      | 'rig/too-near'
      | 'rig/far'
      | 'rig/no-surface'
      | 'rig/no-limbs'
      | 'rig/no-clip'
      | 'rig/no-weights'
      | 'rig/bones',
    message: string,
  ) {
    super(message);
  }
}

const SAMPLES = 48;
/** Rounds of moving to the middle of the cut; a straight tube is still after one. */
const ROUNDS = 4;
/** Of a limb's half width: nearer to its end nothing is cut. */
const CAP = 0.7;
/** Half widths to each side over which middles are averaged. */
const CALM = 0.6;
/** Half widths that a middle lies beside its neighbours' mean, where a line wanders. */
const WANDERS = 0.008;
/** Steps of a line beyond its last cut up to which its bend is believed. */
const GUESSED = 4;
/** A cut this much longer round than its neighbours is a branching's, and says nothing of this limb. */
const JUNCTION = 1.45;

interface Cut {
  /** Of its line; of the area it encloses where it is closed. */
  mean: Vec;
  middle: () => Vec;
  girthM: number;
  nearest: (p: Vec) => number;
}

/** Rings and lines in which a surface is cut where `heights` of its vertices is 0, each with its middle. */
function cutAt(surface: Surface, triangles: Uint32Array, heights: Float64Array): Cut[] {
  const { positions, triangles: all } = surface;
  const vertices = surface.piece.length;
  const ends = new Map<number, number>();
  const points: Vec[] = [];
  const sets = new Sets();
  const segments: [number, number][] = [];
  const on = (a: number, b: number): number => {
    const key = a < b ? a * vertices + b : b * vertices + a;
    const known = ends.get(key);
    if (known !== undefined) return known;
    const k = heights[a] / (heights[a] - heights[b]);
    const i = points.length;
    points.push([0, 1, 2].map((c) => positions[a * 3 + c] * (1 - k) + positions[b * 3 + c] * k) as Vec);
    sets.add(i);
    ends.set(key, i);
    return i;
  };
  for (const t of triangles) {
    const [a, b, c] = [all[t], all[t + 1], all[t + 2]];
    // a vertex on the level counts as below it: no cut runs along an edge
    const [x, y, z] = [heights[a] > 0, heights[b] > 0, heights[c] > 0];
    if (x === y && y === z) continue;
    const [p, q] = x === y ? [on(b, c), on(c, a)] : y === z ? [on(a, b), on(c, a)] : [on(a, b), on(b, c)];
    sets.join(p, q);
    segments.push([p, q]);
  }
  const groups = new Map<number, [number, number][]>();
  for (const s of segments) {
    const g = sets.top(s[0]);
    const list = groups.get(g);
    if (list) list.push(s);
    else groups.set(g, [s]);
  }
  return [...groups.values()].map((list) => {
    let girthM = 0;
    let mean: Vec = [0, 0, 0];
    for (const [a, b] of list) {
      const l = size(sub(points[a], points[b]));
      girthM += l;
      mean = add(mean, add(points[a], points[b]), l / 2);
    }
    mean = girthM > 0 ? ([mean[0] / girthM, mean[1] / girthM, mean[2] / girthM] as Vec) : points[list[0][0]];
    return {
      mean,
      middle: () => middleOfArea(points, list, mean),
      girthM,
      nearest: (p: Vec) => Math.min(...list.map(([a, b]) => toSegment(p, points[a], points[b]))),
    };
  });
}

/** Middle of the area a ring encloses; of a line that encloses none, of the line. */
function middleOfArea(points: readonly Vec[], ring: readonly [number, number][], mean: Vec): Vec {
  // each point has two segments in a ring; the fan of triangles about the mean is signed by the ring's own normal
  const next = new Map<number, number[]>();
  for (const [a, b] of ring) {
    next.set(a, [...(next.get(a) ?? []), b]);
    next.set(b, [...(next.get(b) ?? []), a]);
  }
  for (const n of next.values()) if (n.length !== 2) return mean;
  const order = [ring[0][0]];
  for (let at = ring[0][1], before = ring[0][0]; at !== order[0] && order.length <= ring.length; ) {
    order.push(at);
    const [x, y] = next.get(at) as number[];
    [before, at] = [at, x === before ? y : x];
  }
  const areas = order.map((p, i) => cross(sub(points[p], mean), sub(points[order[(i + 1) % order.length]], mean)));
  const normal = unit(areas.reduce((s, a) => add(s, a), [0, 0, 0] as Vec));
  let area = 0;
  let out: Vec = [0, 0, 0];
  order.forEach((p, i) => {
    const a = dot(areas[i], normal);
    area += a;
    out = add(out, add(sub(points[p], mean), sub(points[order[(i + 1) % order.length]], mean)), a / 3);
  });
  return area > 0 ? add(mean, out, 1 / area) : mean;
}

function toSegment(p: Vec, a: Vec, b: Vec): number {
  const ab = sub(b, a);
  const t = Math.min(1, Math.max(0, dot(sub(p, a), ab) / (dot(ab, ab) || 1)));
  return size(sub(p, add(a, ab, t)));
}

export const lengthOf = (points: readonly Vec[]): number => points.slice(1).reduce((sum, p, i) => sum + size(sub(p, points[i])), 0);

/** The same line with so many points, evenly spaced along it. */
export function evenly(points: readonly Vec[], count: number): Vec[] {
  const along = [0];
  for (let i = 1; i < points.length; i++) along.push(along[i - 1] + size(sub(points[i], points[i - 1])));
  const whole = along[along.length - 1];
  let k = 0;
  return Array.from({ length: count }, (_, i) => {
    const at = (whole * i) / (count - 1);
    while (k < points.length - 2 && along[k + 1] < at) k++;
    const span = along[k + 1] - along[k] || 1;
    return add(points[k], sub(points[k + 1], points[k]), Math.min(1, Math.max(0, (at - along[k]) / span)));
  });
}

/** @throws {RigError} `rig/no-surface` points and lines enclose nothing */
export function needSurface(surface: Surface): void {
  if (surface.triangles.length === 0)
    throw new RigError('rig/no-surface', 'The model draws no surface, so there is nothing to raise bones in.');
}

/**
 * The middle line from one press to another, both on or near the surface, metres of the model.
 * @throws {RigError} `rig/no-surface` nothing is drawn; `rig/apart` no surface leads from one to the other; `rig/too-near` they are the same place.
 */
export function middleLine(surface: Surface, root: Vec, tip: Vec): MiddleLine {
  needSurface(surface);
  const [a, b] = [nearestVertex(surface, root), nearestVertex(surface, tip)];
  if (a === b) throw new RigError('rig/too-near', 'Root and tip are the same place. Press the tip at the other end of the limb.');
  if (surface.piece[a] !== surface.piece[b])
    throw new RigError('rig/apart', 'Root and tip lie on pieces that are not joined. Press both on one piece, or raise a chain in each.');
  return lineBetween(surface, a, b, root, tip);
}

/** Between two vertices of one piece. */
export function lineBetween(
  surface: Surface,
  a: number,
  b: number,
  root: Vec = placeOf(surface, a),
  tip: Vec = placeOf(surface, b),
): MiddleLine {
  const d = distancesFrom(surface, [a]);
  const way = wayTo(d, b);
  const whole = d.far[b];
  const { positions } = surface;
  const own: number[] = [];
  for (let t = 0; t < surface.triangles.length; t += 3) if (surface.piece[surface.triangles[t]] === surface.piece[a]) own.push(t);
  const inPiece = Uint32Array.from(own);
  const heights = new Float64Array(surface.piece.length);
  const cutAcross = (p: Vec, n: Vec) => {
    const level = dot(p, n);
    for (let v = 0; v < heights.length; v++)
      heights[v] = positions[v * 3] * n[0] + positions[v * 3 + 1] * n[1] + positions[v * 3 + 2] * n[2] - level;
    return cutAt(surface, inPiece, heights);
  };
  // the first run: the ring of each distance that the way on the surface goes through
  const first: Vec[] = [];
  for (let i = 1; i < SAMPLES; i++) {
    const level = (whole * i) / SAMPLES;
    const k = way.findIndex((v) => d.far[v] >= level);
    const [p, q] = [placeOf(surface, way[Math.max(0, k - 1)]), placeOf(surface, way[k])];
    const span = d.far[way[k]] - d.far[way[Math.max(0, k - 1)]] || 1;
    const at = add(p, sub(q, p), (level - d.far[way[Math.max(0, k - 1)]]) / span);
    for (let v = 0; v < heights.length; v++) heights[v] = d.far[v] - level;
    const rings = cutAt(surface, inPiece, heights);
    const ring = least(rings, (r) => r.nearest(at));
    if (ring) first.push(ring.middle());
  }
  let line = evenly(first.length > 1 ? first : [root, tip], SAMPLES);
  let radii: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const cuts = line.map((p, i) => {
      const along = unit(sub(line[Math.min(SAMPLES - 1, i + 2)], line[Math.max(0, i - 2)]));
      const ring = least(cutAcross(p, along), (r) => size(sub(r.mean, p)) + r.nearest(p) * 0.1);
      return ring ? { ...ring, along } : null;
    });
    const sound = soundCuts(cuts.map((c) => c?.girthM ?? Infinity));
    const thick = [...cuts.flatMap((c) => (c ? [c.girthM / (2 * Math.PI)] : []))].sort((x, y) => x - y)[Math.floor(cuts.length / 4)] ?? 0;
    // so near an end a cut runs over the cap, and its middle is not the limb's
    const inside = (p: Vec) => Math.min(size(sub(p, line[0])), size(sub(p, line[line.length - 1]))) > thick * CAP;
    const kept = cuts.flatMap((c, i) => (c && sound[i] && inside(line[i]) ? [{ at: c.middle(), r: c.girthM / (2 * Math.PI) }] : []));
    if (kept.length < 3) break;
    // where a branching says nothing the line runs straight on between its neighbours
    const calmed = kept.map((_, i) => calm(kept, i));
    const wander = kept.map((k, i) => size(sub(k.at, calmed[i])) / k.r).sort((x, y) => x - y)[kept.length >> 1];
    // a line that does not wander is as it was traced
    line = wander > WANDERS ? calmed : kept.map((k) => k.at);
    radii = kept.map((k) => k.r);
    const places = ends(line, root, tip);
    radii = [radii[0], ...radii, radii[radii.length - 1]].slice(0, places.length);
    line = round + 1 < ROUNDS ? evenly(places, SAMPLES) : places;
    if (round + 1 === ROUNDS) while (radii.length < line.length) radii.push(radii[radii.length - 1]);
  }
  if (radii.length === 0) radii = line.map(() => 0);
  return { points: line, radii, lengthM: lengthOf(line) };
}

/** The mean of the cuts' middles half a width to both sides: in a thick limb an oblique cut's middle lies beside the limb's. */
function calm(kept: readonly { at: Vec; r: number }[], i: number): Vec {
  let sum: Vec = kept[i].at;
  let n = 1;
  for (let k = 1; i - k >= 0 && i + k < kept.length; k++) {
    if (size(sub(kept[i + k].at, kept[i - k].at)) > kept[i].r * CALM * 2) break;
    sum = add(add(sum, kept[i - k].at), kept[i + k].at);
    n += 2;
  }
  return sum.map((x) => x / n) as Vec;
}

/** The line begins and ends where the presses stand along it: what lies beyond is cut, what is missing goes on as it bends. */
function ends(line: Vec[], root: Vec, tip: Vec): Vec[] {
  const reach = (from: Vec[], to: Vec): Vec[] => {
    let keep = from.length;
    while (keep > 3 && dot(sub(to, from[keep - 1]), sub(from[keep - 1], from[keep - 2])) < 0) keep--;
    const [a, b, c] = from.slice(keep - 3, keep);
    const step = (size(sub(c, b)) + size(sub(b, a))) / 2 || 1;
    const bend = add(add(c, b, -2), a).map((x) => x / step ** 2) as Vec;
    const out = add(sub(c, b).map((x) => x / step) as Vec, bend, step / 2);
    const at = (x: number): Vec => add(add(c, out, x), bend, x ** 2 / 2);
    let x = 0;
    for (let k = 0; k < 4; k++) x = Math.max(0, x + dot(sub(to, at(x)), unit(add(out, bend, x))));
    // what bends so far ahead is a guess: straight on is the better one
    const far = x < step * GUESSED && size(sub(at(x), to)) < size(sub(add(c, unit(out), Math.max(0, dot(sub(to, c), unit(out)))), to)) * 2;
    return [...from.slice(0, keep), far ? at(x) : add(c, unit(out), Math.max(0, dot(sub(to, c), unit(out))))];
  };
  return reach(reach(line, tip).reverse(), root).reverse();
}

/** Cuts of which neighbours, a few to each side, are not much shorter round. */
function soundCuts(girths: readonly number[]): boolean[] {
  return girths.map((g, i) => {
    const near = girths.slice(Math.max(0, i - 8), i + 9).filter(Number.isFinite);
    const low = [...near].sort((x, y) => x - y)[Math.floor(near.length / 4)];
    return Number.isFinite(g) && g <= low * JUNCTION;
  });
}

export const placeOf = (surface: Surface, v: number): Vec => [
  surface.positions[v * 3],
  surface.positions[v * 3 + 1],
  surface.positions[v * 3 + 2],
];

function least<T>(list: readonly T[], key: (x: T) => number): T | undefined {
  if (list.length < 2) return list[0];
  let [best, low] = [undefined as T | undefined, Infinity];
  for (const x of list) {
    const k = key(x);
    if (k < low) [best, low] = [x, k];
  }
  return best;
}
