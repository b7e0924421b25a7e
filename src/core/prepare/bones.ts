/** The bones step: idle ones out, four influences a vertex, and at most so many bones: the least moving follow their parents. */
import type { Document, Node, Skin } from '@gltf-transform/core';
import { Matrix4, Vector3 } from 'three';
import { weightSets } from '../intake/check/rig';
import { readFloats } from '../model/arrays';
import { readModel } from '../model/model';
import { nodeMatrices, poseAt } from '../model/pose';
import type { BonesSettings } from '../piece/recipe';
import { dropJoints, keepFour, mendRig } from './mendrig';

/** Times a clip is looked at. */
const LOOKS = 12;

export function runBones(document: Document, { dropUnused, fourInfluences, limit }: BonesSettings): void {
  if (fourInfluences) mendRig(document, new Set(['four-influences']));
  if (dropUnused) mendRig(document, new Set(['unused-bones']));
  if (limit === null) return;
  for (const skin of document.getRoot().listSkins()) if (skin.listJoints().length > limit) limitBones(document, skin, limit);
}

interface Bone {
  /** Place in the skin. */
  at: number;
  /** Sum of weights, and their middle at rest in mesh space. */
  weight: number;
  centre: Vector3;
}

/** Nearest joint above a joint in the hierarchy, −1 for a topmost one. */
function above(joints: readonly Node[], i: number): number {
  for (let n = joints[i].getParentNode(); n; n = n.getParentNode()) {
    const at = joints.indexOf(n);
    if (at >= 0) return at;
  }
  return -1;
}

function limitBones(document: Document, skin: Skin, limit: number): void {
  const joints = skin.listJoints();
  const primitives = document
    .getRoot()
    .listNodes()
    .filter((n) => n.getSkin() === skin)
    .flatMap((n) => n.getMesh()?.listPrimitives() ?? []);
  const bones: Bone[] = joints.map((_, at) => ({ at, weight: 0, centre: new Vector3() }));
  const v = new Vector3();
  for (const p of new Set(primitives)) {
    const place = readFloats(p.getAttribute('POSITION') as never);
    for (let s = 0; s < weightSets(p); s++) {
      const [j, w] = [readFloats(p.getAttribute(`JOINTS_${s}`) as never), readFloats(p.getAttribute(`WEIGHTS_${s}`) as never)];
      for (let i = 0; i < j.length; i++) {
        const bone = bones[j[i]];
        if (!bone || !(w[i] > 0)) continue;
        bone.weight += w[i];
        bone.centre.addScaledVector(v.fromArray(place, Math.floor(i / 4) * 3), w[i]);
      }
    }
  }
  for (const b of bones) if (b.weight > 0) b.centre.multiplyScalar(1 / b.weight);
  const poses = jointPoses(document, skin);
  // where each joint's vertices go: themselves at first
  const follows = joints.map((_, i) => i);
  const alive = new Set(bones.filter((b) => b.weight > 0).map((b) => b.at));
  const up = joints.map((_, i) => above(joints, i));
  const heir = (i: number): number => {
    let h = up[i];
    while (h >= 0 && follows[h] !== h) h = follows[h];
    return h;
  };
  const cost = (i: number): number => {
    const h = heir(i);
    if (h < 0) return Number.POSITIVE_INFINITY;
    let most = 0;
    for (const pose of poses)
      most = Math.max(most, v.copy(bones[i].centre).applyMatrix4(pose[i]).distanceTo(bones[i].centre.clone().applyMatrix4(pose[h])));
    // a model without clips: the least weight goes first
    return bones[i].weight * (poses.length > 1 ? most + 1e-9 : 1);
  };
  while (alive.size > limit) {
    let [least, price] = [-1, Number.POSITIVE_INFINITY];
    for (const i of alive) {
      const c = cost(i);
      if (c < price) [least, price] = [i, c];
    }
    if (least < 0) break;
    const h = heir(least);
    alive.delete(least);
    alive.add(h);
    follows[least] = h;
    const [from, to] = [bones[least], bones[h]];
    to.centre.multiplyScalar(to.weight).addScaledVector(from.centre, from.weight);
    to.weight += from.weight;
    to.centre.multiplyScalar(1 / to.weight);
  }
  const end = (i: number): number => (follows[i] === i ? i : end(follows[i]));
  for (const p of new Set(primitives))
    for (let s = 0; s < weightSets(p); s++) {
      const a = p.getAttribute(`JOINTS_${s}`);
      if (a) p.setAttribute(`JOINTS_${s}`, a.clone().setArray(Uint16Array.from(readFloats(a), (j) => (j < joints.length ? end(j) : 0))));
    }
  // a vertex that followed two bones may follow one twice now
  for (const p of new Set(primitives)) keepFour(document, p);
  // a bone above others still moves them, as a node
  dropJoints(document, skin, new Set(joints.flatMap((_, i) => (follows[i] === i && alive.has(i) ? [] : [i]))));
}

/** Skinning matrices of every joint at rest and through the clips. */
function jointPoses(document: Document, skin: Skin): Matrix4[][] {
  const model = readModel(document);
  const { joints, inverseBind } = model.skins[document.getRoot().listSkins().indexOf(skin)];
  const times: [number, number][] = [[-1, 0]];
  model.clips.forEach((c, i) => {
    for (let k = 0; k < LOOKS; k++) times.push([i, (c.seconds * (k + 0.5)) / LOOKS]);
  });
  return times.map(([clip, t]) => {
    const world = nodeMatrices(model, poseAt(model, clip, t));
    return joints.map((n, k) => new Matrix4().fromArray(inverseBind, k * 16).premultiply(world[n]));
  });
}
