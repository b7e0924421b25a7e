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

/** Places of a part that are asked about: its vertices, and those between the corners of large triangles, each with the area it stands for. */
export interface Asked {
  /** One list a shape; NaN where nothing is drawn. */
  corners: Float32Array[];
  between: Float32Array;
  /** Square metres, one a place between. */
  areas: Float32Array;
  /** Triangles that are told by their corners alone: shape, three corners; and how large each is, square metres. */
  small: Uint32Array;
  smallAreas: Float32Array;
}

/** @param shapes the places are of: their order is kept */
export function askedOf(shapes: readonly ClearanceShape[]): Asked {
  const between: number[] = [];
  const areas: number[] = [];
  const small: number[] = [];
  const smallAreas: number[] = [];
  const fine = fineOf(shapes);
  const [a, b, c, m] = [new Vector3(), new Vector3(), new Vector3(), new Vector3()];
  const corners = shapes.map(({ positions, triangles }, s) => {
    const own = new Float32Array(positions.length).fill(Number.NaN);
    for (let t = 0; t < triangles.length; t++) {
      const i = triangles[t] * 3;
      if (Number.isFinite(positions[i] + positions[i + 1] + positions[i + 2])) own.set(positions.subarray(i, i + 3), i);
    }
    for (let t = 0; t < triangles.length; t += 3) {
      a.fromArray(own, triangles[t] * 3);
      b.fromArray(own, triangles[t + 1] * 3);
      c.fromArray(own, triangles[t + 2] * 3);
      const whole = m.subVectors(b, a).cross(c.clone().sub(a)).length() / 2;
      if (!(whole > 0)) continue;
      const cuts = cutsOf(a, b, c, fine);
      if (cuts <= 1) {
        small.push(s, triangles[t], triangles[t + 1], triangles[t + 2]);
        smallAreas.push(whole);
        continue;
      }
      const area = whole / (cuts * cuts);
      for (let u = 0; u < cuts; u++)
        for (let v = 0; v < cuts - u; v++)
          for (const up of v < cuts - u - 1 ? [1 / 3, 2 / 3] : [1 / 3]) {
            const [f, g] = [(u + up) / cuts, (v + up) / cuts];
            m.copy(a)
              .multiplyScalar(1 - f - g)
              .addScaledVector(b, f)
              .addScaledVector(c, g);
            between.push(m.x, m.y, m.z);
            areas.push(area);
          }
    }
    return own;
  });
  return {
    corners,
    between: Float32Array.from(between),
    areas: Float32Array.from(areas),
    small: Uint32Array.from(small),
    smallAreas: Float32Array.from(smallAreas),
  };
}

/** Pieces along each side that a triangle is cut into; NaN for one that is nowhere. */
const cutsOf = (a: Vector3, b: Vector3, c: Vector3, fine: number): number =>
  Math.min(MOST_CUTS, Math.ceil(Math.max(a.distanceTo(b), b.distanceTo(c), c.distanceTo(a)) / fine));

/** Signed distances of places, three numbers each, metres; NaN where one is none. */
export function distancesOf(places: Float32Array, field: SurfaceField, before?: MeasuredBefore): Float32Array {
  const out = new Float32Array(places.length / 3);
  let [px, py, pz, last] = [0, 0, 0, Infinity];
  for (let v = 0; v < out.length; v++) {
    const [x, y, z] = [places[v * 3], places[v * 3 + 1], places[v * 3 + 2]];
    if (!Number.isFinite(x + y + z)) {
      out[v] = Number.NaN;
      continue;
    }
    // nothing that moved was, or has come, as near as what is nearest
    if (before && Math.abs(before.distances[v]) < awayFrom(before.moved, x, y, z)) out[v] = before.distances[v];
    // no further than the place before, and the way from there
    else out[v] = field.distance(x, y, z, last + Math.hypot(x - px, y - py, z - pz) + ROUNDING_M);
    [px, py, pz, last] = [x, y, z, Math.abs(out[v])];
  }
  return out;
}

/** What numbers of four bytes are off by. */
const ROUNDING_M = 1e-6;

const awayFrom = (b: Box, x: number, y: number, z: number) =>
  b[0] > b[3] ? Infinity : Math.hypot(Math.max(b[0] - x, 0, x - b[3]), Math.max(b[1] - y, 0, y - b[4]), Math.max(b[2] - z, 0, z - b[5]));

/**
 * @param distances of `asked.corners`, and of `asked.between`
 * @returns null: it has no surface that is anywhere
 */
export function clearanceOf(asked: Asked, distances: { corners: readonly Float32Array[]; between: Float32Array }): Clearance | null {
  const sum = { area: 0, cut: 0, touch: 0, gap: 0 };
  let deepest = Infinity;
  let at: [number, number, number] = [0, 0, 0];
  const note = (d: number, p: Float32Array, v: number) => {
    if (!(d < deepest)) return;
    deepest = d;
    at = [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
  };
  const count = (area: number, below: number, away: number) => {
    sum.area += area;
    sum.cut += area * below;
    if (!(Math.abs(away) <= TOUCH_M)) return;
    sum.touch += area;
    sum.gap += area * Math.abs(away);
  };
  distances.corners.forEach((of, s) => {
    of.forEach((d, v) => {
      note(d, asked.corners[s], v);
    });
  });
  asked.smallAreas.forEach((area, t) => {
    const d = distances.corners[asked.small[t * 4]];
    const [x, y, z] = [d[asked.small[t * 4 + 1]], d[asked.small[t * 4 + 2]], d[asked.small[t * 4 + 3]]];
    count(area, shareBelow(x, y, z), (x + y + z) / 3);
  });
  distances.between.forEach((d, v) => {
    note(d, asked.between, v);
    count(asked.areas[v], d < 0 ? 1 : 0, d);
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
