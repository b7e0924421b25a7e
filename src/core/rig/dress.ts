/** A skin for what has none and is to be moved by bones. */
import type { Document } from '@gltf-transform/core';
import { type Model, nodeMatrices, restPose } from '../model';
import { RigError } from './middle';
import { place } from './raise';

const FOUR = 4;

/** Shapes that are to bend and have no skin: each follows, whole, the bone its node hangs from, or the topmost. */
export function dressBare(document: Document, model: Model, drawn: readonly number[]): void {
  const root = document.getRoot();
  const nodes = root.listNodes();
  const joints = new Set(model.skins.flatMap((s) => s.joints));
  const world = nodeMatrices(model, restPose(model));
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const buffer = root.listBuffers()[0] ?? document.createBuffer();
  for (const n of new Set(drawn)) {
    const node = nodes[n];
    const given = node.getMesh();
    if (!given || node.getSkin()) continue;
    if (model.nodes[n].instances)
      throw new RigError('rig/bones', 'The model is drawn by instances, which bones cannot bend. Write them out first.');
    let on = n;
    while (on >= 0 && !joints.has(on)) on = model.nodes[on].parent;
    if (on < 0) on = model.skins[0].joints[0];
    const shared = nodes.filter((o) => o.getMesh() === given).length > 1;
    const mesh = shared ? given.clone() : given;
    if (shared) for (const p of mesh.listPrimitives()) mesh.removePrimitive(p).addPrimitive(p.clone());
    for (const p of mesh.listPrimitives()) {
      const count = p.getAttribute('POSITION')?.getCount() ?? 0;
      const whole = Float32Array.from({ length: count * FOUR }, (_, i) => (i % FOUR ? 0 : 1));
      const first = new Uint8Array(count * FOUR);
      p.setAttribute('JOINTS_0', document.createAccessor().setType('VEC4').setArray(first).setBuffer(buffer)).setAttribute(
        'WEIGHTS_0',
        document.createAccessor().setType('VEC4').setArray(whole).setBuffer(buffer),
      );
    }
    // every bone may be asked for afterwards
    const all = [on, ...[...joints].filter((j) => j !== on)];
    const binds = new Float32Array(all.length * 16);
    all.forEach((j, k) => {
      world[j]
        .clone()
        .invert()
        .multiply(world[n])
        .toArray(binds, k * 16);
    });
    const skin = document
      .createSkin('hung')
      .setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(binds).setBuffer(buffer));
    for (const j of all) skin.addJoint(nodes[j]);
    place(document, node, mesh, skin, scene);
  }
}
