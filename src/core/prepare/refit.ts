/**
 * Fits a simplified shape to the surface it stands for. Collapsed vertices lie on or inside a curved surface, so what is between
 * them lies inside it: samples of the original pull the triangle nearest to them, each corner by its share, until the mean
 * square distance no longer falls. (Iterative least squares; the simultaneous reconstruction of Gilbert 1972, on triangles.)
 */
import type { Primitive } from '@gltf-transform/core';
import { Vector3 } from 'three';
import { putFloats, readFloats } from '../model/arrays';
import { faceNormal, type Samples, sampleShape } from './measure/distance';
import { NearestTree, nearest } from './measure/nearest';
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
  poses: [],
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

/** Where each sample lies nearest on the simplified shape. */
interface Feet {
  triangle: Uint32Array;
  /** Three a sample, on the triangle's corners. */
  weights: Float32Array;
  /** Sum of squared distances. */
  square: number;
}

/** The samples' nearest points; those of the round before are the first guess. */
function findFeet(samples: Samples, tree: NearestTree, before: Feet | null): Feet {
  const out: Feet = { triangle: new Uint32Array(samples.count), weights: new Float32Array(samples.count * 3), square: 0 };
  const at = nearest();
  for (let i = 0; i < samples.count; i++) {
    const o = i * 3;
    tree.ask(samples.points[o], samples.points[o + 1], samples.points[o + 2], at, before?.triangle[i]);
    out.triangle[i] = at.triangle;
    out.weights.set(at.weights, o);
    out.square += at.distance * at.distance;
  }
  return out;
}

/** One round: every sample pulls its nearest triangle. */
function pullOnce(
  samples: Samples,
  feet: Feet,
  positions: Float32Array,
  triangles: Uint32Array,
  welded: ReturnType<typeof places>,
  held: Uint8Array,
): Float32Array {
  const pull = new Float64Array(welded.count * 3);
  const weight = new Float64Array(welded.count);
  for (let i = 0; i < samples.count; i++) {
    const o = i * 3;
    const t = feet.triangle[i] * 3;
    const a = triangles[t];
    const b = triangles[t + 1];
    const c = triangles[t + 2];
    const u = feet.weights[o];
    const v = feet.weights[o + 1];
    const w = feet.weights[o + 2];
    const [pa, pb, pc] = [welded.of[a], welded.of[b], welded.of[c]];
    for (let k = 0; k < 3; k++) {
      const gap = samples.points[o + k] - (positions[a * 3 + k] * u + positions[b * 3 + k] * v + positions[c * 3 + k] * w);
      pull[pa * 3 + k] += u * gap;
      pull[pb * 3 + k] += v * gap;
      pull[pc * 3 + k] += w * gap;
    }
    weight[pa] += u;
    weight[pb] += v;
    weight[pc] += w;
  }
  const moved = positions.slice();
  for (let v = 0; v < welded.of.length; v++) {
    const place = welded.of[v];
    if (held[place] || weight[place] < 1e-9) continue;
    for (let k = 0; k < 3; k++) moved[v * 3 + k] += pull[place * 3 + k] / weight[place];
  }
  return moved;
}

/** Under this cosine a sample lies on another side of an edge: its normal is not this triangle's. */
const SAME_SIDE = 0.5;

/** Normals whose blend over each triangle comes nearest to the original's. */
function fitNormals(samples: Samples, feet: Feet, positions: Float32Array, triangles: Uint32Array, given: Float32Array): Float32Array {
  const normals = given.slice();
  const face = new Vector3();
  const n = new Vector3();
  const rows: number[] = [];
  for (let i = 0; i < samples.count; i++) {
    const t = feet.triangle[i] * 3;
    faceNormal(positions, triangles[t], triangles[t + 1], triangles[t + 2], face);
    if (face.dot(n.fromArray(samples.normals, i * 3)) > SAME_SIDE) rows.push(i);
  }
  for (let round = 0; round < ROUNDS; round++) {
    const pull = new Float64Array(normals.length);
    const weight = new Float64Array(normals.length / 3);
    for (const i of rows) {
      const t = feet.triangle[i] * 3;
      const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
      const [u, v, w] = [feet.weights[i * 3], feet.weights[i * 3 + 1], feet.weights[i * 3 + 2]];
      for (let k = 0; k < 3; k++) {
        const gap = samples.normals[i * 3 + k] - (normals[a * 3 + k] * u + normals[b * 3 + k] * v + normals[c * 3 + k] * w);
        pull[a * 3 + k] += u * gap;
        pull[b * 3 + k] += v * gap;
        pull[c * 3 + k] += w * gap;
      }
      weight[a] += u;
      weight[b] += v;
      weight[c] += w;
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
  const samples = sampleShape(bare(original.positions, original.triangles, original.normals), count, SEED, true);
  if (samples.count === 0) return;
  const welded = places(positions);
  const held = new Uint8Array(welded.count);
  if (lock) for (let v = 0; v < lock.length; v++) if (lock[v]) held[welded.of[v]] = 1;
  const tree = new NearestTree(positions, triangles);
  if (tree.isEmpty) return;
  let kept = positions;
  let feet = findFeet(samples, tree, null);
  for (let round = 0; round < ROUNDS; round++) {
    positions = pullOnce(samples, feet, kept, triangles, welded, held);
    tree.move(positions);
    const next = findFeet(samples, tree, feet);
    // the last move made it worse: the one before stays
    if (next.square >= feet.square) break;
    feet = next;
    kept = positions;
  }
  putFloats(primitive, 'POSITION', kept);
  const normal = primitive.getAttribute('NORMAL');
  if (normal && original.normals) putFloats(primitive, 'NORMAL', fitNormals(samples, feet, kept, triangles, readFloats(normal)));
}
