/** Mends of bones, weights and clips. */
import type { Document, Node, Primitive, Skin } from '@gltf-transform/core';
import { badSums, idleJoints, misplacedSkins, stillTracks, usesMoreThanFour, weightSets } from '../intake/check/rig';
import { readFloats, writeFloats } from '../model/arrays';
import { readModel } from '../model/model';
import type { MendOp } from '../piece/recipe';

function skinnedPrimitives(document: Document): Primitive[] {
  const out = new Set<Primitive>();
  for (const n of document.getRoot().listNodes()) if (n.getSkin()) for (const p of n.getMesh()?.listPrimitives() ?? []) out.add(p);
  return [...out];
}

/** The four heaviest influences of each vertex, made to sum to 1. Ties go to the one named first. */
export function keepFour(document: Document, p: Primitive): void {
  const sets = weightSets(p);
  const joints = Array.from({ length: sets }, (_, s) => readFloats(p.getAttribute(`JOINTS_${s}`) as never));
  const weights = Array.from({ length: sets }, (_, s) => readFloats(p.getAttribute(`WEIGHTS_${s}`) as never));
  const n = weights[0].length / 4;
  const j = new Uint16Array(n * 4);
  const w = new Float32Array(n * 4);
  for (let v = 0; v < n; v++) {
    // a bone that is named twice counts once, with both weights
    const of = new Map<number, number>();
    for (let s = 0; s < sets; s++)
      for (let k = 0; k < 4; k++) {
        const weight = weights[s][v * 4 + k];
        if (weight > 0) of.set(joints[s][v * 4 + k], (of.get(joints[s][v * 4 + k]) ?? 0) + weight);
      }
    const all = [...of]
      .map(([joint, weight], i) => ({ i, w: weight, j: joint }))
      .sort((a, b) => b.w - a.w || a.i - b.i)
      .slice(0, 4);
    const sum = all.reduce((s, x) => s + x.w, 0) || 1;
    all.forEach((x, k) => {
      j[v * 4 + k] = x.w > 0 ? x.j : 0;
      w[v * 4 + k] = x.w / sum;
    });
  }
  const buffer = p.getAttribute('POSITION')?.getBuffer() ?? null;
  p.setAttribute('JOINTS_0', document.createAccessor().setType('VEC4').setArray(j).setBuffer(buffer));
  p.setAttribute('WEIGHTS_0', document.createAccessor().setType('VEC4').setArray(w).setBuffer(buffer));
  for (let s = 1; s < sets; s++) p.setAttribute(`JOINTS_${s}`, null).setAttribute(`WEIGHTS_${s}`, null);
}

function normaliseWeights(p: Primitive): void {
  const sets = weightSets(p);
  const accessors = Array.from({ length: sets }, (_, s) => p.getAttribute(`WEIGHTS_${s}`)).filter((a) => a !== null);
  const values = accessors.map(readFloats);
  for (let v = 0; v < values[0].length / 4; v++) {
    let sum = 0;
    for (const a of values)
      for (let k = 0; k < 4; k++) {
        if (!(a[v * 4 + k] > 0)) a[v * 4 + k] = 0;
        sum += a[v * 4 + k];
      }
    if (sum > 0) for (const a of values) for (let k = 0; k < 4; k++) a[v * 4 + k] /= sum;
    else values[0][v * 4] = 1;
  }
  for (const [i, a] of accessors.entries()) p.setAttribute(`WEIGHTS_${i}`, writeFloats(a.clone(), values[i]));
}

/** Takes joints off a skin's list; what followed them must follow others by now. Their nodes stay. */
export function dropJoints(document: Document, skin: Skin, idle: ReadonlySet<number>): void {
  const joints = skin.listJoints();
  if (idle.size === 0 || idle.size === joints.length) return;
  const to = new Int32Array(joints.length);
  let kept = 0;
  joints.forEach((_, i) => {
    to[i] = idle.has(i) ? 0 : kept++;
  });
  const bind = skin.getInverseBindMatrices();
  if (bind) {
    const all = readFloats(bind);
    const rest = new Float32Array(kept * 16);
    joints.forEach((_, i) => {
      if (!idle.has(i)) rest.set(all.subarray(i * 16, i * 16 + 16), to[i] * 16);
    });
    skin.setInverseBindMatrices(writeFloats(bind.clone(), rest));
  }
  joints.forEach((joint, i) => {
    if (idle.has(i)) skin.removeJoint(joint);
  });
  const primitives = new Set<Primitive>();
  for (const n of document.getRoot().listNodes())
    if (n.getSkin() === skin) for (const p of n.getMesh()?.listPrimitives() ?? []) primitives.add(p);
  for (const p of primitives)
    for (let s = 0; s < weightSets(p); s++) {
      const a = p.getAttribute(`JOINTS_${s}`);
      if (!a) continue;
      p.setAttribute(`JOINTS_${s}`, a.clone().setArray(Uint16Array.from(readFloats(a), (j) => to[j] ?? 0)));
    }
}

/** Cuts tracks that never change: out where the node rests there anyway, else down to one key. */
function cutStillTracks(document: Document): void {
  const model = readModel(document);
  const nodes = document.getRoot().listNodes();
  document
    .getRoot()
    .listAnimations()
    .forEach((animation, i) => {
      const still = stillTracks(model.clips[i]);
      for (const channel of animation.listChannels()) {
        const node = channel.getTargetNode();
        const path = channel.getTargetPath();
        const track = still.find((c) => nodes[c.node] === node && c.path === path);
        const sampler = channel.getSampler();
        if (!track || !node || !sampler) continue;
        const first = Array.from(track.values.subarray(0, track.size));
        const rest =
          path === 'translation'
            ? node.getTranslation()
            : path === 'rotation'
              ? node.getRotation()
              : path === 'scale'
                ? node.getScale()
                : node.getWeights();
        if (rest.length === first.length && rest.every((x, k) => Math.abs(x - first[k]) <= 1e-5)) {
          channel.dispose();
          if (sampler.listParents().every((q) => q.propertyType === 'Root' || q.propertyType === 'Animation')) sampler.dispose();
          continue;
        }
        const [input, output] = [sampler.getInput(), sampler.getOutput()];
        if (!input || !output) continue;
        const own = document.createAnimationSampler().setInterpolation(sampler.getInterpolation());
        own.setInput(
          document
            .createAccessor()
            .setType('SCALAR')
            .setArray(new Float32Array([track.times[0]]))
            .setBuffer(input.getBuffer()),
        );
        const size = path === 'weights' ? 1 : output.getElementSize();
        own.setOutput(
          document
            .createAccessor()
            .setType(size === 1 ? 'SCALAR' : output.getType())
            .setArray(Float32Array.from(first))
            .setBuffer(output.getBuffer()),
        );
        animation.addSampler(own);
        channel.setSampler(own);
        if (sampler.listParents().every((q) => q.propertyType === 'Root' || q.propertyType === 'Animation')) sampler.dispose();
      }
    });
}

/** Skinned shapes go to the root, at rest; what else their node was (a bone, a parent, something that moves) stays where it is. */
function skinsToRoot(document: Document): void {
  const root = document.getRoot();
  const joints = new Set(root.listSkins().flatMap((s) => s.listJoints()));
  const scenes = root.listScenes();
  const channels = root.listAnimations().flatMap((a) => a.listChannels());
  for (const node of misplacedSkins(document)) {
    let top: Node = node;
    for (let n = node.getParentNode(); n; n = n.getParentNode()) top = n;
    const own = channels.filter((c) => c.getTargetNode() === node);
    const plain = !joints.has(node) && node.listChildren().length === 0 && own.every((c) => c.getTargetPath() === 'weights');
    const shape = plain
      ? node
      : document.createNode(node.getName()).setMesh(node.getMesh()).setSkin(node.getSkin()).setWeights(node.getWeights());
    const homes = scenes.filter((s) => s.listChildren().includes(top));
    if (plain) {
      node.getParentNode()?.removeChild(node);
      node.setTranslation([0, 0, 0]).setRotation([0, 0, 0, 1]).setScale([1, 1, 1]);
    } else {
      node.setMesh(null).setSkin(null).setWeights([]);
      for (const c of own) if (c.getTargetPath() === 'weights') c.setTargetNode(shape);
    }
    for (const s of homes) if (!s.listChildren().includes(shape)) s.addChild(shape);
  }
}

export function mendRig(document: Document, ops: ReadonlySet<MendOp>): void {
  for (const p of skinnedPrimitives(document)) {
    if (ops.has('four-influences') && usesMoreThanFour(p)) keepFour(document, p);
    if (ops.has('weights') && badSums(p) > 0) normaliseWeights(p);
  }
  if (ops.has('unused-bones'))
    for (const skin of document.getRoot().listSkins()) dropJoints(document, skin, new Set(idleJoints(document, skin)));
  if (ops.has('skins-to-root')) skinsToRoot(document);
  if (ops.has('constant-tracks')) cutStillTracks(document);
}
