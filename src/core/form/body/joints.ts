/** Where the joints of the body are on its base form. */

import { fingerBones } from '../../words/humanoid';
import type { Vec3 } from '../vec';
import { EL, FINGERS, fromArm, fromHand, SH, WR } from './arm';
import { FC, FO, FS } from './sculpt';

export const ANKLE: Vec3 = [100, 84, -34];
const KNEE: Vec3 = [97, 492, -16];
const TOES: Vec3 = [FO[0] + 112 * FS, 20, FO[1] + 112 * FC];

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
