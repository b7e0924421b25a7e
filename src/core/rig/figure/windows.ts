/**
 * Where a body bends: along a limb the weights of two bones go over into one another about their joint, over a length that its thickness
 * asks for (*common practice*: a bend shows as far as the limb is thick). Heat and voxels alone let them fade all along both bones.
 */
import { fingerBones, HUMANOID_FINGERS, mirrorName } from '../../words/humanoid';
import type { Bone } from '../bone';
import type { Vec } from '../middle';
import type { Surface } from '../surface';
import { add, dot, size, sub, unit } from '../vec';
import type { Binding } from '../weights/bind';
import { setShares } from '../weights/shares';
import { type Shares, sharesAt } from '../weights/write';

/** Of the half thickness at the joint; of the shorter of both bones. */
const THICK = 0.85;
const LONG = 0.45;
/** Of the shorter bone: what lies so near to the joint's plane says how thick the limb is there. */
const NEAR = 0.2;

const LIMBS: readonly (readonly string[])[] = [
  ['leftUpperArm', 'leftLowerArm', 'leftHand'],
  ['leftUpperLeg', 'leftLowerLeg', 'leftFoot', 'leftToes'],
  ...HUMANOID_FINGERS.map((f) => fingerBones(f)),
];
const TRUNK = ['hips', 'spine', 'chest', 'upperChest', 'neck'];
const CHAINS = [TRUNK, ...LIMBS, ...LIMBS.map((l) => l.map(mirrorName))];

export const level = (from: number, to: number, x: number): number => {
  const t = Math.min(1, Math.max(0, (x - from) / (to - from)));
  return t * t * (3 - 2 * t);
};

/** Changes shares in place; what two neighbouring bones of a limb have together stays. */
export function bendAtJoints(surface: Surface, bones: readonly Bone[], binding: Binding): void {
  const place = new Map(bones.map((b, i) => [b.name, i]));
  for (const chain of CHAINS) {
    const own = chain.flatMap((n) => place.get(n) ?? []);
    for (let k = 1; k < own.length; k++) bendAt(surface, bones, binding, own[k - 1], own[k]);
  }
}

function bendAt({ positions, piece }: Surface, bones: readonly Bone[], binding: Binding, above: number, below: number): void {
  const [a, b] = [bones[above], bones[below]];
  const along = (x: Bone) => sub(x.tail, x.head);
  const short = Math.min(size(sub(b.head, a.head)), size(along(b)));
  if (!(short > 0)) return;
  const normal = unit(add(unit(sub(b.head, a.head)), unit(along(b))));
  const between: { v: number; ahead: number; own: Shares }[] = [];
  const thick: number[] = [];
  for (let v = 0; v < piece.length; v++) {
    const own = sharesAt(binding, v);
    const both = own.reduce((s, [bone, w]) => (bone === above || bone === below ? s + w : s), 0);
    if (both === 0) continue;
    const off = sub([positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]] as Vec, b.head);
    const ahead = dot(off, normal);
    between.push({ v, ahead, own });
    if (Math.abs(ahead) < short * NEAR && both > 0.5) thick.push(Math.sqrt(Math.max(0, dot(off, off) - ahead * ahead)));
  }
  if (thick.length === 0) return;
  const half = Math.min(THICK * thick.sort((x, y) => x - y)[thick.length >> 1], LONG * short);
  for (const { v, ahead, own } of between) {
    const both = own.reduce((s, [bone, w]) => (bone === above || bone === below ? s + w : s), 0);
    const share = level(-half, half, ahead);
    setShares(binding, v, [
      ...own.filter(([bone]) => bone !== above && bone !== below),
      [above, both * (1 - share)],
      [below, both * share],
    ]);
  }
}

/** Of a collar bone's length: from its root on it gains, over so much below it it fades; the most it has of what the trunk has there. */
const COLLAR = { gains: [0.05, 0.65], fades: 0.5, most: 0.85 } as const;
const BESIDE_COLLAR = ['upperChest', 'chest', 'spine', 'neck'];

/** A collar bone lies over the chest and moves its upper edge alone: what it has elsewhere is the trunk's. Changes shares in place. */
export function collarBones({ positions, piece }: Surface, bones: readonly Bone[], binding: Binding): void {
  const place = new Map(bones.map((b, i) => [b.name, i]));
  const trunk = BESIDE_COLLAR.flatMap((n) => place.get(n) ?? []);
  const [base, neck] = [bones[trunk[0]], bones[place.get('neck') ?? -1]];
  if (!base || !neck) return;
  const up = unit(sub(neck.head, base.head));
  for (const side of ['left', 'right']) {
    const collar = place.get(`${side}Shoulder`) ?? -1;
    if (collar < 0) continue;
    const { head, tail } = bones[collar];
    const way = sub(tail, head);
    const long = size(way);
    if (!(long > 0)) continue;
    for (let v = 0; v < piece.length; v++) {
      const own = sharesAt(binding, v);
      const had = own.find(([b]) => b === collar)?.[1] ?? 0;
      if (had === 0) continue;
      const off = sub([positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]] as Vec, head);
      const along = dot(off, way) / long ** 2;
      const over = dot(add(off, way, -Math.min(1, Math.max(0, along))), up) / long;
      const whole = own.reduce((s, [b, w]) => (b === collar || trunk.includes(b) ? s + w : s), 0);
      const share = Math.min(had, whole * COLLAR.most * level(COLLAR.gains[0], COLLAR.gains[1], along) * level(-COLLAR.fades, 0, over));
      const others = own.filter(([b]) => trunk.includes(b));
      const sum = whole - had;
      const rest = whole - share;
      setShares(binding, v, [
        ...own.filter(([b]) => b !== collar && !trunk.includes(b)),
        [collar, share],
        // as the trunk has it there; where it had nothing, its uppermost
        ...(sum > 0.02 ? others.map(([b, w]): [number, number] => [b, (w / sum) * rest]) : [[trunk[0], rest] as [number, number]]),
      ]);
    }
  }
}

/** Of an upper arm's half thickness: so far from its bone it lets go, and holds nothing any more. */
const PIT = [1.4, 2.1] as const;

/** What lies below an arm pit, further from the arm's bone than an arm is thick, is the trunk's. Changes shares in place. */
export function armPits({ positions, piece }: Surface, bones: readonly Bone[], binding: Binding): void {
  const place = new Map(bones.map((b, i) => [b.name, i]));
  const trunk = BESIDE_COLLAR.flatMap((n) => place.get(n) ?? []);
  for (const side of ['left', 'right']) {
    const arm = place.get(`${side}UpperArm`) ?? -1;
    if (arm < 0 || trunk.length === 0) continue;
    const { head, tail } = bones[arm];
    const way = sub(tail, head);
    const long = size(way);
    if (!(long > 0)) continue;
    const held: { v: number; away: number; own: Shares; share: number }[] = [];
    const thick: number[] = [];
    for (let v = 0; v < piece.length; v++) {
      const own = sharesAt(binding, v);
      const share = own.find(([b]) => b === arm)?.[1] ?? 0;
      if (share === 0) continue;
      const off = sub([positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]] as Vec, head);
      const along = dot(off, way) / long ** 2;
      const away = size(add(off, way, -along));
      held.push({ v, away, own, share });
      if (share > 0.9 && along > 0.4 && along < 0.8) thick.push(away);
    }
    if (thick.length === 0) continue;
    const half = thick.sort((x, y) => x - y)[thick.length >> 1];
    for (const { v, away, own, share } of held) {
      const left = share * (1 - level(PIT[0] * half, PIT[1] * half, away));
      const of = own.filter(([b]) => trunk.includes(b));
      const sum = of.reduce((s, [, w]) => s + w, 0);
      if (left === share || sum === 0) continue;
      setShares(binding, v, [
        ...own.filter(([b]) => b !== arm && !trunk.includes(b)),
        [arm, left],
        ...of.map(([b, w]): [number, number] => [b, w + ((share - left) * w) / sum]),
      ]);
    }
  }
}
