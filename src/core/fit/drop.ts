/** A part dropped along a direction until it lies on the wearer at a set distance: it goes as far as nothing of it can touch, and again. */
import type { ClearanceShape } from './clearance';
import type { Distances } from './field';

export interface Dropped {
  /** How far along the direction, metres; negative: it had to be drawn out first. */
  wayM: number;
  /** Where it touches first: a place of the part before it was moved. */
  atM: [number, number, number];
}

/** It is there when it is this near to what was asked, metres. */
const THERE_M = 1e-5;
const MOST_ROUNDS = 400;
/** Further than this nothing is dropped or drawn out, metres. */
const FAR_M = 0.6;
/** Steps of what lies in the wearer until it is out, metres. */
const OUT_M = 0.004;

/**
 * @param along unit, in the frame of field and shapes @param gapM left between part and skin; negative: pressed in
 * @returns null: that way it meets nobody, or cannot be drawn out of them
 */
export const dropAlong = (
  shapes: readonly ClearanceShape[],
  field: Distances,
  along: readonly [number, number, number],
  gapM: number,
): Dropped | null => dropPlaces(placesOf(shapes), field, along, gapM);

/** The same of bare places, three numbers each. */
export function dropPlaces(
  places: ArrayLike<number>,
  field: Distances,
  along: readonly [number, number, number],
  gapM: number,
): Dropped | null {
  if (places.length === 0) return null;
  const [dx, dy, dz] = along;
  const count = places.length / 3;
  // what each place is away at least, however it was moved since it was asked
  const least = new Float64Array(count).fill(-Infinity);
  const askedAt = new Float64Array(count);
  let touching = 0;
  /** Least distance of all places with the part moved so far along. */
  const nearest = (way: number): number => {
    let min = Infinity;
    for (let v = 0; v < count; v++) {
      // no place comes nearer than it goes
      if (least[v] - Math.abs(way - askedAt[v]) >= min) continue;
      const d = field.distance(places[v * 3] + dx * way, places[v * 3 + 1] + dy * way, places[v * 3 + 2] + dz * way);
      least[v] = d;
      askedAt[v] = way;
      if (d < min) {
        min = d;
        touching = v;
      }
    }
    return min;
  };
  let way = 0;
  let away = nearest(0);
  // out first, by steps that cannot leap over a thin part of the wearer
  while (away < gapM) {
    way -= Math.max(OUT_M, gapM - away);
    if (way < -FAR_M) return null;
    away = nearest(way);
  }
  for (let round = 0; round < MOST_ROUNDS; round++) {
    if (away - gapM < THERE_M) {
      return { wayM: way, atM: [places[touching * 3], places[touching * 3 + 1], places[touching * 3 + 2]] };
    }
    // as far as the nearest place is from where it may be, nothing else can be nearer
    way += away - gapM;
    if (way > FAR_M) return null;
    away = nearest(way);
  }
  return { wayM: way, atM: [places[touching * 3], places[touching * 3 + 1], places[touching * 3 + 2]] };
}

/** Places of what is drawn, each once; of large triangles some between their corners. */
function placesOf(shapes: readonly ClearanceShape[]): Float64Array {
  const out: number[] = [];
  for (const { positions: p, triangles } of shapes) {
    const used = new Set<number>();
    for (let i = 0; i < triangles.length; i++) used.add(triangles[i]);
    for (const v of used) if (Number.isFinite(p[v * 3] + p[v * 3 + 1] + p[v * 3 + 2])) out.push(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
    for (let t = 0; t < triangles.length; t += 3) {
      const [a, b, c] = [triangles[t] * 3, triangles[t + 1] * 3, triangles[t + 2] * 3];
      const edge = (i: number, j: number) => Math.hypot(p[i] - p[j], p[i + 1] - p[j + 1], p[i + 2] - p[j + 2]);
      const cuts = Math.min(MOST_CUTS, Math.ceil(Math.max(edge(a, b), edge(b, c), edge(c, a)) / FINE_M));
      if (!(cuts > 1) || out.length > MOST_PLACES * 3) continue;
      for (let u = 0; u <= cuts; u++)
        for (let v = 0; v <= cuts - u; v++) {
          const [f, g] = [u / cuts, v / cuts];
          for (let k = 0; k < 3; k++) out.push(p[a + k] * (1 - f - g) + p[b + k] * f + p[c + k] * g);
        }
    }
  }
  return Float64Array.from(out);
}
const FINE_M = 0.004;
const MOST_CUTS = 48;
const MOST_PLACES = 200_000;
