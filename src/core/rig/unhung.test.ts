import { type Document, WebIO } from '@gltf-transform/core';
import { IcosahedronGeometry, Quaternion, Vector3 } from 'three';
import { expect, test } from 'vitest';
import { bentTube, errorsOf } from '../../../e2e/support/preparing';
import { readModel } from '../model';
import { posedPrimitives, restPose } from '../model/pose';
import { loosePieces, overFour, unhungBones } from './unhung';
import { runShares } from './weights/edits';

test('a bone is unhung when neither it nor one below it holds a vertex or carries a shape', () => {
  const doc = bentTube();
  expect(unhungBones(readModel(doc))).toEqual([]);
  const [skin] = doc.getRoot().listSkins();
  const joints = skin.listJoints();
  const last = joints[joints.length - 1];
  const tip = doc.createNode('tip');
  last.addChild(tip);
  skin.addJoint(tip);
  const above = doc.createNode('above');
  doc.getRoot().listScenes()[0].addChild(above);
  above.addChild(joints[0]);
  skin.addJoint(above);
  // above carries all the others; the tip nothing
  expect(unhungBones(readModel(doc))).toEqual([joints.length]);
  tip.addChild(doc.createNode('lamp').setMesh(doc.createMesh('lamp')));
  expect(unhungBones(readModel(doc))).toEqual([]);
});

/** A bent tube with a lamp beside its upper end, whose node hangs from nothing, and one that hangs from its last bone. */
function withLamps(): Document {
  const doc = bentTube(12, 24);
  const buffer = doc.getRoot().listBuffers()[0];
  const ball = new IcosahedronGeometry(0.01, 0).getAttribute('position').array;
  const lamp = (name: string, at: [number, number, number]) =>
    doc
      .createNode(name)
      .setTranslation(at)
      .setMesh(
        doc
          .createMesh(name)
          .addPrimitive(
            doc
              .createPrimitive()
              .setAttribute('POSITION', doc.createAccessor().setType('VEC3').setArray(Float32Array.from(ball)).setBuffer(buffer)),
          ),
      );
  doc
    .getRoot()
    .listScenes()[0]
    .addChild(lamp('lamp', [0.04, 0.19, 0]));
  doc
    .getRoot()
    .listNodes()
    .find((n) => n.getName() === 'bone 3')
    ?.addChild(lamp('carried', [0.04, 0.02, 0]));
  return doc;
}

test('a piece that no bone carries is told with the nearest bone, and hung there it moves with it', async () => {
  const doc = withLamps();
  const loose = loosePieces(readModel(doc));
  expect(loose).toMatchObject([{ name: 'lamp', bone: 'bone 3' }]);
  const edits = loose.map(({ atM, bone }) => ({ kind: 'piece' as const, atM, bone }));
  expect(runShares(doc, edits, false)).toEqual([]);
  expect(loosePieces(readModel(doc))).toEqual([]);
  const lampAt = () => {
    const model = readModel(doc);
    const [p] = posedPrimitives(model, restPose(model)).filter((q) => model.meshes[q.mesh].name === 'lamp');
    return new Vector3().fromArray(p.positions);
  };
  const before = lampAt();
  expect(before.x).toBeGreaterThan(0.02);
  const bone = doc
    .getRoot()
    .listNodes()
    .find((n) => n.getName() === 'bone 3');
  bone?.setRotation(new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), Math.PI).toArray() as [number, number, number, number]);
  // half a turn about the tube's middle
  expect(lampAt().distanceTo(new Vector3(-before.x, before.y, -before.z))).toBeLessThan(1e-5);
  expect(await errorsOf(await new WebIO().writeBinary(doc))).toEqual([]);
});

test('vertices of more than four bones are counted', () => {
  const doc = bentTube(12, 24);
  expect(overFour(readModel(doc))).toBe(0);
  const [p] = doc.getRoot().listMeshes()[0].listPrimitives();
  const count = p.getAttribute('POSITION')?.getCount() ?? 0;
  const of = (array: Uint16Array | Float32Array) =>
    doc
      .createAccessor()
      .setType('VEC4')
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(doc.getRoot().listBuffers()[0]);
  p.setAttribute('JOINTS_0', of(Uint16Array.from({ length: count * 4 }, (_, i) => i % 4)));
  p.setAttribute('WEIGHTS_0', of(new Float32Array(count * 4).fill(0.2)));
  p.setAttribute('JOINTS_1', of(new Uint16Array(count * 4)));
  p.setAttribute('WEIGHTS_1', of(Float32Array.from({ length: count * 4 }, (_, i) => (i === 0 || i === 8 ? 0.2 : 0))));
  expect(overFour(readModel(doc))).toBe(2);
});
