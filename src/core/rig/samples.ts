/** Shapes for tests of chains: bodies of tubes as one surface, and two strands with their weights. */
import type { Held } from './held';
import type { Vec } from './middle';
import { rigChains } from './plan';
import { tube } from './shapes';
import { type Surface, surfaceFrom } from './surface';

/** Half width of an urchin's tubes, metres. */
export const R = 0.012;
/** A ball with so many tubes out of it, made one surface by marching over their union. */
export function urchin(arms: readonly Vec[], lengthM: number, cells = 90): Surface {
  return marched(
    (x, y, z) =>
      Math.min(
        Math.hypot(x, y, z) - 0.03,
        ...arms.map((a) => rod([0, 0, 0], [a[0] * lengthM, a[1] * lengthM, a[2] * lengthM], R)(x, y, z)),
      ),
    lengthM + 0.05,
    cells,
  );
}

type Field = (x: number, y: number, z: number) => number;
/** Distance to a tube with round ends, metres. */
export const rod =
  (a: Vec, b: Vec, r: number): Field =>
  (x, y, z) => {
    const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const t = Math.min(1, Math.max(0, ((x - a[0]) * u[0] + (y - a[1]) * u[1] + (z - a[2]) * u[2]) / (u[0] ** 2 + u[1] ** 2 + u[2] ** 2)));
    return Math.hypot(x - a[0] - t * u[0], y - a[1] - t * u[1], z - a[2] - t * u[2]) - r;
  };

/** The surface where a field is nothing, within a cube about the origin. */
export function marched(field: Field, reach: number, cells: number): Surface {
  const size = (2 * reach) / cells;
  // surface nets: a vertex in each cell the level runs through, a square across each edge it crosses
  const n = cells + 1;
  const value = new Float64Array(n ** 3);
  const at = (i: number, j: number, k: number) => i + n * (j + n * k);
  for (let k = 0; k < n; k++)
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) value[at(i, j, k)] = field(i * size - reach, j * size - reach, k * size - reach);
  const vertex = new Map<number, number>();
  const positions: number[] = [];
  const CORNERS = [0, 1, 2, 3, 4, 5, 6, 7].map((c) => [c & 1, (c >> 1) & 1, c >> 2]);
  for (let k = 0; k < cells; k++)
    for (let j = 0; j < cells; j++)
      for (let i = 0; i < cells; i++) {
        const v = CORNERS.map(([a, b, c]) => value[at(i + a, j + b, k + c)]);
        if (v.every((x) => x > 0) || v.every((x) => x <= 0)) continue;
        let [count, x, y, z] = [0, 0, 0, 0];
        for (let p = 0; p < 8; p++)
          for (let q = p + 1; q < 8; q++) {
            const [d, e] = [CORNERS[p], CORNERS[q]];
            if (Math.abs(d[0] - e[0]) + Math.abs(d[1] - e[1]) + Math.abs(d[2] - e[2]) !== 1 || v[p] > 0 === v[q] > 0) continue;
            const t = v[p] / (v[p] - v[q]);
            x += d[0] + t * (e[0] - d[0]);
            y += d[1] + t * (e[1] - d[1]);
            z += d[2] + t * (e[2] - d[2]);
            count++;
          }
        vertex.set(at(i, j, k), positions.length / 3);
        positions.push((i + x / count) * size - reach, (j + y / count) * size - reach, (k + z / count) * size - reach);
      }
  const triangles: number[] = [];
  for (let k = 1; k < cells; k++)
    for (let j = 1; j < cells; j++)
      for (let i = 1; i < cells; i++)
        for (const [d, p, q] of [
          [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
          ],
          [
            [0, 1, 0],
            [0, 0, 1],
            [1, 0, 0],
          ],
          [
            [0, 0, 1],
            [1, 0, 0],
            [0, 1, 0],
          ],
        ]) {
          const [inside, next] = [value[at(i, j, k)] <= 0, value[at(i + d[0], j + d[1], k + d[2])] <= 0];
          if (inside === next) continue;
          const c = [
            [0, 0],
            [1, 0],
            [1, 1],
            [0, 1],
          ].map(([s, t]) => vertex.get(at(i - s * p[0] - t * q[0], j - s * p[1] - t * q[1], k - s * p[2] - t * q[2])) as number);
          const order = inside ? [0, 3, 2, 1] : [0, 1, 2, 3];
          const [a, b, e, f] = order.map((o) => c[o]);
          triangles.push(a, f, e, a, e, b);
        }
  return surfaceFrom(Float32Array.from(positions), Uint32Array.from(triangles));
}

/** Foot and top of a mast of 30 cm, and where a pennant of 14 cm leaves it at two thirds of its height and ends, metres. */
export const MAST = { foot: [0, -0.15, 0] as Vec, top: [0, 0.15, 0] as Vec, fork: [0, 0.05, 0] as Vec, end: [0.14, 0.05, 0] as Vec };
/** The mast with its pennant, one surface. */
export function masthead(): Surface {
  const [a, b] = [rod(MAST.foot, MAST.top, 0.015), rod(MAST.fork, MAST.end, 0.01)];
  return marched((x, y, z) => Math.min(a(x, y, z), b(x, y, z)), 0.18, 56);
}

/** Where a manikin's tail leaves it and ends, metres. */
export const TAIL = { root: [0, 0.95, -0.1] as Vec, tip: [0, 0.75, -0.75] as Vec };
/** A manikin of 1.7 m in rods, arms half out, one surface: what a figure is found in quickly. Metres, feet on the ground. */
export function manikin(cells = 72, tailed = false): Surface {
  const rods: Field[] = [
    ...(tailed ? [rod(TAIL.root, TAIL.tip, 0.04)] : []),
    rod([0, 0.95, 0], [0, 1.32, 0], 0.12),
    rod([0, 1.4, 0], [0, 1.5, 0], 0.05),
    rod([0, 1.57, 0.01], [0, 1.6, 0.01], 0.095),
  ];
  for (const s of [1, -1])
    rods.push(
      rod([s * 0.1, 1.36, 0], [s * 0.19, 1.38, 0], 0.06),
      rod([s * 0.19, 1.38, 0], [s * 0.42, 1.2, 0], 0.045),
      rod([s * 0.42, 1.2, 0], [s * 0.62, 1.02, 0.02], 0.036),
      rod([s * 0.62, 1.02, 0.02], [s * 0.7, 0.95, 0.03], 0.04),
      rod([s * 0.09, 0.9, 0], [s * 0.1, 0.5, 0.01], 0.075),
      rod([s * 0.1, 0.5, 0.01], [s * 0.1, 0.08, -0.02], 0.05),
      rod([s * 0.1, 0.045, -0.02], [s * 0.11, 0.04, 0.13], 0.045),
    );
  const surface = marched((x, y, z) => Math.min(...rods.map((r) => r(x, y + 0.85, z))), 0.9, cells);
  for (let i = 1; i < surface.positions.length; i += 3) surface.positions[i] += 0.85;
  return surface;
}

const known = new Map<string, Held>();
/**
 * Two upright tubes beside one another, each the mirror image of the other; two bones in each. Shares are the caller's own.
 * @param gapM from each to the middle
 */
export function strands(rings = 40, round = 10, gapM = 0.002): Held {
  const key = `${rings} ${round} ${gapM}`;
  const made = known.get(key) ?? makeStrands(rings, round, 0.01 + gapM);
  known.set(key, made);
  return { ...made, binding: { bones: made.binding.bones.slice(), shares: made.binding.shares.slice() } };
}
function makeStrands(rings: number, round: number, aside: number): Held {
  const one = tube(
    (t) => [-aside, 0.2 * t, 0],
    () => 0.01,
    rings,
    round,
  );
  const image = {
    positions: one.positions.map((x, i) => (i % 3 === 0 ? -x : x)),
    triangles: one.triangles.map((_, i) => one.triangles[i - (i % 3) + [0, 2, 1][i % 3]]),
  };
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const p of [one, image]) {
    for (const i of p.triangles) triangles.push(i + positions.length / 3);
    for (const x of p.positions) positions.push(x);
  }
  const surface = surfaceFrom(Float32Array.from(positions), Uint32Array.from(triangles));
  const asked = [-aside, aside].map((x, i) => ({
    root: [x, 0, 0] as Vec,
    tip: [x, 0.2, 0] as Vec,
    bones: 2,
    name: i ? 'strand.L' : 'strand.R',
  }));
  const { bones, binding } = rigChains(surface, asked, 'voxel');
  return { surface, bones, joints: bones.map((_, i) => i), binding };
}
