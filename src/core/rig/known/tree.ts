/** Bones of a figure by how its joints branch and how long they are, whatever they are called. */
import { Vector3 } from 'three';

export interface TreeJoint {
  parent: number;
  place: Vector3;
}

/** A pair of limbs differ in length by less than this share. */
const PAIR = 0.2;
/** What is shorter than this share of the longest way from a joint is no limb: a twist, a face, a tip. */
const LIMB = 0.2;

interface Limb {
  first: number;
  lengthM: number;
}

/** Bone → joint; null where no five limbs branch off as a figure's do. Left and right go by where toes point, else by +X. */
export function byTree(joints: readonly TreeJoint[]): Map<string, number> | null {
  const children = joints.map((_, i) => joints.flatMap((j, c) => (j.parent === i ? [c] : [])));
  const reach = new Array<number>(joints.length).fill(0);
  // parents come before their children
  for (let i = joints.length - 1; i >= 0; i--) {
    const p = joints[i].parent;
    if (p >= 0) reach[p] = Math.max(reach[p], reach[i] + joints[i].place.distanceTo(joints[p].place));
  }
  const limbsOf = (i: number): Limb[] => {
    const all = children[i].map((first) => ({ first, lengthM: reach[first] + joints[first].place.distanceTo(joints[i].place) }));
    const most = Math.max(0, ...all.map((l) => l.lengthM));
    return all.filter((l) => l.lengthM > LIMB * most).sort((a, b) => b.lengthM - a.lengthM);
  };
  for (let hips = 0; hips < joints.length; hips++) {
    const limbs = limbsOf(hips);
    for (const { legs, below } of legsOf(limbs, limbsOf)) {
      for (const spine of limbs) {
        if (legs.includes(spine) || spine === below) continue;
        const found = upper(spine.first, limbsOf, children);
        if (!found) continue;
        const bones = putTogether(joints, children, hips, [legs[0].first, legs[1].first], found);
        if (bones) return bones;
      }
    }
  }
  return null;
}

/** Pairs that branch off where the spine does, or further on: of a trunk's root one bone may lead up and another to both legs. */
function legsOf(limbs: readonly Limb[], limbsOf: (i: number) => Limb[]): { legs: [Limb, Limb]; below: Limb | null }[] {
  const out: { legs: [Limb, Limb]; below: Limb | null }[] = pairsOf(limbs).map((legs) => ({ legs, below: null }));
  for (const below of limbs) {
    let next = limbsOf(below.first);
    while (next.length === 1) next = limbsOf(next[0].first);
    if (next.length === 2) for (const legs of pairsOf(next)) out.push({ legs, below });
  }
  return out;
}

function pairsOf(limbs: readonly Limb[]): [Limb, Limb][] {
  const out: [Limb, Limb][] = [];
  for (let i = 0; i < limbs.length; i++)
    for (let k = i + 1; k < limbs.length; k++) if (limbs[k].lengthM > (1 - PAIR) * limbs[i].lengthM) out.push([limbs[i], limbs[k]]);
  return out;
}

interface Upper {
  /** From the first above the hips to where arms branch off. */
  spine: number[];
  arms: [number, number];
  head: number;
}

/** Up a line without limbs to where two like ones and a shorter third branch off. */
function upper(first: number, limbsOf: (i: number) => Limb[], children: readonly number[][]): Upper | null {
  const spine: number[] = [];
  for (let at = first; ; ) {
    spine.push(at);
    const limbs = limbsOf(at);
    if (limbs.length >= 3) {
      const pair = pairsOf(limbs)[0];
      const head = pair && limbs.find((l) => !pair.includes(l));
      return pair && head ? { spine, arms: [pair[0].first, pair[1].first], head: head.first } : null;
    }
    if (limbs.length !== 1 || children[at].length === 0) return null;
    at = limbs[0].first;
  }
}

/** The line of joints to the next branching or the end. */
function lineFrom(first: number, children: readonly number[][]): number[] {
  const line = [first];
  while (children[line[line.length - 1]].length === 1) line.push(children[line[line.length - 1]][0]);
  return line;
}

function putTogether(
  joints: readonly TreeJoint[],
  children: readonly number[][],
  hips: number,
  legs: [number, number],
  { spine, arms, head }: Upper,
): Map<string, number> | null {
  const of = new Map([['hips', hips]]);
  const names = spine.length === 1 ? ['spine'] : spine.length === 2 ? ['spine', 'chest'] : ['spine', 'chest', 'upperChest'];
  for (const [k, n] of names.entries()) of.set(n, k === 2 ? spine[spine.length - 1] : spine[k]);
  const up = lineFrom(head, children);
  // a tip that goes no further is no head
  const top = up.length > 2 && children[up[up.length - 1]].length === 0 ? up[up.length - 2] : up[up.length - 1];
  if (up.length > 1) of.set('neck', up[0]);
  of.set('head', up.length > 1 ? top : up[0]);
  const limbs = [...arms.map((first) => ({ first, arm: true })), ...legs.map((first) => ({ first, arm: false }))].map(({ first, arm }) => {
    const line = lineFrom(first, children);
    const bend = bendOf(line.map((i) => joints[i].place));
    return bend < 0 ? null : { line, bend, arm };
  });
  if (limbs.some((l) => l === null)) return null;
  const [armA, armB, legA, legB] = limbs as NonNullable<(typeof limbs)[number]>[];
  const place = (i: number) => joints[i].place.clone();
  const upwards = place(of.get('head') as number)
    .sub(place(hips))
    .normalize();
  const toes = [legA, legB].flatMap(({ line, bend }) =>
    line[bend + 3] === undefined ? [] : [place(line[bend + 3]).sub(place(line[bend + 2]))],
  );
  const fore = toes.reduce((s, t) => s.add(t), new Vector3());
  const leftwards = fore.lengthSq() > 0 ? upwards.clone().cross(fore) : new Vector3(1, 0, 0);
  for (const [a, b] of [
    [armA, armB],
    [legA, legB],
  ]) {
    const aIsLeft =
      place(a.line[a.bend + 2])
        .sub(place(b.line[b.bend + 2]))
        .dot(leftwards) > 0;
    for (const [limb, side] of [
      [a, aIsLeft ? 'left' : 'right'],
      [b, aIsLeft ? 'right' : 'left'],
    ] as const) {
      const { line, bend, arm } = limb;
      const parts = arm ? ['UpperArm', 'LowerArm', 'Hand'] : ['UpperLeg', 'LowerLeg', 'Foot'];
      for (const [k, n] of parts.entries()) of.set(side + n, line[bend + k]);
      if (arm && bend > 0) of.set(`${side}Shoulder`, line[bend - 1]);
      if (!arm && line[bend + 3] !== undefined) of.set(`${side}Toes`, line[bend + 3]);
    }
  }
  return of;
}

/** A collar is often as long as a forearm: of two places that differ by less than this share the farther out is it. */
const ALIKE = 0.75;

/** Where the two longest bones in a row of a limb begin: an upper arm and a lower, a thigh and a shin. −1 where it has no two. */
function bendOf(line: readonly Vector3[]): number {
  const shorter = line.slice(0, -2).map((p, k) => Math.min(p.distanceTo(line[k + 1]), line[k + 1].distanceTo(line[k + 2])));
  return shorter.findLastIndex((l) => l > 0 && l >= ALIKE * Math.max(...shorter));
}
