/** The joints of the body: names, parents and places on the base form. VRM 1.0 humanoid bones, 52, 22 or 17 of them. */

import type { Vec3 } from '../vec';
import { EL, FINGERS, fromArm, fromHand, SH, WR } from './arm';
import { FC, FO, FS } from './sculpt';

export const ANKLE: Vec3 = [100, 84, -34];
const KNEE: Vec3 = [97, 492, -16];
const TOES: Vec3 = [FO[0] + 112 * FS, 20, FO[1] + 112 * FC];

/** Bones of a finger of the left, root first. */
export const fingerBones = (finger: string): string[] =>
  (finger === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal']).map((n) => `left${finger}${n}`);

export const mirrorName = (n: string) => n.replace(/^(left|right)/, (s) => (s === 'left' ? 'right' : 'left'));

/** Base form, left half, mm. */
export const BASE_JOINTS: Readonly<Record<string, Vec3>> = {
  hips: [0, 945, -20],
  spine: [0, 1035, -42],
  chest: [0, 1140, -46],
  upperChest: [0, 1255, -44],
  neck: [0, 1466, -52],
  head: [0, 1588, -18],
  leftShoulder: [24, 1424, -14],
  leftUpperArm: SH,
  leftLowerArm: fromArm(EL, 0, 0),
  leftHand: fromArm(WR, 0, 0),
  leftUpperLeg: [88, 915, -32],
  leftLowerLeg: KNEE,
  leftFoot: ANKLE,
  leftToes: TOES,
  ...Object.fromEntries(FINGERS.flatMap((f) => fingerBones(f.name).map((n, k) => [n, fromHand(f.J[k])]))),
};

function parents(): Record<string, string | null> {
  const of: Record<string, string | null> = {
    hips: null,
    spine: 'hips',
    chest: 'spine',
    upperChest: 'chest',
    neck: 'upperChest',
    head: 'neck',
  };
  const line = (from: string, ...names: string[]) => {
    for (const n of names) {
      of[n] = from;
      from = n;
    }
  };
  for (const s of ['left', 'right']) {
    line('upperChest', `${s}Shoulder`, `${s}UpperArm`, `${s}LowerArm`, `${s}Hand`);
    for (const f of FINGERS) line(`${s}Hand`, ...fingerBones(f.name).map((n) => n.replace('left', s)));
    line('hips', `${s}UpperLeg`, `${s}LowerLeg`, `${s}Foot`, `${s}Toes`);
  }
  return of;
}
/** Bone → the one it hangs from; null for the hips. */
export const PARENT: Readonly<Record<string, string | null>> = parents();
/** All 52, parents first. */
export const BODY_JOINTS: readonly string[] = Object.keys(PARENT);

const FINGER = /Thumb|Index|Middle|Ring|Little/;
export type BodyDetail = 52 | 22 | 17;
/** Names kept at each detail; the weights of the others go to the nearest kept ancestor. */
export const DETAILS: Readonly<Record<BodyDetail, readonly string[]>> = {
  52: BODY_JOINTS,
  22: BODY_JOINTS.filter((n) => !FINGER.test(n)),
  17: BODY_JOINTS.filter((n) => !FINGER.test(n) && !/Shoulder|Toes|upperChest/.test(n)),
};
