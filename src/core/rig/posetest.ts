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

const area = (p: ArrayLike<number>, t: Uint32Array) => {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i] * 3, t[i + 1] * 3, t[i + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    sum += Math.sqrt((uy * vz - uz * vy) ** 2 + (uz * vx - ux * vz) ** 2 + (ux * vy - uy * vx) ** 2) / 2;
  }
  return sum;
};

/** By how much of itself a thing has changed; nothing of nothing. */
const changeOf = (rest: number, now: number) => (Math.abs(rest) > 1e-15 ? Math.abs(now / rest - 1) : 0);

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

/** How a bone is turned: it bends to the front and aside, or twists about itself. */
export type PoseAxis = 'bend' | 'aside' | 'twist';
export const POSE_AXES: readonly PoseAxis[] = ['bend', 'aside', 'twist'];

/** The direction a bone turns about; a bone that is a point has the upright one for its own. */
export function axisOf(bone: Pick<Bone, 'head' | 'tail'>, axis: PoseAxis): Vector3 {
  const along = new Vector3(...bone.tail).sub(new Vector3(...bone.head));
  if (along.lengthSq() < 1e-18) along.set(0, 1, 0);
  along.normalize();
  const side = new Vector3(Math.abs(along.x) < 0.9 ? 1 : 0, Math.abs(along.x) < 0.9 ? 0 : 1, 0).cross(along).normalize();
  return axis === 'twist' ? along : axis === 'bend' ? side : along.clone().cross(side);
}

export interface Posed {
  positions: Float64Array;
  /** Longest edge at each vertex, posed over rest. */
  stretch: Float64Array;
  stretchMax: number;
  flips: number;
  /** Of the surface, share of it at rest. */
  areaChange: number;
  volumeChange: number;
}

/** One bone turned, what hangs from it along, measured against rest. */
export function poseOne(
  surface: Surface,
  bones: readonly Bone[],
  binding: Pick<Binding, 'bones' | 'shares'>,
  bone: number,
  axis: PoseAxis,
  degrees: number,
): Posed {
  const moved = movedBy(bones, binding, bone);
  const turn = new Matrix4().makeRotationAxis(axisOf(bones[bone], axis), (degrees * Math.PI) / 180);
  return againstRest(surface, turned(surface, moved, bones[bone].head, turn), (a, b, c, normal, out) => {
    const share = (moved[a] + moved[b] + moved[c]) / 3;
    // what the bone does not move cannot turn over
    return share === 0
      ? null
      : out
          .copy(normal)
          .applyMatrix4(turn)
          .lerp(normal, 1 - share);
  });
}

/** Where a triangle of a normal at rest should look, of its three vertices; null: it is not looked at. */
export type Expected = (a: number, b: number, c: number, normal: Vector3, out: Vector3) => Vector3 | null;

/** Posed places, three numbers a vertex, measured against rest. */
export function againstRest(surface: Surface, posed: Float64Array, expected: Expected): Posed {
  const { positions, triangles, start, to, lengths, piece } = surface;
  const least = sizeOf(positions) * LEAST_EDGE;
  const stretch = new Float64Array(piece.length).fill(1);
  let stretchMax = 1;
  for (let v = 0; v < piece.length; v++)
    for (let e = start[v]; e < start[v + 1]; e++) {
      if (to[e] < v || lengths[e] < least) continue;
      const s = apart(posed, v, to[e]) / lengths[e];
      stretch[v] = Math.max(stretch[v], s);
      stretch[to[e]] = Math.max(stretch[to[e]], s);
      stretchMax = Math.max(stretchMax, s);
    }
  return {
    positions: posed,
    stretch,
    stretchMax,
    flips: flipped(positions, posed, triangles, expected),
    areaChange: changeOf(area(positions, triangles), area(posed, triangles)),
    volumeChange: changeOf(volume(positions, triangles), volume(posed, triangles)),
  };
}

/** Diagonal of a shape's box. */
function sizeOf(positions: Float64Array): number {
  const box = new Float64Array(6).fill(-Infinity);
  for (let i = 0; i < positions.length; i++) {
    box[i % 3] = Math.max(box[i % 3], positions[i]);
    box[3 + (i % 3)] = Math.max(box[3 + (i % 3)], -positions[i]);
  }
  return Math.hypot(box[0] + box[3], box[1] + box[4], box[2] + box[5]);
}

export function testPoses(
  surface: Surface,
  bones: readonly Bone[],
  binding: Pick<Binding, 'bones' | 'shares'>,
  degrees = TEST_TURN_DEG,
): PoseTest {
  const out: PoseTest = { stretchMax: 1, flips: 0, volumeChange: 0, worst: null };
  bones.forEach((bone, b) => {
    if (bone.parent < 0) return;
    for (const axis of ['bend', 'aside'] as const) {
      const p = poseOne(surface, bones, binding, b, axis, degrees);
      if (p.stretchMax > out.stretchMax) [out.stretchMax, out.worst] = [p.stretchMax, bone.name];
      out.flips = Math.max(out.flips, p.flips);
      out.volumeChange = Math.max(out.volumeChange, p.volumeChange);
    }
  });
  return out;
}

/** Triangles whose side, turned as far as their corners are on the mean, looks the other way. */
function flipped(rest: Float64Array, posed: Float64Array, triangles: Uint32Array, expected: Expected): number {
  let n = 0;
  const normal = (p: Float64Array, t: number, out: Vector3) => {
    const [a, b, c] = [triangles[t] * 3, triangles[t + 1] * 3, triangles[t + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    return out.set(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  };
  const [r, q, s] = [new Vector3(), new Vector3(), new Vector3()];
  for (let t = 0; t < triangles.length; t += 3) {
    const looks = expected(triangles[t], triangles[t + 1], triangles[t + 2], normal(rest, t, r), s);
    if (looks && normal(posed, t, q).dot(looks) < 0) n++;
  }
  return n;
}
