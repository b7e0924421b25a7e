/** A figure's skeleton that a file brought, told bone by bone: by names, where they say enough, else by its tree. */
import type { Document } from '@gltf-transform/core';
import { Vector3 } from 'three';
import { type Model, nodeMatrices, restPose } from '../../model';
import { HUMANOID_BONES, HUMANOID_PARENT } from '../../words/humanoid';
import { RigError } from '../middle';
import { byNames } from './names';
import { byTree } from './tree';

export interface KnownSkeleton {
  /** Bone of a humanoid → node. */
  nodeOf: ReadonlyMap<string, number>;
  /** Joints that are none of a figure's bones: twists, tails, faces. */
  others: number[];
  by: 'names' | 'tree';
}
export interface ToldSkeleton extends KnownSkeleton {
  /** Bones without which nothing moves as a figure does. */
  missing: string[];
}

/** Without these nothing moves as a figure does. */
const NEEDED = [
  'hips',
  'spine',
  'head',
  ...['left', 'right'].flatMap((s) => ['UpperArm', 'LowerArm', 'Hand', 'UpperLeg', 'LowerLeg', 'Foot'].map((n) => s + n)),
];

/** Joints of a model, parents first: what skins follow, and where it has none what clips move, with the tips of both. */
export function jointsOf(model: Model): number[] {
  const named = new Set(model.skins.flatMap((s) => s.joints));
  if (named.size === 0) for (const c of model.clips) for (const { node } of c.channels) named.add(node);
  const order: number[] = [];
  const visit = (n: number, below: boolean) => {
    const own = named.has(n) || (below && model.nodes[n].mesh < 0);
    if (own) order.push(n);
    for (const c of model.nodes[n].children) visit(c, own);
  };
  for (const root of model.sceneRoots) visit(root, false);
  return order;
}

/** What can be told of a skeleton: by hand first, then by names, else by its tree. Bones that a figure needs may be missing. */
export function toldSkeleton(model: Model): ToldSkeleton {
  const nodes = jointsOf(model);
  const at = new Map(nodes.map((n, i) => [n, i]));
  const world = nodeMatrices(model, restPose(model));
  const joints = nodes.map((node) => ({
    node,
    // of what was told by hand the name says nothing
    name: model.nodes[node].humanoid === null ? model.nodes[node].name : '',
    parent: at.get(model.nodes[node].parent) ?? -1,
    place: new Vector3().setFromMatrixPosition(world[node]),
  }));
  const parentOf = (i: number) => joints[i].parent;
  const byHand = new Map(
    nodes.flatMap((n, i) => (model.nodes[n].humanoid === null ? [] : [[i, model.nodes[n].humanoid as string] as const])),
  );
  const withHand = (of: ReadonlyMap<string, number>): Map<string, number> => {
    const out = new Map([...of].filter(([, i]) => !byHand.has(i)));
    for (const [i, bone] of byHand) if (HUMANOID_BONES.includes(bone)) out.set(bone, i);
    return out;
  };
  // ours are called what they are
  const own = withHand(new Map(HUMANOID_BONES.flatMap((n) => joints.flatMap((j, i) => (j.name === n ? [[n, i] as const] : [])))));
  const named =
    missingOf(own).length === 0 ? own : withHand(inTree(withSpine(withHand(byNames(joints)), parentOf, new Set(byHand.keys())), parentOf));
  const found = missingOf(named).length > 0 ? byTree(joints) : null;
  const tree = found && withHand(inTree(withNames(found, named), parentOf));
  const best = tree && missingOf(tree).length === 0 ? tree : named;
  const taken = new Set(best.values());
  return {
    nodeOf: new Map(HUMANOID_BONES.flatMap((n) => (best.has(n) ? [[n, nodes[best.get(n) as number]] as const] : []))),
    others: nodes.filter((_, i) => !taken.has(i)),
    by: best === tree ? 'tree' : 'names',
    missing: missingOf(best),
  };
}

/** @throws {RigError} `rig/no-figure` which bones are missing */
export function knownSkeleton(model: Model): KnownSkeleton {
  const { missing, ...known } = toldSkeleton(model);
  if (missing.length > 0)
    throw new RigError(
      'rig/no-figure',
      `Motion needs the bones of a figure, and there is no ${missing.slice(0, 3).join(', ')}. Raise a figure first, or say which bone is which.`,
    );
  return known;
}

/** Writes what was said by hand of joints, by their names. @returns names that no node has */
export function tellBones(document: Document, joints: Readonly<Record<string, string | null>>): string[] {
  const left = new Set(Object.keys(joints));
  for (const node of document.getRoot().listNodes()) {
    const name = node.getName();
    if (!left.delete(name)) continue;
    node.setExtras({ ...node.getExtras(), humanoid: joints[name] ?? '' });
  }
  return [...left];
}

const missingOf = (of: ReadonlyMap<string, number>) => NEEDED.filter((n) => !of.has(n));

const up = (i: number, parentOf: (i: number) => number): number[] => {
  const line: number[] = [];
  for (let p = parentOf(i); p >= 0; p = parentOf(p)) line.push(p);
  return line;
};

/** The spine is what leads from the hips to the neck, whatever its bones are called: the first, the next and the last of it. */
function withSpine(of: Map<string, number>, parentOf: (i: number) => number, kept: ReadonlySet<number>): Map<string, number> {
  const out = new Map(of);
  const [hips, top] = [of.get('hips'), of.get('neck') ?? of.get('head')];
  const arm = of.get('leftShoulder') ?? of.get('leftUpperArm');
  if (hips === undefined || top === undefined) return out;
  const line = up(top, parentOf);
  const from = line.indexOf(hips);
  if (from < 0) return out;
  const between = line.slice(0, from).reverse();
  // what comes above where arms branch off belongs to the neck
  const branch = arm === undefined ? -1 : between.indexOf(up(arm, parentOf).find((p) => between.includes(p)) ?? -1);
  const spine = branch >= 0 ? between.slice(0, branch + 1) : between;
  const names = spine.length < 3 ? ['spine', 'chest'] : ['spine', 'chest', 'upperChest'];
  names.forEach((n, k) => {
    const i = k === 2 ? spine[spine.length - 1] : spine[k];
    if (i !== undefined && !kept.has(i) && !kept.has(out.get(n) ?? -1)) out.set(n, i);
  });
  return out;
}

/** What the tree does not tell, fingers and eyes, as it is called. */
function withNames(tree: ReadonlyMap<string, number>, named: ReadonlyMap<string, number>): Map<string, number> {
  const taken = new Set(tree.values());
  return new Map([...tree, ...[...named].filter(([bone, i]) => !tree.has(bone) && !taken.has(i))]);
}

/** Without what does not hang where a figure's bone of that name does. */
function inTree(of: ReadonlyMap<string, number>, parentOf: (i: number) => number): Map<string, number> {
  const out = new Map<string, number>();
  for (const bone of HUMANOID_BONES) {
    const i = of.get(bone);
    if (i === undefined) continue;
    let parent = HUMANOID_PARENT[bone];
    while (parent && !out.has(parent)) parent = HUMANOID_PARENT[parent];
    if (!parent || up(i, parentOf).includes(out.get(parent) as number)) out.set(bone, i);
  }
  return out;
}
