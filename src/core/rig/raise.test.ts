import { type Document, WebIO } from '@gltf-transform/core';
import { BufferAttribute, BufferGeometry, Matrix4, Quaternion, Skeleton, SkinnedMesh, Bone as ThreeBone, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { errorsOf, tools } from '../../../e2e/support/preparing';
import { readModel } from '../model';
import { posedPrimitives, restPose } from '../model/pose';
import { runStep } from '../prepare';
import type { Vec } from './middle';
import { rigChains } from './plan';
import { raiseBones } from './raise';
import { tube } from './shapes';
import { surfaceOf } from './surface';

/** Two tubes as two meshes, one under a turned and sized node, with a material, UVs and a morph target. */
async function twoTubes(): Promise<Document> {
  const { Document: Doc } = await import('@gltf-transform/core');
  const doc = new Doc();
  const buffer = doc.createBuffer();
  const { positions, triangles } = tube(
    (t): Vec => [0, t * 0.3, 0],
    () => 0.01,
    40,
    10,
  );
  const primitive = () =>
    doc
      .createPrimitive()
      .setAttribute('POSITION', doc.createAccessor().setType('VEC3').setArray(positions.slice()).setBuffer(buffer))
      .setAttribute(
        'TEXCOORD_0',
        doc
          .createAccessor()
          .setType('VEC2')
          .setArray(new Float32Array((positions.length / 3) * 2))
          .setBuffer(buffer),
      )
      .setIndices(doc.createAccessor().setType('SCALAR').setArray(triangles.slice()).setBuffer(buffer))
      .setMaterial(doc.createMaterial('kelp'));
  const target = doc.createPrimitiveTarget('puff').setAttribute(
    'POSITION',
    doc
      .createAccessor()
      .setType('VEC3')
      .setArray(positions.map((x) => x * 0.1))
      .setBuffer(buffer),
  );
  const a = doc.createNode('frond').setMesh(doc.createMesh('a').addPrimitive(primitive().addTarget(target)));
  const b = doc.createNode('other').setMesh(doc.createMesh('b').addPrimitive(primitive())).setTranslation([0.2, 0, 0]).setScale([2, 2, 2]);
  const turn = doc
    .createNode('turned')
    .setRotation(new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), 0.4).toArray() as never)
    .addChild(b);
  doc.createScene('scene').addChild(a).addChild(turn);
  doc.getRoot().getAsset().copyright = 'made for a test';
  return doc;
}
const presses = { root: [0.01, 0.01, 0] as Vec, tip: [0, 0.3, 0] as Vec, bones: 3 };

describe('bones raised in a file', () => {
  test('nothing moves at rest, everything else is kept, and the validator passes it', async () => {
    const doc = await twoTubes();
    const before = posedPrimitives(readModel(doc), restPose(readModel(doc)));
    const surface = surfaceOf(readModel(doc));
    raiseBones(doc, surface, rigChains(surface, [presses]));
    const model = readModel(doc);
    const after = posedPrimitives(model, restPose(model));
    for (const p of before) {
      const q = after.find((x) => x.mesh === p.mesh && x.primitive === p.primitive);
      for (const [i, x] of p.positions.entries()) expect(q?.positions[i]).toBeCloseTo(x, 6);
    }
    const root = doc.getRoot();
    expect(root.listMaterials().map((m) => m.getName())).toEqual(['kelp', 'kelp']);
    expect(root.listNodes().map((n) => n.getName())).toEqual(
      expect.arrayContaining(['frond', 'other', 'turned', 'root', 'limb 1.1', 'limb 1.3']),
    );
    const [first] = root.listMeshes()[0].listPrimitives();
    expect(first.listTargets().map((t) => t.getName())).toEqual(['puff']);
    expect(first.getAttribute('TEXCOORD_0')?.getCount()).toBe(first.getAttribute('POSITION')?.getCount());
    // meshes of two places have a skin each, of the same joints
    expect(root.listSkins()).toHaveLength(2);
    expect(root.listSkins()[0].listJoints()).toEqual(root.listSkins()[1].listJoints());
    expect(await errorsOf(await new WebIO().writeBinary(doc))).toEqual([]);
  });

  test('a bone that turns moves what three moves', async () => {
    const doc = await twoTubes();
    const surface = surfaceOf(readModel(doc));
    const rig = rigChains(surface, [presses]);
    raiseBones(doc, surface, rig);
    const model = readModel(doc);
    const pose = restPose(model);
    const joint = model.nodes.findIndex((n) => n.name === 'limb 1.2');
    const turn = new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), 0.7);
    pose.trs.set(turn.toArray(), joint * 10 + 3);
    const ours = posedPrimitives(model, pose).find((p) => p.mesh === 0);

    const bones = rig.bones.map((b) => Object.assign(new ThreeBone(), { name: b.name }));
    rig.bones.forEach((b, i) => {
      const up = b.parent >= 0 ? rig.bones[b.parent].head : ([0, 0, 0] as Vec);
      bones[i].position.set(b.head[0] - up[0], b.head[1] - up[1], b.head[2] - up[2]);
      if (b.parent >= 0) bones[b.parent].add(bones[i]);
    });
    const p = model.meshes[0].primitives[0];
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(p.positions, 3));
    geometry.setAttribute('skinIndex', new BufferAttribute(p.joints as Uint16Array, 4));
    geometry.setAttribute('skinWeight', new BufferAttribute(p.weights as Float32Array, 4));
    const mesh = new SkinnedMesh(geometry);
    mesh.add(bones[0]);
    mesh.updateMatrixWorld(true);
    mesh.bind(new Skeleton(bones), new Matrix4());
    bones[rig.bones.findIndex((b) => b.name === 'limb 1.2')].quaternion.copy(turn);
    mesh.updateMatrixWorld(true);
    const v = new Vector3();
    let moved = 0;
    for (let i = 0; i < p.positions.length / 3; i++) {
      mesh.getVertexPosition(i, v);
      for (let k = 0; k < 3; k++) expect(ours?.positions[i * 3 + k]).toBeCloseTo(v.getComponent(k), 5);
      moved = Math.max(moved, v.distanceTo(new Vector3().fromArray(p.positions, i * 3)));
    }
    expect(moved).toBeGreaterThan(0.05);
  });

  test('a model that has bones is refused in words; so is one without a surface', async () => {
    const doc = await twoTubes();
    const step = {
      step: 'chains' as const,
      settings: {
        chains: [{ name: null, rootM: presses.root, tipM: presses.tip, bones: null }],
        more: [],
        changes: {},
        weights: 'auto' as const,
      },
    };
    await runStep(doc, step, tools());
    // two presses hang another chain; what is for the whole shape is refused
    const everywhere = { ...step, settings: { ...step.settings, chains: 'all' as const } };
    await expect(runStep(doc, everywhere, tools())).rejects.toMatchObject({
      code: 'rig/bones',
      message: expect.stringContaining('bones already'),
    });
    const surface = surfaceOf(readModel(doc));
    expect(() => raiseBones(doc, surface, rigChains(surface, [presses]))).toThrow('bones already');
    const { Document: Doc } = await import('@gltf-transform/core');
    const empty = new Doc();
    empty.createScene();
    await expect(runStep(empty, step, tools())).rejects.toMatchObject({ code: 'rig/no-surface' });
  });
});
