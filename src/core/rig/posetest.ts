/** What weights do when bones turn: each bone by itself, both ways across, measured against rest. */
import { Matrix4, Vector3 } from 'three';
import type { Bone } from './bone';
import { apart, type Surface } from './surface';
import type { Binding } from './weights/bind';

export interface PoseTest {
  /** Longest edge, posed over rest. */
  stretchMax: number;
  /** Triangles turned over in the worst pose. */
  flips: number;
  /** Greatest change of the enclosed volume, share of it; 0 where nothing is enclosed. */
  volumeChange: number;
  /** Bone whose turn stretches most. */
  worst: string | null;
}

export const TEST_TURN_DEG = 30;
/** Below this an edge is a point, and its stretch no measure. */
const LEAST_EDGE = 1e-3;

const volume = (p: ArrayLike<number>, t: Uint32Array) => {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i] * 3, t[i + 1] * 3, t[i + 2] * 3];
    sum +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return sum / 6;
};

/** Share of each vertex that a bone and what hangs from it moves. */
export function movedBy(bones: readonly Bone[], binding: Pick<Binding, 'bones' | 'shares'>, bone: number): Float64Array {
  const below = bones.map((_, i) => i === bone);
  for (let i = 0; i < bones.length; i++) if (bones[i].parent >= 0 && below[bones[i].parent]) below[i] = true;
  return Float64Array.from({ length: binding.shares.length / 4 }, (_, v) => {
    let sum = 0;
    for (let k = 0; k < 4; k++) if (below[binding.bones[v * 4 + k]]) sum += binding.shares[v * 4 + k];
    return sum;
  });
}

/** Positions when one bone turns about its head; what hangs from it goes along. */
export function turned(surface: Surface, moved: Float64Array, head: readonly number[], turn: Matrix4): Float64Array {
  const out = new Float64Array(surface.positions.length);
  const v = new Vector3();
  const at = new Vector3(...(head as [number, number, number]));
  for (let i = 0; i < moved.length; i++) {
    v.fromArray(surface.positions as unknown as number[], i * 3);
    const rest = v.clone();
    if (moved[i] > 0)
      v.sub(at)
        .applyMatrix4(turn)
        .add(at)
        .lerp(rest, 1 - moved[i]);
    v.toArray(out as unknown as number[], i * 3);
  }
  return out;
}

export function testPoses(surface: Surface, bones: readonly Bone[], binding: Binding, degrees = TEST_TURN_DEG): PoseTest {
  const { positions, triangles, start, to, lengths } = surface;
  const rest = volume(positions, triangles);
  const box = new Float64Array(6).fill(-Infinity);
  for (let i = 0; i < positions.length; i++) {
    box[i % 3] = Math.max(box[i % 3], positions[i]);
    box[3 + (i % 3)] = Math.max(box[3 + (i % 3)], -positions[i]);
  }
  const least = Math.hypot(box[0] + box[3], box[1] + box[4], box[2] + box[5]) * LEAST_EDGE;
  const out: PoseTest = { stretchMax: 1, flips: 0, volumeChange: 0, worst: null };
  bones.forEach((bone, b) => {
    if (bone.parent < 0) return;
    const moved = movedBy(bones, binding, b);
    const along = new Vector3(...bone.tail).sub(new Vector3(...bone.head)).normalize();
    const side = new Vector3(Math.abs(along.x) < 0.9 ? 1 : 0, Math.abs(along.x) < 0.9 ? 0 : 1, 0).cross(along).normalize();
    for (const axis of [side, along.clone().cross(side)]) {
      const turn = new Matrix4().makeRotationAxis(axis, (degrees * Math.PI) / 180);
      const posed = turned(surface, moved, bone.head, turn);
      for (let v = 0; v < moved.length; v++)
        for (let e = start[v]; e < start[v + 1]; e++) {
          if (to[e] < v || lengths[e] < least) continue;
          const s = apart(posed, v, to[e]) / lengths[e];
          if (s > out.stretchMax) [out.stretchMax, out.worst] = [s, bone.name];
        }
      out.flips = Math.max(out.flips, flipped(positions, posed, triangles, moved, turn));
      if (Math.abs(rest) > 1e-15) out.volumeChange = Math.max(out.volumeChange, Math.abs(volume(posed, triangles) / rest - 1));
    }
  });
  return out;
}

/** Triangles whose side, turned as far as their corners are on the mean, looks the other way. */
function flipped(rest: Float64Array, posed: Float64Array, triangles: Uint32Array, moved: Float64Array, turn: Matrix4): number {
  let n = 0;
  const normal = (p: Float64Array, t: number, out: Vector3) => {
    const [a, b, c] = [triangles[t] * 3, triangles[t + 1] * 3, triangles[t + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    return out.set(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  };
  const [r, q, s] = [new Vector3(), new Vector3(), new Vector3()];
  for (let t = 0; t < triangles.length; t += 3) {
    const share = (moved[triangles[t]] + moved[triangles[t + 1]] + moved[triangles[t + 2]]) / 3;
    if (share === 0) continue;
    normal(rest, t, r);
    s.copy(r).applyMatrix4(turn);
    r.lerp(s, share);
    if (normal(posed, t, q).dot(r) < 0) n++;
  }
  return n;
}
