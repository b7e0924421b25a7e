/**
 * How far two surfaces lie apart: sampled two-sided distance and deviation of normals.
 * (Cignoni, Rocchini and Scopigno, Metro: measuring error on simplified surfaces, 1998; Aspert, Santa-Cruz and Ebrahimi,
 * MESH: measuring errors between surfaces using the Hausdorff distance, 2002.)
 */
import { Vector3 } from 'three';
import { seededRandom } from '../../math';
import { triangleArea } from '../../model/lie/sample';
import { NearestTree, nearest } from './nearest';
import type { Shape } from './shape';

export interface Samples {
  count: number;
  /** Metres, three each. */
  points: Float32Array;
  /** Unit, three each: as shaded. */
  normals: Float32Array;
}

/** A surface one can ask for its nearest point. */
export interface Surface {
  shape: Shape;
  tree: NearestTree;
}

/** null where there is no surface. */
export function surfaceOf(shape: Shape): Surface | null {
  const tree = new NearestTree(shape.positions, shape.triangles);
  return tree.isEmpty ? null : { shape, tree };
}

const _a = /* @__PURE__ */ new Vector3();
const _b = /* @__PURE__ */ new Vector3();
const _c = /* @__PURE__ */ new Vector3();

/** The triangle's own normal; zero for an empty one. */
export function faceNormal(p: Float32Array, a: number, b: number, c: number, out: Vector3): Vector3 {
  _a.fromArray(p, a * 3);
  _b.fromArray(p, b * 3).sub(_a);
  _c.fromArray(p, c * 3).sub(_a);
  return out.crossVectors(_b, _c).normalize();
}

/** The normal as shaded at a point with these weights: the vertices', the triangle's own where they have none. */
export function shadedNormal(shape: Shape, a: number, b: number, c: number, u: number, v: number, w: number, out: Vector3): Vector3 {
  const n = shape.normals;
  out.set(
    n[a * 3] * u + n[b * 3] * v + n[c * 3] * w,
    n[a * 3 + 1] * u + n[b * 3 + 1] * v + n[c * 3 + 1] * w,
    n[a * 3 + 2] * u + n[b * 3 + 2] * v + n[c * 3 + 2] * w,
  );
  return out.lengthSq() > 1e-12 ? out.normalize() : faceNormal(shape.positions, a, b, c, out);
}

/** Steps along each axis of the box in which triangles are put in order: 51 bits in all, which a number holds exactly. */
const ORDER_STEPS = 2 ** 17;

/** Triangles by where they lie, so that samples do not depend on how a file happens to list them. */
function placedOrder({ positions: p, triangles: t }: Shape): Uint32Array {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const sum = (i: number, k: number) => p[t[i * 3] * 3 + k] + p[t[i * 3 + 1] * 3 + k] + p[t[i * 3 + 2] * 3 + k];
  const count = t.length / 3;
  for (let i = 0; i < count; i++)
    for (let k = 0; k < 3; k++) {
      const x = sum(i, k);
      if (x < low[k]) low[k] = x;
      if (x > high[k]) high[k] = x;
    }
  const keys = new Float64Array(count);
  for (let i = 0; i < count; i++)
    for (let k = 0; k < 3; k++) {
      const share = (sum(i, k) - low[k]) / (high[k] - low[k]);
      keys[i] = keys[i] * ORDER_STEPS + (share > 0 ? Math.min(ORDER_STEPS - 1, Math.floor(share * ORDER_STEPS)) : 0);
    }
  return Uint32Array.from({ length: count }, (_, i) => i).sort((i, j) => keys[i] - keys[j] || i - j);
}

/** The corner of a triangle that lies first along the axes: where its weights are counted from. */
function firstCorner({ positions: p, triangles: t }: Shape, triangle: number): number {
  let first = 0;
  for (let c = 1; c < 3; c++) {
    const [a, b] = [t[triangle * 3 + first] * 3, t[triangle * 3 + c] * 3];
    const k = p[a] !== p[b] ? 0 : p[a + 1] !== p[b + 1] ? 1 : 2;
    if (p[b + k] < p[a + k]) first = c;
  }
  return first;
}

/**
 * `count` points by area, one a stratum, seeded; the same for the same surface, in whatever order its triangles are listed.
 * @param asListed for those who need neighbours one after the other and compare nothing: quicker
 */
export function sampleShape(shape: Shape, count: number, seed: number, asListed = false): Samples {
  const { positions: p, triangles: t } = shape;
  const order = asListed ? null : placedOrder(shape);
  const triangleAt = (i: number) => (order ? order[i] : i);
  const sums = new Float64Array(t.length / 3);
  let total = 0;
  for (let i = 0; i < sums.length; i++) {
    const from = triangleAt(i) * 3;
    const area = triangleArea(p, t[from], t[from + 1], t[from + 2]);
    total += Number.isFinite(area) ? area : 0;
    sums[i] = total;
  }
  const n = total > 0 ? count : 0;
  const out: Samples = { count: n, points: new Float32Array(n * 3), normals: new Float32Array(n * 3) };
  const random = seededRandom(seed);
  const normal = new Vector3();
  let at = 0;
  for (let i = 0; i < n; i++) {
    const want = ((i + random()) / n) * total;
    while (at < sums.length - 1 && sums[at] < want) at++;
    let [v, w] = [random(), random()];
    if (v + w > 1) [v, w] = [1 - v, 1 - w];
    const u = 1 - v - w;
    const triangle = triangleAt(at);
    const first = order ? firstCorner(shape, triangle) : 0;
    const a = t[triangle * 3 + first];
    const b = t[triangle * 3 + ((first + 1) % 3)];
    const c = t[triangle * 3 + ((first + 2) % 3)];
    for (let k = 0; k < 3; k++) out.points[i * 3 + k] = u * p[a * 3 + k] + v * p[b * 3 + k] + w * p[c * 3 + k];
    shadedNormal(shape, a, b, c, u, v, w, normal).toArray(out.normals, i * 3);
  }
  return out;
}

export interface Directed {
  meanM: number;
  maxM: number;
  /** Mean angle between the normals at the two points, degrees. */
  normalDeg: number;
}

/** From samples to the nearest points of a surface. Nothing to compare with is infinitely far. */
export function directedDistance(from: Samples, to: Surface | null): Directed {
  if (from.count === 0) return { meanM: 0, maxM: 0, normalDeg: 0 };
  if (!to) return { meanM: Infinity, maxM: Infinity, normalDeg: 180 };
  const at = nearest();
  const n = new Vector3();
  let [sum, most, turned] = [0, 0, 0];
  for (let i = 0; i < from.count; i++) {
    const o = i * 3;
    to.tree.ask(from.points[o], from.points[o + 1], from.points[o + 2], at);
    sum += at.distance;
    if (at.distance > most) most = at.distance;
    shadedNormal(to.shape, ...at.corners, ...at.weights, n);
    const cos = n.x * from.normals[o] + n.y * from.normals[o + 1] + n.z * from.normals[o + 2];
    // a sheet seen from its other side shows the same surface
    turned += Math.acos(Math.min(1, Math.abs(cos)));
  }
  return { meanM: sum / from.count, maxM: most, normalDeg: ((turned / from.count) * 180) / Math.PI };
}

/** Numbers of vertices that triangles use; at most about `most`, evenly thinned. */
export function cornersOf({ positions: p, triangles: t }: Pick<Shape, 'positions' | 'triangles'>, most: number): Uint32Array {
  const used = new Uint8Array(p.length / 3);
  for (const v of t) used[v] = 1;
  const count = used.reduce((n, u) => n + u, 0);
  const every = Math.max(1, Math.ceil(count / most));
  const out: number[] = [];
  let at = 0;
  for (let v = 0; v < used.length; v++) if (used[v] && at++ % every === 0) out.push(v);
  return Uint32Array.from(out);
}

/** Places of vertices, three numbers each. */
export function placesOf(positions: Float32Array, vertices: Uint32Array): Float32Array {
  const out = new Float32Array(vertices.length * 3);
  vertices.forEach((v, i) => {
    for (let k = 0; k < 3; k++) out[i * 3 + k] = positions[v * 3 + k];
  });
  return out;
}

/** The greatest distance from places to a surface, metres: where shapes part most is often at a vertex, which samples miss. */
export function farthest(places: Float32Array, to: Surface | null): number {
  if (places.length === 0) return 0;
  if (!to) return Infinity;
  const at = nearest();
  let most = 0;
  for (let i = 0; i < places.length; i += 3) {
    if (!Number.isFinite(places[i] + places[i + 1] + places[i + 2])) continue;
    most = Math.max(most, to.tree.ask(places[i], places[i + 1], places[i + 2], at).distance);
  }
  return most;
}
