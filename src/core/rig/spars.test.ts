import { Document } from '@gltf-transform/core';
import { expect, test } from 'vitest';
import { bentTube } from '../../../e2e/support/preparing';
import { readModel } from '../model';
import type { Vec } from './middle';
import { rigChains } from './plan';
import { raiseBones } from './raise';
import { tube } from './shapes';
import { sparsOf } from './spars';
import { surfaceOf } from './surface';

/** A strand in a document. */
function strand(): Document {
  const doc = new Document();
  const buffer = doc.createBuffer();
  const made = tube(
    (t): Vec => [0.02 * Math.sin(t * 3), t * 0.3, 0],
    () => 0.01,
    50,
    10,
  );
  const primitive = doc
    .createPrimitive()
    .setAttribute('POSITION', doc.createAccessor().setType('VEC3').setArray(made.positions).setBuffer(buffer))
    .setIndices(doc.createAccessor().setType('SCALAR').setArray(made.triangles).setBuffer(buffer));
  doc.createScene().addChild(doc.createNode('strand').setMesh(doc.createMesh('m').addPrimitive(primitive)));
  return doc;
}
const press = { root: [0, 0, 0] as Vec, tip: [0.02 * Math.sin(3), 0.3, 0] as Vec, bones: 4, name: 'kelp' };

test('what was raised is read again: chains by their names, each bone from its head to its end', () => {
  const doc = strand();
  const surface = surfaceOf(readModel(doc));
  const rig = rigChains(surface, [press]);
  raiseBones(doc, surface, rig);
  const { spars, chains } = sparsOf(readModel(doc));
  expect(chains.map((c) => [c.name, c.spars.map((s) => spars[s].name), c.from])).toEqual([
    ['kelp', ['kelp.1', 'kelp.2', 'kelp.3', 'kelp.4'], -1],
  ]);
  for (const bone of rig.bones.slice(1)) {
    const spar = spars.find((s) => s.name === bone.name);
    for (let k = 0; k < 3; k++) {
      expect(spar?.head[k]).toBeCloseTo(bone.head[k], 6);
      expect(spar?.tail[k]).toBeCloseTo(bone.tail[k], 6);
    }
  }
  expect(chains[0].lengthM).toBeCloseTo(rig.chains[0].line.lengthM, 2);
});

test('a chain that was parted is read as two, each from its first joint to its last, and where it was parted', () => {
  const doc = strand();
  const surface = surfaceOf(readModel(doc));
  raiseBones(doc, surface, rigChains(surface, [press], 'auto', { kelp: { cuts: [1], name: 'weed' } }));
  const { spars, chains } = sparsOf(readModel(doc));
  expect(chains.map((c) => [c.name, c.spars.length, c.from, c.found])).toEqual([
    ['weed', 1, -1, { name: 'kelp', joint: 0 }],
    ['weed b', 3, 0, { name: 'kelp', joint: 1 }],
  ]);
  const [first, second] = chains.map((c) => spars[c.spars[0]]);
  expect(first.tail).toEqual(second.head);
  expect(chains[0].lengthM).toBeGreaterThan(0.03);
  expect(chains[0].lengthM + chains[1].lengthM).toBeCloseTo(0.31, 1);
});

test('the bones of a file nobody raised here are a chain too', () => {
  const { spars, chains } = sparsOf(readModel(bentTube()));
  expect(spars).toHaveLength(4);
  expect(chains).toHaveLength(1);
  expect(chains[0].spars).toEqual([0, 1, 2, 3]);
});
