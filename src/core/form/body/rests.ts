/**
 * Where the joints of a body are at rest, so that whoever only places things on joints needs no surface: mm, the body's own frame (floor
 * y = 0, hips at z = 0, +Z forward, +X its left). Of the sizes they stand here; of other bodies whoever makes one tells them.
 */
import type { FormSize } from '../measures';
import type { Vec3 } from '../vec';
import { type BodyAsk, isOfSize } from './ask';
import type { Stander } from './motion';
import { type BodySkeleton, bodySkeleton } from './pose';

export interface RestMm {
  /** From the body's frame to the head form's. */
  headOffsetMm: Vec3;
  /** The left heel. */
  heelMm: Vec3;
  /** The middle's and the left's. */
  jointsMm: Readonly<Record<string, Vec3>>;
}

/** A test holds them to the bodies that are made. */
// biome-ignore format: a table, one joint a line
const RESTS: Readonly<Record<FormSize, RestMm>> = {
  S: {
    headOffsetMm: [0, 1481.13, 17.51],
    heelMm: [88.39, 18.25, -68.21],
    jointsMm: {
     hips: [0, 858.29, 0],
     spine: [0, 942.88, -22.11],
     chest: [0, 1041.18, -25.39],
     upperChest: [0, 1148.55, -23.07],
     neck: [0, 1347.04, -29.91],
     head: [0, 1456.01, 0.45],
     leftShoulder: [22.58, 1308.02, 4.98],
     leftUpperArm: [178.85, 1286, -17.66],
     leftLowerArm: [361.67, 1109.46, -17.66],
     leftHand: [519.09, 957.44, -17.66],
     leftThumbMetacarpal: [526.87, 940.12, 0.86],
     leftThumbProximal: [537.43, 913.8, 28.6],
     leftThumbDistal: [548.2, 893.91, 45.46],
     leftIndexProximal: [574.28, 902.91, 8.35],
     leftIndexIntermediate: [598.95, 874.5, 12.95],
     leftIndexDistal: [612.02, 855.8, 15.11],
     leftMiddleProximal: [576.45, 903.89, -9.28],
     leftMiddleIntermediate: [602.5, 872.84, -7.87],
     leftMiddleDistal: [617.28, 850.92, -7.2],
     leftRingProximal: [573.3, 905.7, -26.91],
     leftRingIntermediate: [596.55, 875.91, -29.86],
     leftRingDistal: [609.59, 855.02, -31.53],
     leftLittleProximal: [567.02, 908.09, -42.78],
     leftLittleIntermediate: [585.11, 883.91, -49.12],
     leftLittleDistal: [594.71, 868.42, -52.39],
     leftUpperLeg: [86.4, 829.97, -11.46],
     leftLowerLeg: [93.71, 444.85, 2.74],
     leftFoot: [95.89, 77.3, -13.93],
     leftToes: [108.45, 18.4, 90.2],
    },
  },
  M: {
    headOffsetMm: [0, 1614.54, 19.2],
    heelMm: [91.86, 19.81, -73.49],
    jointsMm: {
     hips: [0, 941.22, 0],
     spine: [0, 1032.58, -23.47],
     chest: [0, 1138.91, -27.36],
     upperChest: [0, 1255.08, -24.64],
     neck: [0, 1469.6, -32.14],
     head: [0, 1588.04, 1.2],
     leftShoulder: [24.16, 1428.05, 5.5],
     leftUpperArm: [196.59, 1403.63, -18.61],
     leftLowerArm: [397.52, 1209.59, -18.61],
     leftHand: [570.55, 1042.5, -18.61],
     leftThumbMetacarpal: [579.1, 1023.46, 1.75],
     leftThumbProximal: [590.71, 994.52, 32.25],
     leftThumbDistal: [602.56, 972.65, 50.78],
     leftIndexProximal: [631.23, 982.55, 9.99],
     leftIndexIntermediate: [658.35, 951.31, 15.05],
     leftIndexDistal: [672.72, 930.75, 17.42],
     leftMiddleProximal: [633.61, 983.62, -9.4],
     leftMiddleIntermediate: [662.25, 949.49, -7.85],
     leftMiddleDistal: [678.5, 925.39, -7.11],
     leftRingProximal: [630.15, 985.62, -28.78],
     leftRingIntermediate: [655.71, 952.86, -32.02],
     leftRingDistal: [670.05, 929.89, -33.86],
     leftLittleProximal: [623.25, 988.24, -46.23],
     leftLittleIntermediate: [643.14, 961.66, -53.2],
     leftLittleDistal: [653.68, 944.62, -56.79],
     leftUpperLeg: [91.27, 910.65, -12.25],
     leftLowerLeg: [97.78, 488.87, 3.5],
     leftFoot: [100, 83.9, -14.57],
     leftToes: [113.63, 19.98, 98.46],
    },
  },
  L: {
    headOffsetMm: [0, 1747.2, 20.43],
    heelMm: [95.1, 21.53, -79.75],
    jointsMm: {
     hips: [0, 1020.56, 0],
     spine: [0, 1119.07, -26.85],
     chest: [0, 1233.8, -31.42],
     upperChest: [0, 1359.23, -27.36],
     neck: [0, 1590.41, -35.27],
     head: [0, 1719.18, 1.4],
     leftShoulder: [25.81, 1546.07, 5.23],
     leftUpperArm: [214.48, 1518.48, -20.13],
     leftLowerArm: [433.21, 1307.26, -20.13],
     leftHand: [621.56, 1125.37, -20.13],
     leftThumbMetacarpal: [630.89, 1104.61, 2.06],
     leftThumbProximal: [643.55, 1073.06, 35.32],
     leftThumbDistal: [656.46, 1049.21, 55.53],
     leftIndexProximal: [687.73, 1060.01, 11.05],
     leftIndexIntermediate: [717.3, 1025.94, 16.56],
     leftIndexDistal: [732.97, 1003.52, 19.15],
     leftMiddleProximal: [690.32, 1061.17, -10.09],
     leftMiddleIntermediate: [721.55, 1023.95, -8.41],
     leftMiddleDistal: [739.28, 997.67, -7.59],
     leftRingProximal: [686.55, 1063.35, -31.23],
     leftRingIntermediate: [714.43, 1027.63, -34.76],
     leftRingDistal: [730.06, 1002.59, -36.76],
     leftLittleProximal: [679.02, 1066.21, -50.25],
     leftLittleIntermediate: [700.71, 1037.22, -57.85],
     leftLittleDistal: [712.21, 1018.65, -61.78],
     leftUpperLeg: [100.36, 987.62, -13.28],
     leftLowerLeg: [102.68, 530.45, 3.82],
     leftFoot: [103.95, 91.17, -15.73],
     leftToes: [118.76, 21.71, 107.1],
    },
  },
};

/** A body's joints without its surface. */
export interface BodyRest {
  skeleton: BodySkeleton;
  stander: Stander;
  /** From the body's frame to the head form's, metres. */
  headOffsetM: Vec3;
}

/** As many bodies by measures as were last asked for: sliders ask for a new one with every move. */
const MOST_TOLD = 64;
const kept = new Map<string, BodyRest>();
const keyOf = (ask: BodyAsk) => (isOfSize(ask) ? ask.size : JSON.stringify([ask.size, ask.body, ask.head]));

/** The joints at rest of a body; of one that nobody told of yet (`tellRest`) those of its size stand in. Always the same object for one. */
export function bodyRest(ask: BodyAsk): BodyRest {
  return kept.get(keyOf(ask)) ?? restOfSize(ask.size);
}
export const knowsRest = (ask: BodyAsk): boolean => isOfSize(ask) || kept.has(keyOf(ask));

export function restOfSize(size: FormSize): BodyRest {
  const rest = kept.get(size) ?? make(RESTS[size]);
  kept.set(size, rest);
  return rest;
}

/** Keeps where the joints of a body are that was made elsewhere. */
export function tellRest(ask: BodyAsk, rest: RestMm): void {
  if (knowsRest(ask)) return;
  kept.set(keyOf(ask), make(rest));
  const others = [...kept.keys()].filter((key) => key.startsWith('['));
  if (others.length > MOST_TOLD) kept.delete(others[0]);
}

function make({ headOffsetMm, heelMm, jointsMm }: RestMm): BodyRest {
  const skeleton = bodySkeleton({ joints: jointsMm as Record<string, Vec3> });
  const metres = (v: Vec3): Vec3 => [v[0] / 1000, v[1] / 1000, v[2] / 1000];
  const heel = metres(heelMm);
  return {
    skeleton,
    stander: { joint: (bone) => skeleton.rest[bone].place, heel: (side) => (side === 'left' ? heel : [-heel[0], heel[1], heel[2]]) },
    headOffsetM: metres(headOffsetMm),
  };
}
