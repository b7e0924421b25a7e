/** The body's skeleton and its poses. Every joint's frame is the world's in the T pose (palms down), so that humanoid pose data apply as they are. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { fingerBones, HUMANOID_BONES, HUMANOID_PARENT, mirrorName } from '../../words/humanoid';
import { cross, D2R, dot, mul, norm, sub, type Vec3 } from '../vec';
import { ARM_A, FINGERS } from './arm';
import type { WarpedBody } from './warp';

const X = new Vector3(1, 0, 0);
const Y = new Vector3(0, 1, 0);
const Z = new Vector3(0, 0, 1);
const AXES = { x: X, y: Y, z: Z } as const;
export type Turn = readonly ['x' | 'y' | 'z', number];
/** Turns about the joint's own T-pose axes, °, one after the other. */
export type JointPose = readonly Turn[] | Quaternion;

/** A pose: what joints turn, what both sides do alike (by the left's names), where the hips go. What is not named stands as in the T pose. */
export interface BodyPose {
  joints?: Readonly<Record<string, JointPose>>;
  /** Names of the left; the right does their mirror image. */
  both?: Readonly<Record<string, JointPose>>;
  /** Offset of the hips, m, and turn about the upright axis, °. */
  root?: { position: Vec3; yawDeg: number };
}

export const about = (axis: 'x' | 'y' | 'z', deg: number) => new Quaternion().setFromAxisAngle(AXES[axis], deg * D2R);
/** The mirror image about x = 0. */
export const mirrored = (q: Quaternion) => new Quaternion(q.x, -q.y, -q.z, q.w);
export const turned = (v: JointPose): Quaternion =>
  v instanceof Quaternion ? v : v.reduce((q, [axis, deg]) => q.premultiply(about(axis, deg)), new Quaternion());

/** Turns that the roots of the fingers have in the T pose: X along the finger, so that −Z (left; +Z right) curls it. */
function fingerRoots(): Record<string, Quaternion> {
  const of: Record<string, Quaternion> = {};
  for (const f of FINGERS) {
    const [root] = fingerBones(f.name);
    let q = about('y', -f.yaw[0]);
    if (f.name === 'Thumb') {
      const x = f.D[0];
      const into: Vec3 = [0.05, -0.62, -0.78];
      const y = norm(mul(sub(into, mul(x, dot(into, x))), -1));
      q = new Quaternion().setFromRotationMatrix(
        new Matrix4().makeBasis(new Vector3(...x), new Vector3(...y), new Vector3(...cross(x, y))),
      );
    }
    of[root] = q;
    of[mirrorName(root)] = mirrored(q);
  }
  return of;
}
/** Joint → its turn in the T pose where that is not none. */
export const T_TURNS: Readonly<Record<string, Quaternion>> = fingerRoots();

/** Fingers curled by joint, °; the thumb apart. */
export function curl(
  root: number,
  middle: number,
  end: number,
  thumb: readonly [number, number, number] = [0, 0, 0],
): Record<string, Turn[]> {
  const of: Record<string, Turn[]> = {};
  const [first, ...others] = FINGERS;
  others.forEach((f, i) => {
    const degrees = [root + i * (root > 40 ? 1 : 2.5), middle + i, end];
    fingerBones(f.name).forEach((n, k) => {
      of[n] = [['z', -degrees[k]]];
    });
  });
  fingerBones(first.name).forEach((n, k) => {
    of[n] = [['z', -thumb[k]]];
  });
  return of;
}

const right = (left: Readonly<Record<string, JointPose>>): Record<string, Quaternion> =>
  Object.fromEntries(Object.entries(left).map(([n, v]) => [mirrorName(n), mirrored(turned(v))]));

// biome-ignore format: a table, one pose a line
export const BODY_POSES = {
  T: {},
  A: { both: { leftUpperArm: [['z', -ARM_A / D2R]] } },
  armsDown: { both: { leftShoulder: [['z', -4]], leftUpperArm: [['x', -8], ['z', -73], ['x', 4]], leftLowerArm: [['y', -14]], leftHand: [['y', -4], ['z', -2]], ...curl(10, 14, 8, [6, 8, 6]) } },
  armsHalf: { both: { leftUpperArm: [['z', -58], ['y', -8]], leftLowerArm: [['y', -22]], ...curl(6, 8, 4) } },
  handsOnHips: { both: { leftShoulder: [['z', 1]], leftUpperArm: [['x', 80], ['z', -55], ['y', 20]], leftLowerArm: [['y', -82]], leftHand: [['y', 6], ['z', 38]], ...curl(28, 22, 12, [4, 0, 0]) } },
  oneArmUp: { joints: { leftShoulder: [['z', 22]], leftUpperArm: [['x', -35], ['z', 52]], leftLowerArm: [['y', -16]], ...right({ leftShoulder: [['z', -4]], leftUpperArm: [['z', -74]], leftLowerArm: [['y', -14]], ...curl(10, 14, 8) }), spine: [['z', 2]], chest: [['z', 2]] } },
  seated: { joints: { spine: [['x', 4]] }, both: { leftUpperLeg: [['x', -84], ['z', 4]], leftLowerLeg: [['x', 84]], leftShoulder: [['z', -3]], leftUpperArm: [['x', 40], ['z', -83], ['x', -28]], leftLowerArm: [['y', -44]], leftHand: [['z', 22], ['y', -4]], ...curl(12, 16, 10, [6, 6, 4]) } },
  fist: { both: { leftUpperArm: [['z', -30], ['y', -40]], leftLowerArm: [['y', -60]], ...curl(82, 98, 66, [32, 46, 62]) } },
} as const satisfies Record<string, BodyPose>;
export type BodyPoseName = keyof typeof BODY_POSES;
/** The pose that the skin is bound in. */
export const REST: BodyPoseName = 'A';

/** Turns of the joints that a pose names, each in its own T-pose frame. */
export function poseTurns(pose: BodyPose): Record<string, Quaternion> {
  const of: Record<string, Quaternion> = {};
  for (const [n, v] of Object.entries(pose.both ?? {})) {
    of[n] = turned(v);
    of[mirrorName(n)] = mirrored(of[n]);
  }
  for (const [n, v] of Object.entries(pose.joints ?? {})) of[n] = turned(v);
  return of;
}
const local = (n: string, of: Record<string, Quaternion>) => (T_TURNS[n]?.clone() ?? new Quaternion()).multiply(of[n] ?? new Quaternion());

/** Where a joint stands and how it is turned in the world, metres. */
export interface JointState {
  place: Vector3;
  turn: Quaternion;
}
/** The skeleton of one body: its joints in the rest pose, and each one's place in its parent. */
export interface BodySkeleton {
  rest: Readonly<Record<string, JointState>>;
  offsets: Readonly<Record<string, Vector3>>;
}

export function bodySkeleton(w: Pick<WarpedBody, 'joints'>): BodySkeleton {
  const turns = poseTurns(BODY_POSES[REST]);
  const rest: Record<string, JointState> = {};
  const offsets: Record<string, Vector3> = {};
  for (const n of HUMANOID_BONES) {
    const p = w.joints[n] ?? w.joints[mirrorName(n)];
    const place = new Vector3(w.joints[n] ? p[0] : -p[0], p[1], p[2]).multiplyScalar(1e-3);
    const parent = HUMANOID_PARENT[n];
    const up = parent ? rest[parent] : undefined;
    const turn = local(n, turns);
    rest[n] = { place, turn: up ? up.turn.clone().multiply(turn) : turn };
    offsets[n] = up ? place.clone().sub(up.place).applyQuaternion(up.turn.clone().invert()) : place.clone();
  }
  return { rest, offsets };
}

/** World turn and place of every joint in a pose. */
export function solveBodyPose(sk: BodySkeleton, pose: BodyPose): Record<string, JointState> {
  const turns = poseTurns(pose);
  const of: Record<string, JointState> = {};
  for (const n of HUMANOID_BONES) {
    const turn = local(n, turns);
    const parent = HUMANOID_PARENT[n];
    if (parent) {
      const up = of[parent];
      of[n] = { turn: up.turn.clone().multiply(turn), place: sk.offsets[n].clone().applyQuaternion(up.turn).add(up.place) };
      continue;
    }
    const yaw = about('y', pose.root?.yawDeg ?? 0);
    const at = new Vector3(0, sk.offsets[n].y, sk.offsets[n].z).applyQuaternion(yaw);
    of[n] = { turn: yaw.multiply(turn), place: at.add(new Vector3(...(pose.root?.position ?? [0, 0, 0]))) };
  }
  return of;
}
