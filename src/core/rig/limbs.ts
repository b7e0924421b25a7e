/**
 * The limbs of a shape: branches of the distance over its surface from the middle of each piece (a Reeb graph of a geodesic function: Hilaga
 * et al., "Topology matching for fully automatic similarity estimation of 3D shapes", SIGGRAPH 2001). A branch begins at a tip, where the
 * distance is greatest round about, and ends where its rings meet another's.
 */
import { type Distances, distancesFrom } from './geodesic';
import { placeOf, type Vec } from './middle';
import { Sets } from './sets';
import { boxesOf, diagonal, type Surface } from './surface';

export interface Limb {
  /** Vertices of the surface. */
  root: number;
  tip: number;
  /** Limb it branches off; −1: it hangs from the rig's root. */
  from: number;
  lengthM: number;
  vertices: number[];
}

export const FOUND_BY = 'branches of the distance over the surface from the middle of each piece';

/** A limb is at least so many times longer than it is thick, half its width that is; stumps are none. */
const LONG = 6;
/** Shorter than this share of the longest way of its piece is a bump. */
const LEAST_SHARE = 0.12;
/** Bands a branch is looked at in; and how much longer round one is where the body begins. */
const BANDS = 24;
const LEAP = 1.7;
/** Lesser pieces than this share of the shape's size are crumbs. */
const CRUMB = 0.05;

/** The farthest vertex that was reached, −1 of none. */
function farthest(far: Float64Array): number {
  let [best, most] = [-1, -1];
  for (let v = 0; v < far.length; v++) if (far[v] !== Infinity && far[v] > most) [best, most] = [v, far[v]];
  return best;
}

/** Middle of the longest way over a piece, found from its far ends, and the two ends. */
function spanOf(surface: Surface, seed: number): { middle: number; ends: [number, number]; lengthM: number } {
  const a = farthest(distancesFrom(surface, [seed]).far);
  const fromA = distancesFrom(surface, [a]);
  const b = farthest(fromA.far);
  let middle = b;
  while (fromA.from[middle] >= 0 && fromA.far[middle] > fromA.far[b] / 2) middle = fromA.from[middle];
  return { middle, ends: [a, b], lengthM: fromA.far[b] };
}

function areaOf(surface: Surface, inside: (v: number) => boolean): number {
  const { positions, triangles } = surface;
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    if (!inside(triangles[t])) continue;
    const [a, b, c] = [triangles[t] * 3, triangles[t + 1] * 3, triangles[t + 2] * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k] - positions[a + k]);
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k] - positions[a + k]);
    area += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
  }
  return area;
}

/** All limbs, those of one piece after another; none where nothing is long. */
export function findLimbs(surface: Surface): Limb[] {
  const limbs: Limb[] = [];
  const firsts = new Map<number, number>();
  for (let v = 0; v < surface.piece.length; v++) if (!firsts.has(surface.piece[v])) firsts.set(surface.piece[v], v);
  const sizes = boxesOf(surface).map(diagonal);
  const largest = sizes.reduce((m, s) => Math.max(m, s), 0);
  // ways over a piece are looked for where it is no crumb: there may be thousands
  const spans = [...firsts].flatMap(([piece, seed]) => (sizes[piece] < largest * CRUMB ? [] : [spanOf(surface, seed)]));
  const longest = Math.max(0, ...spans.map((s) => s.lengthM));
  for (const span of spans) {
    if (span.lengthM < longest * CRUMB) continue;
    const piece = surface.piece[span.middle];
    const area = areaOf(surface, (v) => surface.piece[v] === piece);
    // a strand: as long and as thick as a tube of its area would be
    if (span.lengthM > LONG * 2 * (area / (2 * Math.PI * span.lengthM)) && isStrand(surface, span.middle, span.lengthM)) {
      const longer = new Set(spans.flatMap((o) => (o.lengthM > span.lengthM * 1.2 ? [surface.piece[o.middle]] : [])));
      const [root, tip] = outwards(surface, longer, span.ends);
      const vertices = Array.from(surface.piece.keys()).filter((v) => surface.piece[v] === piece);
      limbs.push({ root, tip, from: -1, lengthM: span.lengthM, vertices });
      continue;
    }
    for (const limb of branches(surface, distancesFrom(surface, [span.middle]), span.lengthM))
      limbs.push({ ...limb, from: limb.from < 0 ? -1 : limb.from + limbs.length - limb.at });
  }
  return limbs.map(({ root, tip, from, lengthM, vertices }) => ({ root, tip, from, lengthM, vertices }));
}

/** A strand has two ends: seen from its middle they are two branches, and nothing third is a quarter of it. A ring has one far side. */
function isStrand(surface: Surface, middle: number, lengthM: number): boolean {
  const [, second, third] = branchesOf(surface, distancesFrom(surface, [middle]))
    .map((b) => b.lengthM / lengthM)
    .sort((x, y) => y - x);
  return second > 1 / 8 && !(third > 1 / 4);
}

/** The end of a loose strand that hangs on something longer than itself comes first: the one nearer to that; of one that hangs on nothing the upper. */
function outwards(surface: Surface, longer: ReadonlySet<number>, ends: [number, number]): [number, number] {
  const near = ends.map((e) => {
    const [x, y, z] = placeOf(surface, e);
    let least = Infinity;
    for (let v = 0; v < surface.piece.length; v++)
      if (longer.has(surface.piece[v]))
        least = Math.min(
          least,
          Math.hypot(surface.positions[v * 3] - x, surface.positions[v * 3 + 1] - y, surface.positions[v * 3 + 2] - z),
        );
    return least;
  });
  const [a, b] = ends;
  const first = near[0] === near[1] ? placeOf(surface, a)[1] >= placeOf(surface, b)[1] : near[0] < near[1];
  return first ? [a, b] : [b, a];
}

export interface Branch {
  tip: number;
  /** Where its rings meet an older branch's; the seed itself for the oldest. */
  root: number;
  lengthM: number;
  /** Tip of the branch it met; −1 of the oldest. */
  met: number;
  /** Vertices farther out than its root. */
  vertices: number[];
}

/** Every tip with how long its branch is, whatever that is; of any graph with a distance at each of its nodes. */
export function branchesOf({ start, to }: Pick<Surface, 'start' | 'to'>, { far }: Pick<Distances, 'far'>): Branch[] {
  const order = Array.from(far.keys()).filter((v) => far[v] !== Infinity);
  order.sort((a, b) => far[b] - far[a]);
  const sets = new Sets();
  const members = new Map<number, number[]>();
  const out: Branch[] = [];
  for (const v of order) {
    const met = new Set<number>();
    for (let e = start[v]; e < start[v + 1]; e++) if (sets.has(to[e])) met.add(sets.top(to[e]));
    // the farthest tip goes on, the others end here
    const roots = [...met].sort((a, b) => far[b] - far[a]);
    sets.add(v);
    if (roots.length === 0) {
      members.set(v, [v]);
      continue;
    }
    const [kept, ...ended] = roots;
    sets.join(kept, v);
    const list = members.get(kept) as number[];
    for (const tip of ended) {
      const vertices = members.get(tip) as number[];
      out.push({ tip, root: v, lengthM: far[tip] - far[v], met: kept, vertices: vertices.slice() });
      sets.join(kept, tip);
      for (const m of vertices) list.push(m);
      members.delete(tip);
    }
    list.push(v);
  }
  for (const [tip, vertices] of members) out.push({ tip, root: vertices[vertices.length - 1], lengthM: far[tip], met: -1, vertices });
  return out;
}

interface PieceLimb extends Limb {
  /** Place among its piece's. */
  at: number;
}

function branches(surface: Surface, distances: Distances, spanM: number): PieceLimb[] {
  const { far } = distances;
  const all = branchesOf(surface, distances).filter((b) => b.lengthM >= spanM * LEAST_SHARE);
  const sound = all
    .map((b) => {
      // the one that met all others goes no farther in than where the outermost of them did: there the body begins
      const others = all.filter((o) => o.met === b.tip);
      const limb = trimmed(surface, distances, b, Math.max(far[b.root], ...others.map((o) => far[o.root])));
      // what met nothing and leaves nothing is the body itself: a ring, a lens
      return b.met < 0 && others.length === 0 && far[limb.root] <= far[b.root] ? { ...limb, lengthM: 0 } : limb;
    })
    .filter((b) => b.lengthM >= spanM * LEAST_SHARE && isLong(surface, b));
  // the inner first, so that whoever branches off comes after what it branches off
  sound.sort((a, b) => far[a.root] - far[b.root] || a.tip - b.tip);
  const taken = new Uint8Array(far.length);
  return sound
    .map((b, at) => {
      const from = sound.findIndex((o) => o.tip === b.met);
      return { ...b, from: from >= 0 && from < at && far[sound[from].root] < far[b.root] - 1e-9 ? from : -1, at };
    })
    .reverse()
    .map((limb) => {
      // what branches off is its own, and not also of what it branches off
      const vertices = limb.vertices.filter((v) => !taken[v]);
      for (const v of vertices) taken[v] = 1;
      return { ...limb, vertices };
    })
    .reverse();
}

/** Rings of a branch by bands of its distance; the root moves out to where they leap, which is where it leaves its body. */
function trimmed(surface: Surface, { far, from }: Distances, branch: Branch, level: number): Branch {
  const { positions, triangles } = surface;
  const inside = new Set(ringOut(surface, far, branch.tip, level));
  const top = far[branch.tip];
  const width = (top - level) / BANDS || 1;
  const girths = new Float64Array(BANDS);
  for (let t = 0; t < triangles.length; t += 3) {
    if (!inside.has(triangles[t]) || !inside.has(triangles[t + 1]) || !inside.has(triangles[t + 2])) continue;
    const [a, b, c] = [triangles[t] * 3, triangles[t + 1] * 3, triangles[t + 2] * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k] - positions[a + k]);
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k] - positions[a + k]);
    const at = (far[a / 3] + far[b / 3] + far[c / 3]) / 3;
    girths[Math.min(BANDS - 1, Math.max(0, Math.floor((top - at) / width)))] +=
      Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2 / width;
  }
  // from the tip inwards; the first quarter says how wide it is
  let bands = BANDS;
  for (let i = BANDS / 4; i < BANDS; i++) {
    const before = [...girths.subarray(1, i)].sort((x, y) => x - y);
    if (girths[i] > before[before.length >> 1] * LEAP) {
      bands = i;
      break;
    }
  }
  const end = bands === BANDS ? level : top - bands * width;
  let root = branch.tip;
  while (from[root] >= 0 && far[from[root]] >= end) root = from[root];
  const vertices = [...inside].filter((v) => far[v] >= end);
  return { ...branch, root, lengthM: top - far[root], vertices };
}

/** What is joined to a tip farther out than a level. */
function ringOut({ start, to }: Surface, far: Float64Array, tip: number, level: number): number[] {
  const seen = new Set([tip]);
  const out = [tip];
  for (let i = 0; i < out.length; i++)
    for (let e = start[out[i]]; e < start[out[i] + 1]; e++) {
      if (seen.has(to[e]) || far[to[e]] <= level) continue;
      seen.add(to[e]);
      out.push(to[e]);
    }
  return out;
}

function isLong(surface: Surface, b: { vertices: number[]; lengthM: number }): boolean {
  const own = new Set(b.vertices);
  const half = areaOf(surface, (v) => own.has(v)) / (2 * Math.PI * Math.max(b.lengthM, 1e-9));
  return b.lengthM > LONG * half;
}

/** Middle of what belongs to no limb, or of everything. */
export function bodyMiddle(surface: Surface, home: Int32Array): Vec {
  let n = 0;
  const sum: Vec = [0, 0, 0];
  const any = home.some((h) => h < 0);
  for (let v = 0; v < home.length; v++) {
    if (any && home[v] >= 0) continue;
    n++;
    for (let k = 0; k < 3; k++) sum[k] += surface.positions[v * 3 + k];
  }
  return sum.map((x) => x / Math.max(1, n)) as Vec;
}
