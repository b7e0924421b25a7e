/** The bones of a humanoid by the names, and in the tree, of VRM 1.0 (VRMC_vrm, humanoid); jaw and eyes are left out. */

const FINGER_NAMES = ['Thumb', 'Index', 'Middle', 'Ring', 'Little'] as const;
export type FingerName = (typeof FINGER_NAMES)[number];
export const HUMANOID_FINGERS: readonly FingerName[] = FINGER_NAMES;

/** Bones of a finger of the left, root first. */
export const fingerBones = (finger: FingerName): string[] =>
  (finger === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal']).map((n) => `left${finger}${n}`);

export const mirrorName = (n: string) => n.replace(/^(left|right)/, (s) => (s === 'left' ? 'right' : 'left'));

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
    for (const f of FINGER_NAMES) line(`${s}Hand`, ...fingerBones(f).map((n) => n.replace('left', s)));
    line('hips', `${s}UpperLeg`, `${s}LowerLeg`, `${s}Foot`, `${s}Toes`);
  }
  return of;
}
/** Bone → the one it hangs from; null for the hips. */
export const HUMANOID_PARENT: Readonly<Record<string, string | null>> = parents();
/** All 52, parents first. */
export const HUMANOID_BONES: readonly string[] = Object.keys(HUMANOID_PARENT);

const FINGER = new RegExp(FINGER_NAMES.join('|'));
export const HUMANOID_DETAILS = [52, 22, 17] as const;
export type HumanoidDetail = (typeof HUMANOID_DETAILS)[number];
/** Names kept at each detail; what the others would move goes with the nearest kept ancestor. */
export const HUMANOID_SETS: Readonly<Record<HumanoidDetail, readonly string[]>> = {
  52: HUMANOID_BONES,
  22: HUMANOID_BONES.filter((n) => !FINGER.test(n)),
  17: HUMANOID_BONES.filter((n) => !FINGER.test(n) && !/Shoulder|Toes|upperChest/.test(n)),
};
/** The nearest ancestor that a set has; null for the hips. */
export function keptParent(bone: string, set: readonly string[]): string | null {
  let q = HUMANOID_PARENT[bone];
  while (q && !set.includes(q)) q = HUMANOID_PARENT[q];
  return q;
}

/** Motions of our own, and the speeds they bear: those of a person of usual size; null: it has none. */
export const MOTION_SPEEDS = {
  idle: null,
  walk: { unit: 'm/s', usual: 1.3, least: 0.4, most: 2 },
  turn: { unit: '°/s', usual: 60, least: 20, most: 120 },
  wave: null,
  bow: null,
  'sway-dance': { unit: 'beats/min', usual: 72, least: 40, most: 120 },
} as const satisfies Record<string, { unit: string; usual: number; least: number; most: number } | null>;
export type MotionName = keyof typeof MOTION_SPEEDS;
export const MOTION_NAMES = Object.keys(MOTION_SPEEDS) as MotionName[];

/** A joint that was found and is less sure than this is worth a look. */
export const SURE = 0.6;

/** Areas of a body, by what moves them. */
export const BODY_AREAS = ['head', 'neck', 'trunk', 'arms', 'hands', 'legs', 'feet'] as const;
export type BodyArea = (typeof BODY_AREAS)[number];
const AREA_OF: readonly (readonly [RegExp, BodyArea])[] = [
  [/^head$/, 'head'],
  [/^neck$/, 'neck'],
  [/Arm$/, 'arms'],
  [/Leg$/, 'legs'],
  [/Foot$|Toes$/, 'feet'],
  [new RegExp(`Hand$|${FINGER_NAMES.join('|')}`), 'hands'],
];
/** The area that a bone of a humanoid moves; collar bones are the trunk's. */
export const areaOf = (bone: string): BodyArea => AREA_OF.find(([names]) => names.test(bone))?.[1] ?? 'trunk';

const JOINT_WORDS: Readonly<Record<string, string>> = {
  hips: 'hips',
  spine: 'small of the back',
  chest: 'ribs',
  upperChest: 'breast',
  neck: 'root of the neck',
  head: 'head on the neck',
  Shoulder: 'collar bone',
  UpperArm: 'shoulder',
  LowerArm: 'elbow',
  Hand: 'wrist',
  UpperLeg: 'hip',
  LowerLeg: 'knee',
  Foot: 'ankle',
  Toes: 'ball of the foot',
};
const PHALANX_WORDS: Readonly<Record<string, string>> = { Metacarpal: 'root', Proximal: 'root', Intermediate: 'middle', Distal: 'end' };
const OF_FINGER = new RegExp(`^(left|right)(${FINGER_NAMES.join('|')})(Metacarpal|Proximal|Intermediate|Distal)$`);

/** The joint where a bone begins and turns: “left elbow”. A bone of another name as it is called. */
export function jointWords(bone: string): string {
  const finger = OF_FINGER.exec(bone);
  if (finger) {
    const [, side, name, phalanx] = finger;
    const thumb = name === 'Thumb';
    return `${side} ${name.toLowerCase()}${thumb ? '' : ' finger'}, ${thumb && phalanx === 'Proximal' ? 'middle' : PHALANX_WORDS[phalanx]}`;
  }
  const side = /^(left|right)(.+)$/.exec(bone);
  const word = JOINT_WORDS[side ? side[2] : bone];
  return word ? `${side ? `${side[1]} ` : ''}${word}` : bone;
}
