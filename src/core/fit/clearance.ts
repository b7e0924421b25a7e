/** How a part sits on a form: where it cuts into it and how deep, how much of it does, how near it lies where it touches. */
import { Vector3 } from 'three';
import type { Box } from '../math/box';
import type { SurfaceField } from './field';

export interface ClearanceShape {
  /** Metres, in the frame of the field. */
  positions: Float32Array;
  triangles: ArrayLike<number>;
}

export interface Clearance {
  /** Of the deepest cut, mm; negative: as near as it comes. */
  deepestMm: number;
  /** Where: on the part, metres of the field's frame. */
  atM: [number, number, number];
  /** Share of the part's surface that lies below the skin, 0 … 1. */
  cutShare: number;
  /** Mean distance of what lies on the skin, mm; null: nothing does. */
  meanGapMm: number | null;
  /** Share of the part's surface that lies on the skin. */
  touchShare: number;
}

/** Nearer than this a place lies on the skin, metres. */
export const TOUCH_M = 0.002;
/** Edges up to this length are asked about at their ends alone; longer ones between, metres. */
const FINE_M = 0.005;
/** At most so many places between, however large a part is. */
const MOST_BETWEEN = 40_000;
const MOST_CUTS = 64;

/** What was measured on the same wearer, and around all of it that has moved since. */
export interface MeasuredBefore {
  distances: Float32Array;
  moved: Box;
}

/** Signed distances of every vertex, metres; NaN where it is no place. */
export function distancesOf(shape: ClearanceShape, field: SurfaceField, before?: MeasuredBefore): Float32Array {
  const { positions: p } = shape;
  const out = new Float32Array(p.length / 3);
  const used = new Uint8Array(out.length);
  for (let i = 0; i < shape.triangles.length; i++) used[shape.triangles[i]] = 1;
  for (let v = 0; v < out.length; v++) {
    const [x, y, z] = [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
    if (!used[v] || !Number.isFinite(x + y + z)) out[v] = Number.NaN;
    // nothing that moved was, or has come, as near as what is nearest
    else if (before && Math.abs(before.distances[v]) < awayFrom(before.moved, x, y, z)) out[v] = before.distances[v];
    else out[v] = field.distance(x, y, z);
  }
  return out;
}

const awayFrom = (b: Box, x: number, y: number, z: number) =>
  b[0] > b[3] ? Infinity : Math.hypot(Math.max(b[0] - x, 0, x - b[3]), Math.max(b[1] - y, 0, y - b[4]), Math.max(b[2] - z, 0, z - b[5]));

/** null: it has no surface that is anywhere. */
export function clearanceOf(shapes: readonly ClearanceShape[], distances: readonly Float32Array[], field: SurfaceField): Clearance | null {
  const sum = { area: 0, cut: 0, touch: 0, gap: 0 };
  let deepest = Infinity;
  const at: [number, number, number] = [0, 0, 0];
  const [a, b, c, m] = [new Vector3(), new Vector3(), new Vector3(), new Vector3()];
  const fine = fineOf(shapes);
  const note = (d: number, p: Vector3) => {
    if (!(d < deepest)) return;
    deepest = d;
    p.toArray(at);
  };
  shapes.forEach(({ positions, triangles }, s) => {
    const d = distances[s];
    for (let t = 0; t < triangles.length; t += 3) {
      const [i, j, k] = [triangles[t], triangles[t + 1], triangles[t + 2]];
      a.fromArray(positions, i * 3);
      b.fromArray(positions, j * 3);
      c.fromArray(positions, k * 3);
      const area = m.subVectors(b, a).cross(c.clone().sub(a)).length() / 2;
      if (!(area > 0) || !Number.isFinite(d[i] + d[j] + d[k])) continue;
      for (const [v, p] of [
        [i, a],
        [j, b],
        [k, c],
      ] as const)
        note(d[v], p);
      const long = Math.max(a.distanceTo(b), b.distanceTo(c), c.distanceTo(a));
      const cuts = Math.min(MOST_CUTS, Math.ceil(long / fine));
      // further off than it is long, no place of it is near
      if (cuts <= 1 || Math.min(Math.abs(d[i]), Math.abs(d[j]), Math.abs(d[k])) > long + TOUCH_M) {
        sum.area += area;
        sum.cut += area * shareBelow(d[i], d[j], d[k]);
        const mean = (d[i] + d[j] + d[k]) / 3;
        if (Math.abs(mean) <= TOUCH_M) {
          sum.touch += area;
          sum.gap += area * Math.abs(mean);
        }
        continue;
      }
      for (let u = 0; u < cuts; u++)
        for (let v = 0; v < cuts - u; v++)
          for (const up of v < cuts - u - 1 ? [1 / 3, 2 / 3] : [1 / 3]) {
            const [f, g] = [(u + up) / cuts, (v + up) / cuts];
            m.copy(a)
              .multiplyScalar(1 - f - g)
              .addScaledVector(b, f)
              .addScaledVector(c, g);
            const here = field.distance(m.x, m.y, m.z);
            const part = area / (cuts * cuts);
            note(here, m);
            sum.area += part;
            if (here < 0) sum.cut += part;
            if (Math.abs(here) <= TOUCH_M) {
              sum.touch += part;
              sum.gap += part * Math.abs(here);
            }
          }
    }
  });
  if (!(sum.area > 0)) return null;
  return {
    deepestMm: -deepest * 1000,
    atM: at,
    cutShare: sum.cut / sum.area,
    meanGapMm: sum.touch > 0 ? (sum.gap / sum.touch) * 1000 : null,
    touchShare: sum.touch / sum.area,
  };
}

/** How far apart places between are, so that no part asks for more than there is time for. */
function fineOf(shapes: readonly ClearanceShape[]): number {
  let area = 0;
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  for (const { positions, triangles } of shapes)
    for (let t = 0; t < triangles.length; t += 3) {
      a.fromArray(positions, triangles[t] * 3);
      b.fromArray(positions, triangles[t + 1] * 3).sub(a);
      c.fromArray(positions, triangles[t + 2] * 3).sub(a);
      const own = b.cross(c).length() / 2;
      if (Number.isFinite(own)) area += own;
    }
  return Math.max(FINE_M, Math.sqrt((2 * area) / MOST_BETWEEN));
}

/** Share of a triangle where what goes evenly from corner to corner is below nought. */
function shareBelow(x: number, y: number, z: number): number {
  const [p, q, r] = [x, y, z].sort((m, n) => m - n);
  if (p >= 0) return 0;
  if (r <= 0) return 1;
  // the corner that is alone on its side cuts off a triangle like the whole
  if (q >= 0) return (p * p) / ((p - q) * (p - r));
  return 1 - (r * r) / ((r - p) * (r - q));
}
