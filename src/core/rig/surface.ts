/** The shape a rig is raised in: all that a model draws, at rest, as one surface whose corners are joined by place. */
import { type Box, emptyBox } from '../math/box';
import { type Model, type PosedPrimitive, posedPrimitives, restPose } from '../model';
import { Sets } from './sets';

export interface Surface {
  /** Metres of the model, three a vertex. */
  positions: Float64Array;
  /** Three vertices a triangle; those without area are left out. */
  triangles: Uint32Array;
  /** Edges at a vertex: `to` and `lengths` from `start[v]` to `start[v + 1]`. */
  start: Uint32Array;
  to: Uint32Array;
  lengths: Float64Array;
  /** Piece each vertex belongs to, 0 …; what is not joined by triangles is another piece. */
  piece: Uint32Array;
  pieces: number;
  /** What was joined: for each primitive drawn, its vertices' numbers here. */
  sources: { primitive: PosedPrimitive; vertices: Uint32Array }[];
}

/** Corners nearer than this share of the shape's diagonal are one. */
const WELD = 1e-5;

/** @throws nothing; a model without triangles gives an empty surface. */
export function surfaceOf(model: Model): Surface {
  const drawn = posedPrimitives(model, restPose(model));
  const triangles = drawn.map((p) => model.meshes[p.mesh].primitives[p.primitive].triangles);
  return weld(drawn, triangles);
}

/** A surface from bare triangles, for what has no model around it. */
export const surfaceFrom = (positions: Float32Array, triangles: Uint32Array): Surface =>
  weld([{ node: 0, mesh: 0, primitive: 0, positions, instances: 1 }], [triangles]);

function weld(drawn: PosedPrimitive[], lists: Uint32Array[]): Surface {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (const { positions } of drawn)
    for (let i = 0; i < positions.length; i++) {
      const k = i % 3;
      if (positions[i] < box[k]) box[k] = positions[i];
      if (positions[i] > box[3 + k]) box[3 + k] = positions[i];
    }
  const cell = Math.max(Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]) * WELD, 1e-9);
  const known = new Map<string, number>();
  const at: number[] = [];
  const corners: number[] = [];
  const sources = drawn.map((primitive, d) => {
    const { positions, instances } = primitive;
    const vertices = new Uint32Array(positions.length / 3);
    for (let v = 0; v < vertices.length; v++) {
      const key = `${Math.round(positions[v * 3] / cell)},${Math.round(positions[v * 3 + 1] / cell)},${Math.round(positions[v * 3 + 2] / cell)}`;
      let n = known.get(key);
      if (n === undefined) {
        n = known.size;
        known.set(key, n);
        at.push(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]);
      }
      vertices[v] = n;
    }
    const each = vertices.length / Math.max(1, instances);
    for (let copy = 0; copy < instances; copy++)
      for (let t = 0; t + 2 < lists[d].length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => vertices[copy * each + lists[d][t + k]]);
        if (a !== b && b !== c && c !== a) corners.push(a, b, c);
      }
    return { primitive, vertices };
  });
  const positions = Float64Array.from(at);
  const surface = { positions, triangles: Uint32Array.from(corners), sources };
  return { ...surface, ...edges(positions, surface.triangles), ...piecesOf(positions.length / 3, surface.triangles) };
}

/** Straight distance of two vertices, metres. */
export function apart(positions: ArrayLike<number>, a: number, b: number): number {
  return Math.hypot(
    positions[a * 3] - positions[b * 3],
    positions[a * 3 + 1] - positions[b * 3 + 1],
    positions[a * 3 + 2] - positions[b * 3 + 2],
  );
}

function edges(positions: Float64Array, triangles: Uint32Array): Pick<Surface, 'start' | 'to' | 'lengths'> {
  const vertices = positions.length / 3;
  const pairs = new Set<number>();
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [triangles[t + k], triangles[t + ((k + 1) % 3)]];
      pairs.add(Math.min(a, b) * vertices + Math.max(a, b));
    }
  const start = new Uint32Array(vertices + 1);
  for (const p of pairs) {
    start[Math.floor(p / vertices) + 1]++;
    start[(p % vertices) + 1]++;
  }
  for (let v = 0; v < vertices; v++) start[v + 1] += start[v];
  const next = start.slice();
  const to = new Uint32Array(start[vertices]);
  const lengths = new Float64Array(start[vertices]);
  for (const p of pairs) {
    const [a, b] = [Math.floor(p / vertices), p % vertices];
    const length = apart(positions, a, b);
    to[next[a]] = b;
    lengths[next[a]++] = length;
    to[next[b]] = a;
    lengths[next[b]++] = length;
  }
  return { start, to, lengths };
}

function piecesOf(vertices: number, triangles: Uint32Array): Pick<Surface, 'piece' | 'pieces'> {
  const sets = new Sets();
  for (let v = 0; v < vertices; v++) sets.add(v);
  for (let t = 0; t < triangles.length; t += 3) {
    sets.join(triangles[t], triangles[t + 1]);
    sets.join(triangles[t], triangles[t + 2]);
  }
  const numbers = new Map<number, number>();
  const piece = Uint32Array.from({ length: vertices }, (_, v) => {
    const t = sets.top(v);
    if (!numbers.has(t)) numbers.set(t, numbers.size);
    return numbers.get(t) as number;
  });
  return { piece, pieces: numbers.size };
}

/** The vertex nearest to a point, metres; −1 of an empty surface. */
export function nearestVertex(surface: Surface, point: ArrayLike<number>): number {
  let [best, least] = [-1, Infinity];
  const { positions } = surface;
  for (let v = 0; v < surface.piece.length; v++) {
    // under a brush asked many times a moment: squares do
    const [x, y, z] = [positions[v * 3] - point[0], positions[v * 3 + 1] - point[1], positions[v * 3 + 2] - point[2]];
    const d = x * x + y * y + z * z;
    if (d < least) {
      best = v;
      least = d;
    }
  }
  return best;
}

/** Box of each piece, metres. */
export function boxesOf({ positions, piece, pieces }: Surface): Box[] {
  const boxes = Array.from({ length: pieces }, emptyBox);
  for (let v = 0; v < piece.length; v++)
    for (let k = 0; k < 3; k++) {
      const box = boxes[piece[v]];
      box[k] = Math.min(box[k], positions[v * 3 + k]);
      box[3 + k] = Math.max(box[3 + k], positions[v * 3 + k]);
    }
  return boxes;
}
export const diagonal = (b: Box): number => Math.hypot(b[3] - b[0], b[4] - b[1], b[5] - b[2]);
