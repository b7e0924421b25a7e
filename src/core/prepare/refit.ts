/**
 * Fits a simplified shape to the surface it stands for. Collapsed vertices lie on or inside a curved surface, so what is between
 * them lies inside it: samples of the original pull the triangle nearest to them, each corner by its share, until the mean
 * square distance no longer falls. (Iterative least squares; the simultaneous reconstruction of Gilbert 1972, on triangles.)
 */
import type { Primitive } from '@gltf-transform/core';
import { Vector3 } from 'three';
import { putFloats, readFloats } from './arrays';
import { faceNormal, type Samples, sampleShape, surfaceOf } from './measure/distance';
import type { Nearest } from './measure/nearest';
import type { Shape } from './measure/shape';

const ROUNDS = 3;
const PER_TRIANGLE = 5;
const [LEAST, MOST] = [2_000, 120_000];
const SEED = 5;

const bare = (positions: Float32Array, triangles: Uint32Array, normals: Float32Array | null): Shape => ({
  positions,
  normals: normals ?? new Float32Array(positions.length),
  uvs: new Float32Array(),
  colors: null,
  triangles,
  wear: new Uint16Array(),
  wears: [],
});

/** Vertex → number of its place: vertices at one place move together. */
function places(positions: Float32Array): { of: Uint32Array; count: number } {
  const seen = new Map<string, number>();
  const of = new Uint32Array(positions.length / 3);
  for (let v = 0; v < of.length; v++) {
    const key = `${positions[v * 3]} ${positions[v * 3 + 1]} ${positions[v * 3 + 2]}`;
    const had = seen.get(key);
    of[v] = had ?? seen.size;
    if (had === undefined) seen.set(key, seen.size);
  }
  return { of, count: seen.size };
}

interface Pull {
  /** Sum of squared distances before the move. */
  square: number;
  moved: Float32Array;
}

/** One round: every sample pulls its nearest triangle. */
function pullOnce(
  samples: Samples,
  positions: Float32Array,
  triangles: Uint32Array,
  welded: ReturnType<typeof places>,
  held: Uint8Array,
): Pull {
  const surface = surfaceOf(bare(positions, triangles, null));
  if (!surface) return { square: Number.POSITIVE_INFINITY, moved: positions };
  const pull = new Float64Array(welded.count * 3);
  const weight = new Float64Array(welded.count);
  const at: Nearest = { distance: 0, corners: [0, 0, 0], weights: [0, 0, 0] };
  let square = 0;
  for (let i = 0; i < samples.count; i++) {
    const o = i * 3;
    surface.tree.ask(samples.points[o], samples.points[o + 1], samples.points[o + 2], at);
    square += at.distance * at.distance;
    const [a, b, c] = at.corners;
    const [u, v, w] = at.weights;
    for (let k = 0; k < 3; k++) {
      const gap = samples.points[o + k] - (positions[a * 3 + k] * u + positions[b * 3 + k] * v + positions[c * 3 + k] * w);
      pull[welded.of[a] * 3 + k] += u * gap;
      pull[welded.of[b] * 3 + k] += v * gap;
      pull[welded.of[c] * 3 + k] += w * gap;
    }
    weight[welded.of[a]] += u;
    weight[welded.of[b]] += v;
    weight[welded.of[c]] += w;
  }
  const moved = positions.slice();
  for (let v = 0; v < welded.of.length; v++) {
    const place = welded.of[v];
    if (held[place] || weight[place] < 1e-9) continue;
    for (let k = 0; k < 3; k++) moved[v * 3 + k] += pull[place * 3 + k] / weight[place];
  }
  return { square, moved };
}

/** Under this cosine a sample lies on another side of an edge: its normal is not this triangle's. */
const SAME_SIDE = 0.5;

/** Normals whose blend over each triangle comes nearest to the original's. */
function fitNormals(samples: Samples, positions: Float32Array, triangles: Uint32Array, given: Float32Array): Float32Array {
  const normals = given.slice();
  const surface = surfaceOf(bare(positions, triangles, null));
  if (!surface) return normals;
  const at: Nearest = { distance: 0, corners: [0, 0, 0], weights: [0, 0, 0] };
  const face = new Vector3();
  const n = new Vector3();
  const rows: { corners: [number, number, number]; weights: [number, number, number]; sample: number }[] = [];
  for (let i = 0; i < samples.count; i++) {
    surface.tree.ask(samples.points[i * 3], samples.points[i * 3 + 1], samples.points[i * 3 + 2], at);
    faceNormal(positions, ...at.corners, face);
    if (face.dot(n.fromArray(samples.normals, i * 3)) > SAME_SIDE)
      rows.push({ corners: [...at.corners], weights: [...at.weights], sample: i });
  }
  for (let round = 0; round < ROUNDS; round++) {
    const pull = new Float64Array(normals.length);
    const weight = new Float64Array(normals.length / 3);
    for (const { corners, weights, sample } of rows)
      for (let a = 0; a < 3; a++) {
        const blend = corners.reduce((sum, v, k) => sum + normals[v * 3 + a] * weights[k], 0);
        const gap = samples.normals[sample * 3 + a] - blend;
        for (let k = 0; k < 3; k++) {
          pull[corners[k] * 3 + a] += weights[k] * gap;
          if (a === 0) weight[corners[k]] += weights[k];
        }
      }
    for (let v = 0; v < weight.length; v++) {
      if (weight[v] < 1e-9) continue;
      n.fromArray(normals, v * 3);
      n.set(n.x + pull[v * 3] / weight[v], n.y + pull[v * 3 + 1] / weight[v], n.z + pull[v * 3 + 2] / weight[v]);
      if (n.lengthSq() > 1e-12) n.normalize().toArray(normals, v * 3);
    }
  }
  return normals;
}

/**
 * Moves the vertices, and turns the normals, of a primitive towards the original's.
 * @param original its surface before, in the same space; normals where it has them
 * @param lock 1 where a vertex must stay
 */
export function refitPrimitive(
  primitive: Primitive,
  original: { positions: Float32Array; triangles: Uint32Array; normals: Float32Array | null },
  lock: Uint8Array | null,
): void {
  const position = primitive.getAttribute('POSITION');
  const triangles = Uint32Array.from(primitive.getIndices()?.getArray() ?? []);
  if (!position || triangles.length === 0) return;
  let positions = readFloats(position);
  const count = Math.min(MOST, Math.max(LEAST, (triangles.length / 3) * PER_TRIANGLE));
  const samples = sampleShape(bare(original.positions, original.triangles, original.normals), count, SEED);
  if (samples.count === 0) return;
  const welded = places(positions);
  const held = new Uint8Array(welded.count);
  if (lock) for (let v = 0; v < lock.length; v++) if (lock[v]) held[welded.of[v]] = 1;
  let best = Number.POSITIVE_INFINITY;
  let kept = positions;
  for (let round = 0; round <= ROUNDS; round++) {
    const { square, moved } = pullOnce(samples, positions, triangles, welded, held);
    // the last move made it worse: the one before stays
    if (square >= best) break;
    best = square;
    kept = positions;
    positions = moved;
  }
  putFloats(primitive, 'POSITION', kept);
  const normal = primitive.getAttribute('NORMAL');
  if (normal && original.normals) putFloats(primitive, 'NORMAL', fitNormals(samples, kept, triangles, readFloats(normal)));
}
