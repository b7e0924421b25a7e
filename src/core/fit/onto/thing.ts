/** A thing that is to be worn, as one surface of its own size: asked for its nearest places, by rays, and by points spread evenly over it. */
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { type HitPointInfo, MeshBVH } from 'three-mesh-bvh';
import { seededRandom } from '../../math';
import { eigenSymmetric } from '../../math/similarity';
import { type Model, posedPrimitives, restPose } from '../../model';
import type { SurfaceSample } from '../../model/lie/sample';
import { Nearby } from './nearby';

/** What is drawn of it: triangles, and whether they can be looked through. */
export interface ThingShape {
  /** Metres of the file, three numbers a vertex. */
  positions: Float32Array;
  triangles: ArrayLike<number>;
  glass: boolean;
}

/** What a model draws at rest. */
export const shapesOfModel = (model: Model): ThingShape[] =>
  posedPrimitives(model, restPose(model)).flatMap((p) => {
    const { triangles, alpha } = model.meshes[p.mesh].primitives[p.primitive];
    const step = p.positions.length / p.instances;
    return Array.from({ length: p.instances }, (_, i) => ({
      positions: p.positions.subarray(i * step, (i + 1) * step),
      triangles,
      glass: alpha < 1,
    }));
  });

/** Points spread over it; and over it where all of it is to be covered. */
const POINTS = 3_000;
const MANY_POINTS = 60_000;
/** Corners nearer to each other are told by one of them, of the thing's size. */
const APART = 0.002;

export class Thing implements SurfaceSample {
  /** Middle of its surface in the file, metres, and what is 1 here: twice the mean distance from there. */
  readonly middleM: Vector3;
  readonly sizeM: number;
  readonly count: number;
  /** Spread evenly by area; as all places here, about the middle and by the size. */
  readonly points: Float32Array;
  readonly glass: Uint8Array;
  /** Corners of its triangles, one of those that lie together. */
  readonly corners: Float32Array;
  /** Of its surface about the middle: second moments over its area. */
  readonly moments: readonly (readonly number[])[];
  /** Their eigenvectors, the widest first, and how wide. */
  readonly axes: readonly [Vector3, Vector3, Vector3];
  readonly spreads: readonly number[];
  readonly triangles: number;
  /** A rough and fast way to ask how far places are from it. */
  readonly near: () => Nearby;
  private readonly tree: MeshBVH;
  private readonly hit = { point: new Vector3() } as HitPointInfo;
  private readonly ray = new Ray();

  /** @returns null: no triangle of it has an area */
  static of(shapes: readonly ThingShape[]): Thing | null {
    const drawn = gather(shapes);
    return drawn && new Thing(drawn);
  }

  private constructor({ corners, areas, glass, middle, size }: Gathered) {
    this.middleM = middle;
    this.sizeM = size;
    this.triangles = areas.length;
    const own = Float32Array.from(corners, (x, i) => (x - middle.getComponent(i % 3)) / size);
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(own, 3));
    this.tree = new MeshBVH(g, { indirect: true });
    this.corners = apart(own);
    this.moments = covariance(own, areas);
    const { values, vectors } = eigenSymmetric(this.moments);
    const at = (k: number) => new Vector3(vectors[0][k], vectors[1][k], vectors[2][k]);
    this.axes = [at(0), at(1), at(2)];
    this.spreads = values.map((x) => Math.sqrt(Math.max(0, x)));
    const spread = spreadOver(own, areas, glass, POINTS);
    this.points = spread.points;
    this.glass = spread.glass;
    this.count = POINTS;
    this.near = () => new Nearby(spreadOver(own, areas, glass, MANY_POINTS).points);
  }

  /** How far a place is from the surface; as far as is asked where it is further. */
  away(p: Vector3, withinSize: number): number {
    return this.tree.closestPointToPoint(p, this.hit, 0, withinSize)?.distance ?? withinSize;
  }

  /** The place of the surface nearest to one. */
  nearest(p: Vector3, out: Vector3): Vector3 {
    return this.tree.closestPointToPoint(p, this.hit) ? out.copy(this.hit.point) : out.copy(p);
  }

  /** How far a ray goes until it meets the surface; Infinity: it meets nothing. @param along unit */
  meets(from: Vector3, along: Vector3): number {
    this.ray.origin.copy(from);
    this.ray.direction.copy(along);
    return this.tree.raycastFirst(this.ray, DoubleSide)?.distance ?? Infinity;
  }
}

interface Gathered {
  /** Nine numbers a triangle, metres. */
  corners: Float64Array;
  areas: Float64Array;
  glass: Uint8Array;
  middle: Vector3;
  size: number;
}

function gather(shapes: readonly ThingShape[]): Gathered | null {
  let most = 0;
  for (const s of shapes) most += s.triangles.length / 3;
  const corners = new Float64Array(most * 9);
  const areas = new Float64Array(most);
  const glass = new Uint8Array(most);
  const [a, b, c, cross] = [new Vector3(), new Vector3(), new Vector3(), new Vector3()];
  const middle = new Vector3();
  let [n, total] = [0, 0];
  for (const { positions: p, triangles, glass: clear } of shapes)
    for (let t = 0; t + 2 < triangles.length; t += 3) {
      a.fromArray(p, triangles[t] * 3);
      b.fromArray(p, triangles[t + 1] * 3);
      c.fromArray(p, triangles[t + 2] * 3);
      const area = cross.subVectors(b, a).cross(edge.subVectors(c, a)).length() / 2;
      if (!(area > 0) || !Number.isFinite(area)) continue;
      for (const [k, v] of [a, b, c].entries()) v.toArray(corners, n * 9 + k * 3);
      areas[n] = area;
      glass[n++] = clear ? 1 : 0;
      total += area;
      middle.addScaledVector(a.add(b).add(c), area / 3);
    }
  if (n === 0 || !(total > 0)) return null;
  middle.divideScalar(total);
  let size = 0;
  for (let t = 0; t < n; t++) {
    a.set(0, 0, 0);
    for (let k = 0; k < 3; k++) a.add(b.fromArray(corners, t * 9 + k * 3));
    size += (areas[t] / total) * 2 * a.divideScalar(3).distanceTo(middle);
  }
  // one triangle, or all of them at one place
  if (!(size > 0)) size = Math.sqrt(total);
  return { corners: corners.subarray(0, n * 9), areas: areas.subarray(0, n), glass: glass.subarray(0, n), middle, size };
}
const edge = /* @__PURE__ */ new Vector3();

/** Second moments of a surface about 0, over its area; exact. */
function covariance(p: Float32Array, areas: Float64Array): number[][] {
  const out = [0, 1, 2].map(() => [0, 0, 0]);
  let total = 0;
  for (let t = 0; t < areas.length; t++) {
    total += areas[t];
    for (let i = 0; i < 3; i++)
      for (let j = i; j < 3; j++) {
        const o = t * 9;
        const [x, y, z] = [p[o + i], p[o + 3 + i], p[o + 6 + i]];
        const [u, v, w] = [p[o + j], p[o + 3 + j], p[o + 6 + j]];
        out[i][j] += (areas[t] / 12) * (x * u + y * v + z * w + (x + y + z) * (u + v + w));
      }
  }
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) out[i][j] = (j < i ? out[j][i] * total : out[i][j]) / total;
  return out;
}

/** One point in each of as many equal areas, in the order of the triangles: the same however the thing is turned and sized. */
function spreadOver(p: Float32Array, areas: Float64Array, clear: Uint8Array, count: number): { points: Float32Array; glass: Uint8Array } {
  const random = seededRandom(7);
  const points = new Float32Array(count * 3);
  const glass = new Uint8Array(count);
  let total = 0;
  for (const a of areas) total += a;
  let [t, upTo] = [0, areas[0]];
  for (let i = 0; i < count; i++) {
    const at = ((i + random()) / count) * total;
    while (t < areas.length - 1 && upTo < at) upTo += areas[++t];
    let [u, v] = [random(), random()];
    if (u + v > 1) [u, v] = [1 - u, 1 - v];
    for (let k = 0; k < 3; k++) points[i * 3 + k] = p[t * 9 + k] * (1 - u - v) + p[t * 9 + 3 + k] * u + p[t * 9 + 6 + k] * v;
    glass[i] = clear[t];
  }
  return { points, glass };
}

/** Of places in a common cell of a grid the first. */
function apart(p: Float32Array): Float32Array {
  const seen = new Set<number>();
  const kept: number[] = [];
  const cell = (x: number) => Math.floor(x / APART) + 65_536;
  for (let i = 0; i < p.length; i += 3) {
    const key = (cell(p[i]) * 131_072 + cell(p[i + 1])) * 131_072 + cell(p[i + 2]);
    if (seen.has(key)) continue;
    seen.add(key);
    kept.push(p[i], p[i + 1], p[i + 2]);
  }
  return Float32Array.from(kept);
}
