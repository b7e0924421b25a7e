/**
 * Where the joints of a body of each size are at rest, so that whoever only places things on joints needs no surface: mm, the body's own
 * frame (floor y = 0, hips at z = 0, +Z forward, +X its left). A test holds them to the body that is made.
 */
import type { FormSize } from '../measures';
import type { Vec3 } from '../vec';
import type { Stander } from './motion';
import { type BodySkeleton, bodySkeleton } from './pose';

interface RestMm {
  /** From the body's frame to the head form's. */
  headOffsetMm: Vec3;
  /** The left heel. */
  heelMm: Vec3;
  /** The middle's and the left's. */
  jointsMm: Readonly<Record<string, Vec3>>;
}

// biome-ignore format: a table, one joint a line
const RESTS: Readonly<Record<FormSize, RestMm>> = {
  S: {
    headOffsetMm: [0, 1481.13, 17.51],
    heelMm: [88.39, 18.25, -68.21],
    jointsMm: {
     hips: [0, 858.29, 0],
     spine: [0, 942.88, -22.1],
     chest: [0, 1041.17, -25.38],
     upperChest: [0, 1148.51, -23.06],
     neck: [0, 1347.04, -30.07],
     head: [0, 1456.01, 0.45],
     leftShoulder: [22.5, 1308.08, 4.73],
     leftUpperArm: [178.89, 1286, -17.66],
     leftLowerArm: [361.7, 1109.47, -17.66],
     leftHand: [519.11, 957.45, -17.66],
     leftThumbMetacarpal: [526.9, 940.13, 0.86],
     leftThumbProximal: [537.45, 913.82, 28.6],
     leftThumbDistal: [548.23, 893.92, 45.46],
     leftIndexProximal: [574.31, 902.93, 8.35],
     leftIndexIntermediate: [598.97, 874.51, 12.95],
     leftIndexDistal: [612.05, 855.81, 15.11],
     leftMiddleProximal: [576.47, 903.9, -9.28],
     leftMiddleIntermediate: [602.52, 872.85, -7.87],
     leftMiddleDistal: [617.3, 850.93, -7.2],
     leftRingProximal: [573.32, 905.72, -26.91],
     leftRingIntermediate: [596.58, 875.92, -29.86],
     leftRingDistal: [609.62, 855.03, -31.53],
     leftLittleProximal: [567.05, 908.1, -42.78],
     leftLittleIntermediate: [585.14, 883.92, -49.12],
     leftLittleDistal: [594.73, 868.43, -52.39],
     leftUpperLeg: [86.4, 829.97, -11.46],
     leftLowerLeg: [93.71, 444.85, 2.73],
     leftFoot: [95.89, 77.3, -13.94],
     leftToes: [108.45, 18.4, 90.2],
    },
  },
  M: {
    headOffsetMm: [0, 1614.54, 19.19],
    heelMm: [91.86, 19.81, -73.49],
    jointsMm: {
     hips: [0, 941.22, 0],
     spine: [0, 1032.58, -23.45],
     chest: [0, 1138.9, -27.35],
     upperChest: [0, 1255.04, -24.65],
     neck: [0, 1469.49, -32.28],
     head: [0, 1588.04, 1.19],
     leftShoulder: [24.11, 1427.94, 5.27],
     leftUpperArm: [196.63, 1403.63, -18.61],
     leftLowerArm: [397.55, 1209.6, -18.61],
     leftHand: [570.57, 1042.51, -18.61],
     leftThumbMetacarpal: [579.13, 1023.47, 1.75],
     leftThumbProximal: [590.74, 994.54, 32.25],
     leftThumbDistal: [602.58, 972.67, 50.78],
     leftIndexProximal: [631.26, 982.57, 9.99],
     leftIndexIntermediate: [658.38, 951.33, 15.05],
     leftIndexDistal: [672.75, 930.76, 17.42],
     leftMiddleProximal: [633.64, 983.64, -9.4],
     leftMiddleIntermediate: [662.28, 949.5, -7.85],
     leftMiddleDistal: [678.53, 925.4, -7.11],
     leftRingProximal: [630.17, 985.63, -28.78],
     leftRingIntermediate: [655.74, 952.88, -32.02],
     leftRingDistal: [670.08, 929.91, -33.86],
     leftLittleProximal: [623.27, 988.25, -46.23],
     leftLittleIntermediate: [643.16, 961.67, -53.2],
     leftLittleDistal: [653.71, 944.64, -56.8],
     leftUpperLeg: [91.27, 910.65, -12.25],
     leftLowerLeg: [97.78, 488.87, 3.49],
     leftFoot: [100, 83.9, -14.58],
     leftToes: [113.63, 19.98, 98.46],
    },
  },
  L: {
    headOffsetMm: [0, 1747.2, 20.43],
    heelMm: [95.1, 21.53, -79.75],
    jointsMm: {
     hips: [0, 1020.56, 0],
     spine: [0, 1119.06, -26.82],
     chest: [0, 1233.79, -31.43],
     upperChest: [0, 1359.2, -27.42],
     neck: [0, 1590.2, -35.34],
     head: [0, 1719.18, 1.39],
     leftShoulder: [25.82, 1545.78, 5.08],
     leftUpperArm: [214.52, 1518.49, -20.13],
     leftLowerArm: [433.25, 1307.27, -20.13],
     leftHand: [621.59, 1125.39, -20.13],
     leftThumbMetacarpal: [630.92, 1104.63, 2.06],
     leftThumbProximal: [643.58, 1073.08, 35.33],
     leftThumbDistal: [656.49, 1049.23, 55.53],
     leftIndexProximal: [687.76, 1060.02, 11.05],
     leftIndexIntermediate: [717.33, 1025.96, 16.56],
     leftIndexDistal: [733, 1003.54, 19.15],
     leftMiddleProximal: [690.35, 1061.19, -10.09],
     leftMiddleIntermediate: [721.58, 1023.97, -8.4],
     leftMiddleDistal: [739.31, 997.69, -7.59],
     leftRingProximal: [686.58, 1063.37, -31.23],
     leftRingIntermediate: [714.46, 1027.65, -34.76],
     leftRingDistal: [730.09, 1002.6, -36.76],
     leftLittleProximal: [679.06, 1066.22, -50.25],
     leftLittleIntermediate: [700.74, 1037.24, -57.85],
     leftLittleDistal: [712.24, 1018.67, -61.77],
     leftUpperLeg: [100.36, 987.62, -13.28],
     leftLowerLeg: [102.68, 530.46, 3.82],
     leftFoot: [103.95, 91.17, -15.73],
     leftToes: [118.76, 21.71, 107.09],
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

const kept: Partial<Record<FormSize, BodyRest>> = {};

/** The joints at rest of a body of a size. Made once. */
export function bodyRest(size: FormSize): BodyRest {
  kept[size] ??= make(RESTS[size]);
  return kept[size];
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
