/** How a part sits on a form: where it cuts into it and how deep, how much of it does, how near it lies where it touches. */
import { Vector3 } from 'three';
import type { Box } from '../math/box';
import { REACH_M, type SurfaceField } from './field';

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
  told: Told;
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
  /** No edge of those is longer, metres. */
  fineM: number;
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
    fineM: fine,
  };
}

/** Pieces along each side that a triangle is cut into; NaN for one that is nowhere. */
const cutsOf = (a: Vector3, b: Vector3, c: Vector3, fine: number): number =>
  Math.min(MOST_CUTS, Math.ceil(Math.max(a.distanceTo(b), b.distanceTo(c), c.distanceTo(a)) / fine));

/** What is asked of places: how deep the deepest is, and how each lies that is near the skin. */
export interface Asking {
  /** Above the skin by more than this, a place is told to be at least so far; metres. */
  beyondM: number;
  /** The least found so far; metres. */
  leastM: number;
}

/** Signed distances of places, metres; NaN where one is none. */
export interface Told {
  distances: Float32Array;
  /** 1: it is so; 2: so, but for the side, by an edge where the surface is open; 0: it lies above the skin, at least as far, and is neither near nor the deepest. */
  exact: Uint8Array;
}

/** Above the skin by more than this, nothing is told by how far a place is: neither tints nor shares. */
export const BEYOND_M = 0.005;

/** What is asked of a part, with the places tried that may well be the deepest. */
export function askingOf(asked: Asked, field: SurfaceField, likely: readonly (readonly [number, number, number])[] = []): Asking {
  const asking = { beyondM: Math.max(BEYOND_M, TOUCH_M + asked.fineM), leastM: Infinity };
  for (const at of likely) asking.leastM = Math.min(asking.leastM, field.distance(...at, Math.min(REACH_M, asking.leastM)));
  if (likely.length > 0) return asking;
  for (const places of [...asked.corners, asked.between])
    for (let v = 0; v < places.length; v += 3 * EVERY) {
      const [x, y, z] = [places[v], places[v + 1], places[v + 2]];
      if (Number.isFinite(x + y + z)) asking.leastM = Math.min(asking.leastM, field.distance(x, y, z, Math.min(REACH_M, asking.leastM)));
    }
  return asking;
}
/** One of so many places is tried first. */
const EVERY = 48;

/**
 * Distances change by no more than the way between two places: from one that is far, those round it are known to be far without being asked.
 * @param places three numbers each @param asking is told the least
 */
export function distancesOf(places: Float32Array, field: SurfaceField, asking: Asking, before?: MeasuredBefore): Told {
  const distances = new Float32Array(places.length / 3);
  const exact = new Uint8Array(distances.length);
  // of the place before: at least so far above the skin, and no further from it than that
  let [px, py, pz, atLeast, atMost] = [0, 0, 0, Number.NEGATIVE_INFINITY, Infinity];
  for (let v = 0; v < distances.length; v++) {
    const [x, y, z] = [places[v * 3], places[v * 3 + 1], places[v * 3 + 2]];
    if (!Number.isFinite(x + y + z)) {
      distances[v] = Number.NaN;
      continue;
    }
    const way = Math.hypot(x - px, y - py, z - pz) + ROUNDING_M;
    [px, py, pz] = [x, y, z];
    atLeast -= way;
    atMost += way;
    if (before) {
      const { distances: was, exact: wasExact } = before.told;
      const away = awayFrom(before.moved, x, y, z);
      // nothing that moved was, or has come, as near as what is nearest
      if (wasExact[v] && Math.abs(was[v]) < away) {
        [distances[v], exact[v]] = [was[v], wasExact[v]];
        [atLeast, atMost] = [wasExact[v] === 1 ? was[v] : Number.NEGATIVE_INFINITY, Math.abs(was[v])];
        asking.leastM = Math.min(asking.leastM, was[v]);
        continue;
      }
      if (was[v] > 0 && wasExact[v] < 2) atLeast = Math.max(atLeast, Math.min(was[v], away) - ROUNDING_M);
    }
    const near = Math.max(asking.beyondM, asking.leastM);
    if (atLeast > near) {
      distances[v] = atLeast;
      continue;
    }
    // which side it is on is known: whether anything is near is asked for less than how far it is
    const within = Math.min(atMost, atLeast > 0 ? near + LOOK_M : Infinity, REACH_M);
    const d = field.distance(x, y, z, within);
    distances[v] = d;
    exact[v] = d < within || within === REACH_M ? (field.atOpenEdge ? 2 : 1) : 0;
    [atLeast, atMost] = [exact[v] < 2 ? d : Number.NEGATIVE_INFINITY, exact[v] ? Math.abs(d) : atMost];
    asking.leastM = Math.min(asking.leastM, d);
  }
  return { distances, exact };
}
/** What is near is looked for so much further out, for the sake of the places round it; metres. */
const LOOK_M = 0.01;

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
