/** Rings inside of things that go round a head or a neck: how far the thing is from an upright axis, all round, height by height. */
import { Vector3 } from 'three';
import type { Doubt, Point } from './attempt';
import { lineThrough } from './line';
import type { Stand } from './stand';

export const ROUND = 32;
const LEVELS = 40;
/** A ring is closed from this share of its directions on. */
export const CLOSED = 0.8;
/** Steeper than this a wall is no brim: how much further out a step down is. */
const BRIM = 1.3;
/** What lies this much further out than the ring is none of it. */
const OUTSIDE = 1.2;
/** A rim is flat if it leaves its plane by no more than this, of the ring's breadth. */
const FLAT = 0.1;
const MOST_LIFT = 0.45;

export interface Ring {
  /** Height, and where fore its middle is. */
  y: number;
  z: number;
  /** In each direction from the wearer's fore over their left; Infinity: nothing is there. */
  radii: number[];
  /** Share of directions in which it is there. */
  closed: number;
  mean: number;
}

const along = Array.from({ length: ROUND }, (_, k) => {
  const a = (k / ROUND) * 2 * Math.PI;
  return new Vector3(Math.sin(a), 0, Math.cos(a));
});

/** The ring at a height, about the middle of its own front and back. */
export function ringAt(stand: Stand, y: number, nearZ: number): Ring {
  let z = nearZ;
  let radii: number[] = [];
  for (let round = 0; round < 4; round++) {
    radii = along.map((a) => stand.meets(new Vector3(0, y, z), a));
    const [fore, back] = [radii[0], radii[ROUND / 2]];
    const by = Number.isFinite(fore + back) ? (fore - back) / 2 : 0;
    z += by;
    if (Math.abs(by) < 1e-4) break;
  }
  const there = radii.filter(Number.isFinite);
  return { y, z, radii, closed: there.length / ROUND, mean: there.reduce((s, r) => s + r, 0) / Math.max(1, there.length) };
}

/** The place of a ring in a direction of it. */
export const ringPoint = (ring: Ring, k: number): Point => [along[k].x * ring.radii[k], ring.y, ring.z + along[k].z * ring.radii[k]];

export function ringsOf(stand: Stand): Ring[] {
  const high = stand.hi.y - stand.lo.y;
  let z = (stand.hi.z + stand.lo.z) / 2;
  return Array.from({ length: LEVELS }, (_, k) => {
    const ring = ringAt(stand, stand.lo.y + ((k + 0.5) / LEVELS) * high, z);
    if (ring.closed > CLOSED) z = ring.z;
    return ring;
  });
}

/** The lowest ring that goes round, above a brim; where none does, the one that goes furthest round. @returns null: there is none */
export function lowestRing(rings: readonly Ring[], leastClosed: number): Ring | null {
  const most = Math.max(...rings.map((r) => r.closed));
  if (most < leastClosed) return null;
  const need = Math.min(CLOSED, most);
  for (let k = 0; k < rings.length; k++) {
    const [here, over] = [rings[k], rings[k + 1]];
    if (here.closed < need) continue;
    if (over && over.closed >= need && (here.mean - over.mean) / (over.y - here.y) > BRIM) continue;
    return here;
  }
  return rings.find((r) => r.closed >= need) ?? null;
}

/** Its rim below the lowest ring: how it climbs to the front, and how far it leaves its plane and the level, of the ring's breadth. */
function rimOf(stand: Stand, leastClosed: number): { slope: number; uneven: number; tilted: number } | null {
  const rings = ringsOf(stand);
  const ring = lowestRing(rings, leastClosed);
  if (!ring) return null;
  // in each direction as far down as the wall goes
  const rim = ring.radii.flatMap((r, k) => {
    if (!Number.isFinite(r)) return [];
    const wall = (d: number) => d < r * OUTSIDE && d > r / OUTSIDE;
    let low = ring;
    let n = rings.indexOf(ring) - 1;
    while (n >= 0 && wall(rings[n].radii[k])) low = rings[n--];
    // between the last height where it is there and the first where it is not
    let [there, gone] = [low.y, n >= 0 ? rings[n].y : stand.lo.y];
    for (let half = 0; half < 5; half++) {
      const y = (there + gone) / 2;
      if (wall(stand.meets(new Vector3(0, y, low.z), along[k]))) there = y;
      else gone = y;
    }
    return [{ y: there, z: low.z + along[k].z * low.radii[k] }];
  });
  // what hangs out on one side is no rim: the line is laid through what keeps to it
  let kept = rim;
  let line = lineThrough(kept);
  for (let round = 0; round < 3; round++) {
    const off = kept.map((p) => Math.abs(p.y - line.at(p.z))).sort((a, b) => a - b);
    const most = Math.max(OUTLIER * off[off.length >> 1], 1e-4 * ring.mean);
    kept = kept.filter((p) => Math.abs(p.y - line.at(p.z)) <= most);
    line = lineThrough(kept);
  }
  const rms = (of: (p: { y: number; z: number }) => number) =>
    Math.sqrt(kept.reduce((s, p) => s + of(p) ** 2, 0) / kept.length) / ring.mean;
  const mean = kept.reduce((s, p) => s + p.y, 0) / kept.length;
  return {
    slope: line.slope,
    uneven: rms((p) => p.y - line.at(p.z)),
    tilted: Math.sqrt(rim.reduce((s, p) => s + (p.y - mean) ** 2, 0) / rim.length) / ring.mean,
  };
}
/** Further off the line than the middle one by so much is none of it. */
const OUTLIER = 3;

/** The stand with the rim of its lowest ring level, where that rim is flat. */
export function rimLevelled(stand: Stand, leastClosed: number): Stand {
  let now = stand;
  let lifted = 0;
  for (let round = 0; round < 4; round++) {
    const rim = rimOf(now, leastClosed);
    const lift = rim ? -Math.atan(rim.slope) : 0;
    if (!rim || rim.uneven > FLAT || Math.abs(lifted + lift) > MOST_LIFT) break;
    if (Math.abs(lift) < 0.001) break;
    now = now.lifted(lift);
    lifted += lift;
  }
  return now;
}

/** A rim that is not level may be one that stands askew. */
export function askew(stand: Stand, leastClosed: number): Doubt[] {
  const off = rimOf(stand, leastClosed)?.tilted ?? 0;
  const left = Math.max(0.4, 1 / (1 + (off / FLAT) ** 2));
  return left > 0.9 ? [] : [{ why: 'Its rim is not level.', left }];
}

/** What is alike in front and behind but for something on it has that in front. */
export function moreBehind(stand: Stand, ring: Ring, factor: number): Doubt[] {
  let z = 0;
  for (let i = 2; i < stand.points.length; i += 3) z += (stand.points[i] - ring.z) / stand.thing.count;
  return z * factor < -MORE_M ? [{ why: 'More of it would be behind than in front.', left: 0.85 }] : [];
}
const MORE_M = 0.0002;
