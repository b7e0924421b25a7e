/** A figure's skeleton that a file brought, told bone by bone: by names, where they say enough, else by its tree. */
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

/** @throws {RigError} `rig/no-figure` which bones are missing */
export function knownSkeleton(model: Model): KnownSkeleton {
  const nodes = jointsOf(model);
  const at = new Map(nodes.map((n, i) => [n, i]));
  const world = nodeMatrices(model, restPose(model));
  const joints = nodes.map((node) => ({
    node,
    name: model.nodes[node].name,
    parent: at.get(model.nodes[node].parent) ?? -1,
    place: new Vector3().setFromMatrixPosition(world[node]),
  }));
  const parentOf = (i: number) => joints[i].parent;
  // ours are called what they are
  const own = new Map(HUMANOID_BONES.flatMap((n) => joints.flatMap((j, i) => (j.name === n ? [[n, i] as const] : []))));
  const named = missingOf(own).length === 0 ? own : inTree(withSpine(byNames(joints), parentOf), parentOf);
  const missing = missingOf(named);
  const tree = missing.length > 0 ? byTree(joints) : null;
  if (missing.length > 0 && (!tree || missingOf(tree).length > 0))
    throw new RigError(
      'rig/no-figure',
      `Motion needs the bones of a figure, and there is no ${missing.slice(0, 3).join(', ')}. Raise a figure first.`,
    );
  const found = tree ?? named;
  const taken = new Set(found.values());
  return {
    nodeOf: new Map(HUMANOID_BONES.flatMap((n) => (found.has(n) ? [[n, nodes[found.get(n) as number]] as const] : []))),
    others: nodes.filter((_, i) => !taken.has(i)),
    by: tree ? 'tree' : 'names',
  };
}

const missingOf = (of: ReadonlyMap<string, number>) => NEEDED.filter((n) => !of.has(n));

const up = (i: number, parentOf: (i: number) => number): number[] => {
  const line: number[] = [];
  for (let p = parentOf(i); p >= 0; p = parentOf(p)) line.push(p);
  return line;
};

/** The spine is what leads from the hips to the neck, whatever its bones are called: the first, the next and the last of it. */
function withSpine(of: Map<string, number>, parentOf: (i: number) => number): Map<string, number> {
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
    if (i !== undefined) out.set(n, i);
  });
  return out;
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
