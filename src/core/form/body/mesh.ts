/** The left half of the body's template under construction, and how tubes and patches are laid. Millimetres. */
import { add, lerp, mix, mul, sub, type Vec3 } from '../vec';

export type BodyPart = 'neck' | 'torso' | 'arm' | 'hand' | 'leg' | 'foot';
export interface VertexInfo {
  part: BodyPart;
  row?: number;
  col?: number;
  /** On the midline. */
  mid?: boolean;
  /** Vertex of the head form, which stays where it is. */
  head?: number;
  /** Height that the ring of a girth keeps, mm. */
  flat?: number;
  finger?: number;
  /** Way along the finger from its root joint, mm. */
  s?: number;
  /** Root of a finger, web between two, tip, closing patch. */
  kind?: 'root' | 'web' | 'tip' | 'cap';
}
export type Uv = [number, number];
/** Left, top, right, bottom in the body's tile of texture coordinates. */
export type UvRect = readonly [number, number, number, number];
export interface Face {
  v: number[];
  uv: Uv[];
  part: BodyPart;
}
export interface HalfMesh {
  P: Vec3[];
  info: VertexInfo[];
  faces: Face[];
}

export function addVertex(h: HalfMesh, p: Vec3, o: VertexInfo): number {
  h.info.push(o);
  return h.P.push([...p]) - 1;
}
export const addFace = (h: HalfMesh, v: number[], uv: Uv[], part: BodyPart) => h.faces.push({ v, uv, part });

/** Faces between two rings of as many columns, cut open at column `seam` for texture coordinates. */
export function quadRow(
  h: HalfMesh,
  [a, b]: readonly [number[], number[]],
  [v0, v1]: readonly [number, number],
  rect: UvRect,
  seam: number,
  part: BodyPart,
  skip?: (k: number) => boolean,
): void {
  const n = a.length;
  const across = (k: number) => rect[0] + ((rect[2] - rect[0]) * k) / n;
  const down = (v: number) => rect[1] + (rect[3] - rect[1]) * v;
  for (let q = 0; q < n; q++) {
    const k = (seam + q) % n;
    const l = (k + 1) % n;
    if (skip?.(k)) continue;
    const uv: Uv[] = [
      [across(q), down(v0)],
      [across(q + 1), down(v0)],
      [across(q + 1), down(v1)],
      [across(q), down(v1)],
    ];
    addFace(h, [a[k], a[l], b[l], b[k]], uv, part);
  }
}

/** Rows of a tube behind its first ring; `place(row, column)` says where a vertex goes. */
export function tube(
  h: HalfMesh,
  ring: number[],
  nRows: number,
  place: (r: number, k: number) => Vec3,
  o: VertexInfo,
  rect: UvRect,
  seam: number,
): number[][] {
  const rows = [ring];
  for (let r = 1; r <= nRows; r++) rows[r] = ring.map((_, k) => addVertex(h, place(r, k), { ...o, row: r, col: k }));
  for (let r = 0; r < nRows; r++) quadRow(h, [rows[r], rows[r + 1]], [r / nRows, (r + 1) / nRows], rect, seam, o.part);
  return rows;
}

/** Closes a ring with a grid of nx × ny faces, bulging along `push`; column 0 of the ring is the grid's corner. */
export function capGrid(h: HalfMesh, ring: number[], nx: number, ny: number, o: VertexInfo, rect: UvRect, push: Vec3): void {
  const { P } = h;
  const n = ring.length;
  const g: number[][] = [];
  for (let i = 0; i <= nx; i++) {
    g[i] = [];
    for (let j = 0; j <= ny; j++) {
      let k = -1;
      if (j === 0) k = i;
      else if (i === nx) k = nx + j;
      else if (j === ny) k = nx + ny + (nx - i);
      else if (i === 0) k = 2 * nx + ny + (ny - j);
      g[i][j] = k >= 0 ? ring[k % n] : -1;
    }
  }
  const at = (i: number, j: number) => P[g[i][j]];
  // Coons patch
  for (let i = 1; i < nx; i++)
    for (let j = 1; j < ny; j++) {
      const u = i / nx;
      const v = j / ny;
      let p = add(mix(at(0, j), at(nx, j), u), mix(at(i, 0), at(i, ny), v));
      p = sub(p, mix(mix(at(0, 0), at(nx, 0), u), mix(at(0, ny), at(nx, ny), u), v));
      p = add(p, mul(push, 8 * Math.sin(Math.PI * u) * Math.sin(Math.PI * v)));
      g[i][j] = addVertex(h, p, { ...o, kind: 'cap' });
    }
  for (let i = 0; i < nx; i++)
    for (let j = 0; j < ny; j++) {
      const c = [
        [i, j],
        [i + 1, j],
        [i + 1, j + 1],
        [i, j + 1],
      ];
      addFace(
        h,
        c.map(([a, b]) => g[a][b]),
        c.map(([a, b]): Uv => [lerp(rect[0], rect[2], a / nx), lerp(rect[1], rect[3], b / ny)]),
        o.part,
      );
    }
}
