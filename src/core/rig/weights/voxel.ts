/**
 * Geodesic voxel binding (Dionne & de Lasa, "Geodesic voxel binding for production character meshes", SCA 2013): the shape and what it
 * encloses are filled with voxels, distances run from each bone through them, and weights fall with the distance. It does not ask that the
 * shape be closed, whole or free of crossings.
 */
import type { Bone, Home } from '../bone';
import type { Vec } from '../middle';
import type { Surface } from '../surface';

export const GRID = 128;
/** How sharply weights fall: between 1/d (0) and 1/d² (1), then squared. (The paper's α.) */
const FALL = 0.5;

export interface Voxels {
  n: [number, number, number];
  size: number;
  least: [number, number, number];
  /** 1 where the surface runs or what it encloses. */
  solid: Uint8Array;
}

/**
 * Voxels of the surface and of what cannot be reached from outside; a rim of one stays empty.
 * @param within what cannot be reached alone: parts that touch, or nearly do, stay apart
 */
export function voxelsOf(surface: Surface, grid = GRID, within = false): Voxels {
  const { positions, triangles } = surface;
  const least: [number, number, number] = [Infinity, Infinity, Infinity];
  const most = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    least[i % 3] = Math.min(least[i % 3], positions[i]);
    most[i % 3] = Math.max(most[i % 3], positions[i]);
  }
  const size = Math.max(most[0] - least[0], most[1] - least[1], most[2] - least[2], 1e-6) / (grid - 4);
  for (let k = 0; k < 3; k++) least[k] -= 2 * size;
  const n = least.map((l, k) => Math.ceil((most[k] - l) / size) + 2) as [number, number, number];
  const [nx, ny, nz] = n;
  const solid = new Uint8Array(nx * ny * nz);
  const mark = (x: number, y: number, z: number) => {
    solid[Math.floor((x - least[0]) / size) + nx * (Math.floor((y - least[1]) / size) + ny * Math.floor((z - least[2]) / size))] = 1;
  };
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t] * 3, triangles[t + 1] * 3, triangles[t + 2] * 3];
    const edge = (p: number, q: number) =>
      Math.hypot(positions[p] - positions[q], positions[p + 1] - positions[q + 1], positions[p + 2] - positions[q + 2]);
    // points nearer than half a voxel leave no hole a way of faces leads through
    const steps = Math.max(1, Math.ceil((Math.max(edge(a, b), edge(b, c), edge(c, a)) / size) * 2));
    for (let i = 0; i <= steps; i++)
      for (let j = 0; i + j <= steps; j++) {
        const [u, v] = [i / steps, j / steps];
        const w = 1 - u - v;
        mark(
          positions[a] * u + positions[b] * v + positions[c] * w,
          positions[a + 1] * u + positions[b + 1] * v + positions[c + 1] * w,
          positions[a + 2] * u + positions[b + 2] * v + positions[c + 2] * w,
        );
      }
  }
  const open = new Uint8Array(solid.length);
  const queue = new Uint32Array(solid.length);
  let [head, tail] = [0, 1];
  open[0] = 1;
  const steps = [1, -1, nx, -nx, nx * ny, -nx * ny];
  while (head < tail) {
    const i = queue[head++];
    const x = i % nx;
    const y = Math.floor(i / nx) % ny;
    const z = Math.floor(i / (nx * ny));
    const can = [x + 1 < nx, x > 0, y + 1 < ny, y > 0, z + 1 < nz, z > 0];
    for (let k = 0; k < 6; k++) {
      const j = i + steps[k];
      if (!can[k] || open[j] || solid[j]) continue;
      open[j] = 1;
      queue[tail++] = j;
    }
  }
  for (let i = 0; i < solid.length; i++) solid[i] = open[i] || (within && solid[i]) ? 0 : 1;
  return { n, size, least, solid };
}

/** Weights of every bone at every vertex; where no way of voxels leads from any bone, the nearest as the crow flies. */
export function voxelWeights(surface: Surface, bones: readonly Bone[], home: Home | null = null, grid = GRID): Float64Array[] {
  const voxels = voxelsOf(surface, grid);
  const { n, size, least, solid } = voxels;
  const [nx, ny] = n;
  const cells: number[] = [];
  const number = new Int32Array(solid.length).fill(-1);
  for (let i = 0; i < solid.length; i++)
    if (solid[i]) {
      number[i] = cells.length;
      cells.push(i);
    }
  const cellAt = (x: number, y: number, z: number) =>
    Math.floor((x - least[0]) / size) + nx * (Math.floor((y - least[1]) / size) + ny * Math.floor((z - least[2]) / size));
  const near = neighbours(cells, number, n, size);
  const vertices = surface.piece.length;
  const at = Uint32Array.from({ length: vertices }, (_, v) =>
    Math.max(0, number[cellAt(surface.positions[v * 3], surface.positions[v * 3 + 1], surface.positions[v * 3 + 2])]),
  );
  const far = new Float64Array(cells.length);
  const weights = bones.map((bone) => {
    // the root is wherever no limb is
    const whole = home && bone.limb < 0 ? new Map([...at].flatMap((c, v) => (home[v] < 0 ? [[c, 0] as const] : []))) : null;
    spread(whole && whole.size > 0 ? whole : seedsOf(bone, voxels, number, cells), near, far);
    const w = new Float64Array(vertices);
    for (let v = 0; v < vertices; v++) {
      const d = far[at[v]] / size;
      w[v] = Number.isFinite(d) ? 1 / ((1 - FALL) * Math.max(d, 0.5) + FALL * Math.max(d, 0.5) ** 2) ** 2 : 0;
    }
    return w;
  });
  return weights;
}

/** Points from one place to another, no farther apart than asked. */
function along(from: Vec, to: Vec, apart: number): number[][] {
  const steps = Math.max(1, Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) / apart));
  return Array.from({ length: steps + 1 }, (_, i) => [0, 1, 2].map((k) => from[k] + ((to[k] - from[k]) * i) / steps));
}

/** Voxels a bone runs through; where it leaves the shape the nearest solid one of each of its points. */
function seedsOf(bone: Bone, { n, size, least }: Voxels, number: Int32Array, cells: readonly number[]): Map<number, number> {
  const seeds = new Map<number, number>();
  let outside: number[] | null = null;
  for (const p of [bone.tail, ...(bone.leads ?? [])].flatMap((end) => along(bone.head, end, size / 2))) {
    const c = p.map((x, k) => Math.floor((x - least[k]) / size));
    const inside = c.every((x, k) => x >= 0 && x < n[k]);
    const own = inside ? number[c[0] + n[0] * (c[1] + n[1] * c[2])] : -1;
    if (own >= 0) seeds.set(own, 0);
    else outside = p;
  }
  if (seeds.size === 0 && outside) {
    let [best, d2] = [-1, Infinity];
    for (const [k, i] of cells.entries()) {
      const x = (i % n[0]) - (outside[0] - least[0]) / size;
      const y = (Math.floor(i / n[0]) % n[1]) - (outside[1] - least[1]) / size;
      const z = Math.floor(i / (n[0] * n[1])) - (outside[2] - least[2]) / size;
      const d = x * x + y * y + z * z;
      if (d < d2) [best, d2] = [k, d];
    }
    if (best >= 0) seeds.set(best, Math.sqrt(d2) * size);
  }
  return seeds;
}

export interface Near {
  start: Uint32Array;
  to: Uint32Array;
  /** 0, 1 or 2: over a face, an edge, a corner. */
  kind: Uint8Array;
  size: number;
}

/** Cells of the 3 × 3 × 3 around each, those over a face first, then an edge, then a corner. */
export function neighbours(cells: ArrayLike<number>, number: Int32Array, n: readonly [number, number, number], size: number): Near {
  const [nx, ny, nz] = n;
  const start = new Uint32Array(cells.length + 1);
  const to = new Uint32Array(cells.length * AROUND.length);
  const kind = new Uint8Array(to.length);
  let e = 0;
  for (let k = 0; k < cells.length; k++) {
    const i = cells[k];
    const [x, y, z] = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))];
    const rim = x === 0 || x === nx - 1 || y === 0 || y === ny - 1 || z === 0 || z === nz - 1;
    for (const [dx, dy, dz, away] of AROUND) {
      if (rim && (x + dx < 0 || x + dx >= nx || y + dy < 0 || y + dy >= ny || z + dz < 0 || z + dz >= nz)) continue;
      const j = number[i + dx + nx * (dy + ny * dz)];
      if (j < 0) continue;
      to[e] = j;
      kind[e++] = away - 1;
    }
    start[k + 1] = e;
  }
  return { start, to: to.slice(0, e), kind: kind.slice(0, e), size };
}

const AROUND = [-1, 0, 1]
  .flatMap((dz) => [-1, 0, 1].flatMap((dy) => [-1, 0, 1].map((dx) => [dx, dy, dz, Math.abs(dx) + Math.abs(dy) + Math.abs(dz)] as const)))
  .filter(([, , , away]) => away > 0)
  .sort((a, b) => a[3] - b[3]);

/** Buckets a voxel. */
const FINE = 10;
/** So many buckets lie between the nearest cell that waits and the farthest. */
const RING = Math.ceil(Math.sqrt(3) * FINE) + 2;

/**
 * Distances through voxels by buckets of a tenth of a voxel: near enough, and linear. (R. Dial, CACM 12, 1969.) Seeds begin within a
 * voxel of one another.
 */
export function spread(seeds: ReadonlyMap<number, number>, { start, to, kind, size }: Near, far: Float64Array): void {
  far.fill(Infinity);
  const lengths = [size, size * Math.SQRT2, size * Math.sqrt(3)];
  const perBucket = FINE / size;
  const rings = Array.from({ length: RING }, () => new Int32Array(256));
  const counts = new Int32Array(RING);
  let waiting = 0;
  const put = (cell: number, bucket: number) => {
    const r = bucket % RING;
    const at = counts[r]++;
    if (at === rings[r].length) {
      const wider = new Int32Array(at * 2);
      wider.set(rings[r]);
      rings[r] = wider;
    }
    rings[r][at] = cell;
    waiting++;
  };
  let b = Infinity;
  for (const [cell, d] of seeds) {
    far[cell] = d;
    b = Math.min(b, Math.floor(d * perBucket));
  }
  for (const [cell, d] of seeds) put(cell, Math.floor(d * perBucket));
  for (; waiting > 0; b++) {
    const r = b % RING;
    for (let i = 0; i < counts[r]; i++) {
      const cell = rings[r][i];
      const d = far[cell];
      // it was reached by a shorter way meanwhile
      if (Math.floor(d * perBucket) !== b) continue;
      for (let e = start[cell]; e < start[cell + 1]; e++) {
        const other = to[e];
        const next = d + lengths[kind[e]];
        if (next >= far[other]) continue;
        far[other] = next;
        put(other, Math.floor(next * perBucket));
      }
    }
    waiting -= counts[r];
    counts[r] = 0;
  }
}
