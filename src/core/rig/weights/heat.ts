/**
 * Bone heat (Baran & Popović, "Automatic rigging and animation of 3D characters", SIGGRAPH 2007, section 4): each bone's weight is the
 * rest of heat that flows over the surface from the vertices it is nearest to,
 *     −Δw + H w = H p,   H = 1/d² where the way to the nearest bone lies inside the shape, else 0,
 * with the cotangent Laplacian and a third of each triangle's area as a vertex's own. Along a straight tube of radius r with two bones this is
 * w″ = (w − p)/r², so w = ½ e^(x/r) before the joint and 1 − ½ e^(−x/r) after it.
 */
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { type Bone, type Home, toBone } from '../bone';
import type { Surface } from '../surface';
import { prepared, type Sparse, solve } from './sparse';

/** Bones as near as this times the nearest share a vertex. */
const AS_NEAR = 1.0001;
/** Of the middling distance: no vertex is taken for nearer to its bone. */
const NEAREST = 0.05;
/** A cotangent is no smaller: very obtuse corners would turn the system over. */
const LEAST_COTANGENT = 1e-4;

export interface HeatWeights {
  /** Of each bone, one number a vertex; rows of all bones sum to 1 where heat came. */
  weights: Float64Array[];
  /** Vertices that no heat reached: their piece sees no bone from inside. */
  cold: Uint8Array;
}

/** Weights of every bone at every vertex of the surface; of a vertex's own limb where homes are said. */
export function heatWeights(surface: Surface, bones: readonly Bone[], home: Home | null = null): HeatWeights {
  const vertices = surface.piece.length;
  const { laplacian, areas } = cotangents(surface);
  const { nearest, far } = nearestBones(surface, bones, home);
  const heat = new Float64Array(vertices);
  const lit = new Uint8Array(surface.pieces);
  for (let v = 0; v < vertices; v++)
    if (nearest[v].length > 0) {
      heat[v] = areas[v] / far[v] ** 2;
      lit[surface.piece[v]] = 1;
    }
  const cold = Uint8Array.from({ length: vertices }, (_, v) => 1 - lit[surface.piece[v]]);
  // a piece without heat has nothing to solve: its rows stand alone
  const diagonal = laplacian.diagonal.map((d, v) => (cold[v] || d + heat[v] === 0 ? 1 : d + heat[v]));
  const values = laplacian.values.slice();
  for (let v = 0; v < vertices; v++) if (cold[v]) for (let e = laplacian.start[v]; e < laplacian.start[v + 1]; e++) values[e] = 0;
  const system = prepared({ ...laplacian, diagonal, values });
  const b = new Float64Array(vertices);
  const weights = bones.map((_, bone) => {
    const w = new Float64Array(vertices);
    let any = false;
    for (let v = 0; v < vertices; v++) {
      const share = nearest[v].includes(bone) ? 1 / nearest[v].length : 0;
      b[v] = heat[v] * share;
      w[v] = share;
      any ||= share > 0;
    }
    if (any) solve(system, b, w);
    return w;
  });
  return { weights, cold };
}

/** −Δ of a surface by cotangents, and the area that is each vertex's own, m². */
export function cotangents(surface: Surface): { laplacian: Sparse; areas: Float64Array } {
  const { positions, triangles, start, to } = surface;
  const areas = new Float64Array(surface.piece.length);
  const values = new Float64Array(to.length);
  const diagonal = new Float64Array(surface.piece.length);
  const entry = (a: number, b: number) => {
    for (let e = start[a]; e < start[a + 1]; e++) if (to[e] === b) return e;
    throw new Error('an edge that is none');
  };
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [triangles[t + k] * 3, triangles[t + ((k + 1) % 3)] * 3, triangles[t + ((k + 2) % 3)] * 3];
      const [ux, uy, uz] = [positions[a] - positions[c], positions[a + 1] - positions[c + 1], positions[a + 2] - positions[c + 2]];
      const [vx, vy, vz] = [positions[b] - positions[c], positions[b + 1] - positions[c + 1], positions[b + 2] - positions[c + 2]];
      const twice = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
      const cot = twice > 0 ? (ux * vx + uy * vy + uz * vz) / twice : 0;
      // two triangles at an edge: half of each one's cotangent
      const [i, j] = [a / 3, b / 3];
      values[entry(i, j)] -= cot / 2;
      values[entry(j, i)] -= cot / 2;
      areas[c / 3] += twice / 6;
    }
  for (let v = 0; v < diagonal.length; v++)
    for (let e = start[v]; e < start[v + 1]; e++) {
      values[e] = Math.min(values[e], -LEAST_COTANGENT);
      diagonal[v] -= values[e];
    }
  return { laplacian: { diagonal, start, to, values }, areas };
}

/** The nearest bones of each vertex that the shape does not stand before, and how far they are. */
function nearestBones(surface: Surface, bones: readonly Bone[], home: Home | null): { nearest: number[][]; far: Float64Array } {
  const vertices = surface.piece.length;
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(surface.positions), 3));
  geometry.setIndex(new BufferAttribute(surface.triangles.slice(), 1));
  const tree = new MeshBVH(geometry);
  const ray = new Ray();
  const place = new Vector3();
  const far = new Float64Array(vertices);
  const inward = normals(surface);
  const root = bones.findIndex((b) => b.limb < 0);
  const nearest = Array.from({ length: vertices }, (_, v): number[] => {
    const [x, y, z] = [surface.positions[v * 3], surface.positions[v * 3 + 1], surface.positions[v * 3 + 2]];
    const own = home ? home[v] : null;
    const all = bones.map((b) => (own === null || b.limb === own ? toBone(b, x, y, z) : { at: b.head, far: Infinity }));
    const least = Math.min(...all.map((d) => d.far));
    far[v] = least;
    // what is no limb is the root's, wherever that stands; as warm as the limbs are where they meet it
    if (own === -1 && root >= 0) {
      far[v] = -1;
      return [root];
    }
    return all.flatMap(({ at, far: d }, bone) => {
      if (!(d <= least * AS_NEAR + 1e-9)) return [];
      place.set(x, y, z);
      ray.origin.set(...at);
      ray.direction.copy(place).sub(ray.origin);
      const way = ray.direction.length();
      if (way < 1e-9) return [bone];
      ray.direction.divideScalar(way);
      // seen from the bone the vertex is the first that the way meets, and it comes out through it
      const out = ray.direction.x * inward[v * 3] + ray.direction.y * inward[v * 3 + 1] + ray.direction.z * inward[v * 3 + 2] > -1e-6;
      const hit = tree.raycastFirst(ray, DoubleSide);
      return out && (!hit || hit.distance > way * (1 - 1e-3) - 1e-6) ? [bone] : [];
    });
  });
  const limbs = [...far.filter((d) => d >= 0)].sort((a, b) => a - b);
  const middling = limbs[limbs.length >> 1] || 1;
  // where a bone pierces the surface heat would be without end, and nothing else would weigh
  for (let v = 0; v < vertices; v++) far[v] = far[v] < 0 ? middling : Math.max(far[v], middling * NEAREST);
  return { nearest, far };
}

/** Outward normals of vertices, not of length 1. */
function normals({ positions, triangles, piece }: Surface): Float64Array {
  const out = new Float64Array(piece.length * 3);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t] * 3, triangles[t + 1] * 3, triangles[t + 2] * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k] - positions[a + k]);
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k] - positions[a + k]);
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (const v of [a, b, c]) for (let k = 0; k < 3; k++) out[v + k] += n[k];
  }
  return out;
}
