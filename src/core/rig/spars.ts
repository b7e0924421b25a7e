/** The bones a model has, as they are drawn and listed: spars in chains. */
import { Vector3 } from 'three';
import { type Model, nodeMatrices, restPose } from '../model';
import type { Vec } from './middle';

export interface Spar {
  name: string;
  /** At rest, metres of the model; a bone that nothing says the end of is a point. */
  head: Vec;
  tail: Vec;
  /** Place in the list; −1 of a topmost one. */
  parent: number;
  /** 0 … 1; 1 of one that nothing doubts. */
  sure: number;
}

export interface SparChain {
  name: string;
  /** Places in the list of spars, root first. */
  spars: number[];
  lengthM: number;
  /** Chain it hangs from; −1: a root's. */
  from: number;
  /** The name it was found under, and which of that chain's joints it begins at; null where nothing says. */
  found: { name: string; joint: number } | null;
  /** How far its line strays from 1, 2, 3 … straight bones, mm; null where nothing says. */
  strayMm: number[] | null;
}

const NUMBERED = /^(.*?)[\s._-]*\d+$/;
const far = (a: Vec, b: Vec) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** Every joint of every skin, and the chains they make: a chain goes on where a bone has one below, or one of its own name. */
export function sparsOf(model: Model): { spars: Spar[]; chains: SparChain[] } {
  const world = nodeMatrices(model, restPose(model));
  const joints = [...new Set(model.skins.flatMap((s) => s.joints))];
  const place = new Map(joints.map((j, i) => [j, i]));
  const at = (node: number): Vec => new Vector3().setFromMatrixPosition(world[node]).toArray();
  const below = joints.map((j) => model.nodes[j].children.flatMap((c) => place.get(c) ?? []));
  const stem = (i: number) => NUMBERED.exec(model.nodes[joints[i]].name)?.[1] ?? model.nodes[joints[i]].name;
  const next = joints.map((_, i) => {
    const on = below[i].filter((c) => model.nodes[joints[c]].chain === null);
    const same = on.filter((c) => stem(c) === stem(i));
    if (same.length === 1) return same[0];
    return on.length === 1 && below[i].length === 1 && model.nodes[joints[i]].parent >= 0 ? on[0] : -1;
  });
  const spars = joints.map((j, i): Spar => {
    const { name, parent, tailM, sure } = model.nodes[j];
    const head = at(j);
    const end = tailM && new Vector3(...tailM).applyMatrix4(world[j]).toArray();
    // where it was parted the next begins
    const after = next[i] >= 0 ? next[i] : below[i].find((c) => (model.nodes[joints[c]].chain?.joint ?? 0) > 0);
    return { name, head, tail: after !== undefined ? at(joints[after]) : (end ?? head), parent: place.get(parent) ?? -1, sure: sure ?? 1 };
  });
  const goesOn = new Set(next);
  const chains: SparChain[] = [];
  const chainOf = new Map<number, number>();
  for (let i = 0; i < spars.length; i++) {
    if (goesOn.has(i)) continue;
    const own = [i];
    for (let n = next[i]; n >= 0; n = next[n]) own.push(n);
    // a root that chains hang from is no chain itself
    if (own.length === 1 && below[i].length > 0 && !model.nodes[joints[i]].chain) continue;
    for (const o of own) chainOf.set(o, chains.length);
    const { chain } = model.nodes[joints[i]];
    chains.push({
      name: own.length > 1 || chain ? stem(i) : spars[i].name,
      spars: own,
      lengthM: own.reduce((sum, o) => sum + far(spars[o].head, spars[o].tail), 0),
      from: -1,
      found: chain && { name: chain.found, joint: chain.joint },
      strayMm: model.nodes[joints[i]].strayMm,
    });
  }
  for (const c of chains) c.from = chainOf.get(spars[c.spars[0]].parent) ?? -1;
  return { spars, chains };
}
