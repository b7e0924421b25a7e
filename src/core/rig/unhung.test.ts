import { expect, test } from 'vitest';
import { bentTube } from '../../../e2e/support/preparing';
import { readModel } from '../model';
import { unhungBones } from './unhung';

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
