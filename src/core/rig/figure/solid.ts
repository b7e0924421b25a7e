/** What a shape encloses, as a graph of voxels: ways lead through the body, whatever its surface is like, and in any pose. */
import type { Vec } from '../middle';
import type { Surface } from '../surface';
import { type Near, neighbours, spread, type Voxels, voxelsOf } from '../weights/voxel';

export interface Solid {
  voxels: Voxels;
  /** Cell → voxel. */
  cells: Uint32Array;
  near: Near;
  /** Share of all filled voxels that hang together. */
  joined: number;
}

/** Gaps of so many voxels between pieces are bridged: a hand that only touches its sleeve belongs to the arm. */
const BRIDGE = 4;

/** The largest body of voxels that hang together, over small gaps too. @param within those below the surface alone */
export function solidOf(surface: Surface, grid: number, within = false): Solid {
  const voxels = voxelsOf(surface, grid, within);
  const { solid, n, size } = voxels;
  const number = new Int32Array(solid.length).fill(-1);
  const cells: number[] = [];
  for (let i = 0; i < solid.length; i++)
    if (solid[i]) {
      number[i] = cells.length;
      cells.push(i);
    }
  const own = neighbours(cells, number, n, size);
  const apart = hanging(own);
  if (apart.sizes.length <= 1) return { voxels, cells: Uint32Array.from(cells), near: own, joined: 1 };
  const bridges = bridged(voxels, cells, apart);
  const near = withBridges(own, bridges);
  const { label, sizes } = hanging(near);
  const most = sizes.indexOf(Math.max(...sizes));
  if (sizes.length <= 1) return { voxels, cells: Uint32Array.from(cells), near, joined: 1 };
  const kept = cells.filter((_, c) => label[c] === most);
  number.fill(-1);
  for (const [k, i] of kept.entries()) number[i] = k;
  const again = bridges.flatMap(([a, b, d]): [number, number, number][] =>
    label[a] === most && label[b] === most ? [[number[cells[a]], number[cells[b]], d]] : [],
  );
  return {
    voxels,
    cells: Uint32Array.from(kept),
    near: withBridges(neighbours(kept, number, n, size), again),
    joined: kept.length / cells.length,
  };
}

interface Hanging {
  /** Cell → which of the bodies. */
  label: Int32Array;
  /** Cells a body. */
  sizes: number[];
}

/** Bodies of cells that hang together. */
function hanging(near: Near): Hanging {
  const label = new Int32Array(near.start.length - 1).fill(-1);
  const sizes: number[] = [];
  const list = new Int32Array(label.length);
  for (let c = 0; c < label.length; c++) {
    if (label[c] >= 0) continue;
    let count = 1;
    list[0] = c;
    label[c] = sizes.length;
    for (let i = 0; i < count; i++)
      for (let e = near.start[list[i]]; e < near.start[list[i] + 1]; e++)
        if (label[near.to[e]] < 0) {
          label[near.to[e]] = sizes.length;
          list[count++] = near.to[e];
        }
    sizes.push(count);
  }
  return { label, sizes };
}

/** Pairs of cells of bodies that do not touch, where they are nearest: one bridge a pair of bodies, as a spanning forest. */
function bridged({ solid, n }: Voxels, cells: readonly number[], { label, sizes }: Hanging): [number, number, number][] {
  const [nx, ny, nz] = n;
  const from = new Int32Array(solid.length).fill(-1);
  const depth = new Uint8Array(solid.length);
  const top = Int32Array.from(sizes, (_, body) => body);
  const find = (cell: number) => {
    let body = label[cell];
    while (top[body] !== body) {
      top[body] = top[top[body]];
      body = top[body];
    }
    return body;
  };
  for (const [c, i] of cells.entries()) from[i] = c;
  const out: [number, number, number][] = [];
  let front = [...cells];
  for (let d = 1; d <= BRIDGE && front.length > 0; d++) {
    const next: number[] = [];
    for (const i of front) {
      const [x, y, z] = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))];
      for (let dz = z > 0 ? -1 : 0; dz <= (z + 1 < nz ? 1 : 0); dz++)
        for (let dy = y > 0 ? -1 : 0; dy <= (y + 1 < ny ? 1 : 0); dy++)
          for (let dx = x > 0 ? -1 : 0; dx <= (x + 1 < nx ? 1 : 0); dx++) {
            const j = i + dx + nx * (dy + ny * dz);
            if (from[j] < 0) {
              from[j] = from[i];
              depth[j] = d;
              next.push(j);
            } else {
              const [a, b] = [find(from[j]), find(from[i])];
              if (a === b) continue;
              out.push([from[i], from[j], depth[i] + depth[j] + 1]);
              top[b] = a;
            }
          }
    }
    front = next;
  }
  return out;
}

function withBridges(near: Near, bridges: readonly [number, number, number][]): Near {
  if (bridges.length === 0) return near;
  const extra = new Map<number, number[]>();
  for (const [a, b] of bridges)
    for (const [p, q] of [
      [a, b],
      [b, a],
    ])
      extra.set(p, [...(extra.get(p) ?? []), q]);
  const count = near.start.length - 1;
  const start = new Uint32Array(count + 1);
  const to: number[] = [];
  const kind: number[] = [];
  for (let c = 0; c < count; c++) {
    for (let e = near.start[c]; e < near.start[c + 1]; e++) {
      to.push(near.to[e]);
      kind.push(near.kind[e]);
    }
    for (const q of extra.get(c) ?? []) {
      to.push(q);
      kind.push(2);
    }
    start[c + 1] = to.length;
  }
  return { start, to: Uint32Array.from(to), kind: Uint8Array.from(kind), size: near.size };
}

/** Middle of a cell, metres of the model. */
export function cellAt({ voxels: { n, size, least }, cells }: Solid, cell: number): Vec {
  const i = cells[cell];
  return [
    least[0] + ((i % n[0]) + 0.5) * size,
    least[1] + ((Math.floor(i / n[0]) % n[1]) + 0.5) * size,
    least[2] + (Math.floor(i / (n[0] * n[1])) + 0.5) * size,
  ];
}

/** Metres through the solid from a cell to every other. */
export function throughFrom(solid: Solid, cell: number): Float64Array {
  const far = new Float64Array(solid.cells.length);
  spread(new Map([[cell, 0]]), solid.near, far);
  return far;
}

/** Cell nearest to a place. */
export function nearestCell(solid: Solid, p: Vec): number {
  let [best, least] = [-1, Infinity];
  for (let c = 0; c < solid.cells.length; c++) {
    const q = cellAt(solid, c);
    const d = (q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2 + (q[2] - p[2]) ** 2;
    if (d < least) [best, least] = [c, d];
  }
  return best;
}
