/** Bones of a figure by their names, in the habits files have: words of the trade and of anatomy, and the names of the H-Anim standard. */
import { fingerBones, HUMANOID_FINGERS } from '../../words/humanoid';

export type Side = 'left' | 'right';
export interface Read {
  side: Side | null;
  /** What is left of a name without its side, numbers and marks. */
  word: string;
}

const SIDE: Readonly<Record<string, Side>> = { left: 'left', l: 'left', lt: 'left', right: 'right', r: 'right', rt: 'right' };
/** Words that say that it is a bone, which is known. */
const IDLE = /^(jnt|joint|bone|bn|def|skin|b|j|the|end|base)$/;

/** A name as side and word: `upper_arm.L`, `LeftUpperArm` and `figure:l_upperarm` are one. */
export function readName(name: string): Read {
  const own = name.slice(name.lastIndexOf(':') + 1);
  const tokens = own
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .replace(/([A-Z])([A-Z][a-z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z]+/)
    .filter((t) => t !== '');
  let side: Side | null = null;
  const words: string[] = [];
  for (const t of tokens) {
    if (SIDE[t]) side ??= SIDE[t];
    else if (!IDLE.test(t)) {
      const joined = /^(left|right)(.+)$/.exec(t);
      if (joined) side ??= joined[1] as Side;
      words.push(joined ? joined[2] : t);
    }
  }
  return { side, word: words.join('') };
}

/** What words mean, the plainest first: where two joints could be one bone the plainer name is it. */
const WORDS: readonly (readonly [part: string, sided: boolean, pattern: RegExp])[] = [
  ['hips', false, /^(hips?|pelvis)$/],
  ['head', false, /^head$/],
  ['neck', false, /^neck$/],
  ['UpperArm', true, /(up|upper)arm$|humerus$/],
  ['LowerArm', true, /(fore|low|lower)arm$/],
  ['Hand', true, /^(hand|wrist)$/],
  ['UpperLeg', true, /(up|upper)leg$|thigh$|femur$/],
  ['LowerLeg', true, /(low|lower)leg$|^(shin|calf|crus)$|tibia$/],
  ['Foot', true, /^(foot|ankle)$/],
  ['Toes', true, /^(toes?|ball)$/],
  ['Shoulder', true, /clavicle$|collar$|collarbone$|sternoclavicular$/],
  // the joint's name instead of the bone's
  ['LowerArm', true, /^elbow$/],
  ['LowerLeg', true, /^knee$/],
  ['UpperLeg', true, /^hip$/],
  // one word, of which two bones could be meant: the other is there by its plain name
  ['UpperArm', true, /^arm$/],
  ['LowerLeg', true, /^leg$/],
  ['UpperArm', true, /^shoulder$/],
  ['Shoulder', true, /^shoulder$/],
  // H-Anim (ISO/IEC 19774-1)
  ['hips', false, /^(humanoidroot|sacroiliac|sacrum)$/],
  ['head', false, /^skull$/],
  ['neck', false, /^vc$/],
  ['Hand', true, /^(radiocarpal|carpus)$/],
  ['Foot', true, /^(talocrural|talus)$/],
  ['Toes', true, /(metatarsophalangeal|midtarsal)$/],
];

const FINGER_WORDS: Readonly<Record<string, RegExp>> = {
  Thumb: /thumb|pollex/,
  Index: /index|point/,
  Middle: /mid/,
  Ring: /ring/,
  Little: /little|pinky|pinkie/,
};

export interface NamedJoint {
  node: number;
  name: string;
  /** Number of the parent among the joints, −1 none. */
  parent: number;
}

/** Bone → joint, as far as names say. Spines and fingers go by their place in the tree, not here. */
export function byNames(joints: readonly NamedJoint[]): Map<string, number> {
  const of = new Map<string, number>();
  const taken = new Set<number>();
  const reads = joints.map((j) => readName(j.name));
  for (const [part, sided, pattern] of WORDS)
    for (const [i, { side, word }] of reads.entries()) {
      if (taken.has(i) || (side !== null) !== sided || !pattern.test(word)) continue;
      const bone = side ? `${side}${part}` : part;
      if (of.has(bone)) continue;
      of.set(bone, i);
      taken.add(i);
    }
  for (const side of ['left', 'right'] as const) nameFingers(joints, reads, side, of);
  return of;
}

/** Joints named for a finger, from the hand on: metacarpals, of which only a thumb's is a bone of its own, come first. */
function nameFingers(joints: readonly NamedJoint[], reads: readonly Read[], side: Side, of: Map<string, number>): void {
  const hand = of.get(`${side}Hand`);
  if (hand === undefined) return;
  const below = (i: number): boolean => i >= 0 && (joints[i].parent === hand || below(joints[i].parent));
  for (const finger of HUMANOID_FINGERS) {
    const chain = joints.flatMap((_, i) => (FINGER_WORDS[finger].test(reads[i].word) && below(i) ? [i] : []));
    const inLine = chain.filter((i, k) => k === 0 || joints[i].parent === chain[k - 1]);
    const bones = fingerBones(finger).map((n) => n.replace('left', side));
    const tips = inLine.length > bones.length && finger !== 'Thumb' && /metacarp/.test(reads[inLine[0]].word) ? inLine.slice(1) : inLine;
    for (const [k, bone] of bones.entries()) if (tips[k] !== undefined) of.set(bone, tips[k]);
  }
}
