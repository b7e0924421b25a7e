/** Chains on bones that a model has already: a tail on a figure, a pennant on a mast that came with bones. */
import type { Accessor, Document, Node } from '@gltf-transform/core';
import { Matrix4, Vector3 } from 'three';
import { nodeMatrices, readModel, restPose } from '../model';
import type { ChainChanges } from './changes';
import { dressBare } from './dress';
import { heldBy } from './held';
import { RigError } from './middle';
import { type ChainAsked, type Rig, rigChains } from './plan';
import { chainExtras } from './raise';
import { nearestVertex } from './surface';
import type { WeightMethod } from './weights/bind';
import { setShares } from './weights/shares';
import { letGo, sharesAt, writeShares } from './weights/write';

/**
 * Each chain hangs from the bone that its root follows most. What belongs to a chain follows it as far as it lies beyond its root, and for
 * the rest what it followed before; nothing else changes, and at rest nothing moves. A shape that no skin moves, on which a chain lies,
 * gets one: it follows the bone its node hangs from.
 * @throws {RigError} as `rigChains`; `rig/bones` the model has no bones
 */
export function hangChains(
  document: Document,
  asked: readonly ChainAsked[],
  weights: WeightMethod | 'auto' = 'auto',
  changes: ChainChanges = {},
): Pick<Rig, 'chains' | 'found' | 'binding'> {
  const before = readModel(document);
  const held = heldBy(before);
  if (!held) throw new RigError('rig/bones', 'The model has no bones that a chain could hang from.');
  const { surface } = held;
  const rig = rigChains(surface, asked, weights, changes);
  const { binding } = rig;
  const ofChains = (v: number) => sharesAt(binding, v).reduce((s, [b, w]) => s + (b > 0 ? w : 0), 0);
  const mostly = new Float64Array(surface.pieces);
  for (let v = 0; v < surface.piece.length; v++) mostly[surface.piece[v]] = Math.max(mostly[surface.piece[v]], ofChains(v));
  // a piece that a chain only begins beside is none of it
  const touched = Uint8Array.from(surface.piece, (p, v) => (mostly[p] > 0.5 && ofChains(v) > 0 ? 1 : 0));
  dressBare(
    document,
    before,
    surface.sources.filter((s) => s.vertices.some((v) => touched[v])).map((s) => s.primitive.node),
  );
  // with every shape a chain lies on skinned, what moves it is known
  const model = readModel(document);
  const own = heldBy(model) as NonNullable<ReturnType<typeof heldBy>>;
  const joints = [...new Set(model.skins.flatMap((s) => s.joints))];
  const nodes = document.getRoot().listNodes();
  const names = new Set(nodes.map((n) => n.getName()));
  const world = nodeMatrices(model, restPose(model));
  /** Of each bone of the chains: its node, and the old joint it hangs from in the end. */
  const made: { node: Node; world: Matrix4; on: number }[] = [];
  rig.bones.forEach((bone, i) => {
    // the rig's own root is what the model has
    if (i === 0) return;
    const up = bone.parent > 0 ? made[bone.parent - 1] : null;
    const on = up ? up.on : joints[sharesAt(own.binding, nearestVertex(own.surface, bone.head))[0]?.[0] ?? 0];
    const parent = up?.node ?? nodes[on];
    const from = up?.world ?? world[on];
    const at = new Vector3(...bone.head).applyMatrix4(from.clone().invert());
    const stands = from.clone().multiply(new Matrix4().makeTranslation(at.x, at.y, at.z));
    const tail = new Vector3(...bone.tail).applyMatrix4(stands.clone().invert());
    let name = bone.name;
    for (let n = 2; names.has(name); n++) name = `${bone.name} ${n}`;
    names.add(name);
    const node = document.createNode(name).setTranslation(at.toArray());
    const ends = rig.bones.filter((b) => b.parent === i && !b.chain).length !== 1;
    node.setExtras(chainExtras(bone, ends ? tail.toArray() : null));
    parent.addChild(node);
    made.push({ node, world: stands, on });
  });
  const replaced: (Accessor | null)[] = [];
  for (const skin of document.getRoot().listSkins()) {
    const list = skin.listJoints();
    const given = skin.getInverseBindMatrices();
    replaced.push(given);
    const binds = list.map((_, k) => (given ? new Matrix4().fromArray(given.getElement(k, [])) : new Matrix4()));
    const at = new Map(list.map((n, k) => [nodes.indexOf(n), k]));
    const more = made.map((m) => {
      // as the bone it hangs from carries the shape at rest, so does it
      const k = at.get(m.on) ?? 0;
      const carried = world[nodes.indexOf(list[k])].clone().multiply(binds[k]);
      return m.world.clone().invert().multiply(carried);
    });
    for (const m of made) skin.addJoint(m.node);
    const all = new Float32Array((list.length + more.length) * 16);
    for (const [k, m] of [...binds, ...more].entries()) m.toArray(all, k * 16);
    const buffer = document.getRoot().listBuffers()[0];
    skin.setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(all).setBuffer(buffer));
  }
  // skins may share them
  letGo(...replaced);
  const after = readModel(document);
  const now = heldBy(after) as NonNullable<ReturnType<typeof heldBy>>;
  const list = document.getRoot().listNodes();
  const order = new Map([...new Set(after.skins.flatMap((s) => s.joints))].map((j, i) => [list[j], i]));
  const boneOf = made.map((m) => order.get(m.node) as number);
  const was = { bones: now.binding.bones.slice(), shares: now.binding.shares.slice() };
  for (let v = 0; v < touched.length; v++) {
    if (!touched[v]) continue;
    const shares = sharesAt(binding, v);
    const stays = shares.find(([b]) => b === 0)?.[1] ?? 0;
    setShares(now.binding, v, [
      ...sharesAt(was, v).map(([b, w]): [number, number] => [b, w * stays]),
      ...shares.flatMap(([b, w]): [number, number][] => (b > 0 ? [[boneOf[b - 1], w]] : [])),
    ]);
  }
  writeShares(document, after, now, was);
  return { chains: rig.chains, found: rig.found, binding };
}
