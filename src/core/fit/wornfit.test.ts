import { Document, WebIO } from '@gltf-transform/core';
import { Matrix4 } from 'three';
import { expect, test } from 'vitest';
import { BARE, drawnBody, poseBody, restOfSize, shapeBody } from '../form/body';
import { bodyBase } from '../form/samples';
import { readModel } from '../model';
import { garmentBones } from '../rig';
import { type BodyArea, HUMANOID_BONES } from '../words/humanoid';
import { darkSuit } from './samples';
import { bareUnderCloth } from './wornbare';
import { wornOverPoses } from './wornfit';

const own = Object.fromEntries(HUMANOID_BONES.map((n) => [n, n]));

/** The body's own skin as a garment, so far off it: what it must measure is known. */
function second(awayMm: number) {
  const body = poseBody(shapeBody(bodyBase(), 'M'));
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC3' | 'VEC4' | 'SCALAR' | 'MAT4', array: Float32Array | Uint16Array | Uint32Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as never)
      .setBuffer(buffer);
  const end = body.groups.find((g) => g.name === 'eyes')?.start;
  const primitive = document
    .createPrimitive()
    .setAttribute(
      'POSITION',
      accessor(
        'VEC3',
        Float32Array.from(body.positions, (x, i) => x + (body.normals[i] * awayMm) / 1000),
      ),
    )
    .setAttribute('JOINTS_0', accessor('VEC4', body.skinIndices.slice()))
    .setAttribute('WEIGHTS_0', accessor('VEC4', body.skinWeights.slice()))
    .setIndices(accessor('SCALAR', body.indices.slice(0, end)));
  const scene = document.createScene();
  const inverse = new Float32Array(52 * 16);
  const skin = document.createSkin();
  for (const [i, j] of body.joints.entries()) {
    const node = document.createNode(j.name).setMatrix(j.rest as never);
    scene.addChild(node);
    skin.addJoint(node);
    new Matrix4()
      .fromArray(j.rest)
      .invert()
      .toArray(inverse, i * 16);
  }
  skin.setInverseBindMatrices(accessor('MAT4', inverse));
  scene.addChild(document.createNode('cloth').setMesh(document.createMesh().addPrimitive(primitive)).setSkin(skin));
  document.getRoot().setDefaultScene(scene);
  return readModel(document);
}

test('the skin itself, moved out or in along its normals, measures what it was moved by', () => {
  const body = drawnBody(shapeBody(bodyBase(), 'M'));
  const { skeleton } = restOfSize('M');
  const measure = (awayMm: number) => wornOverPoses(second(awayMm), { bones: own, hides: [], under: [] }, skeleton, body, ['A'])[0];
  const out = measure(3);
  // in a fold two skins face each other: there what is moved out of one lies in the other
  expect(out.under).toBeLessThan(0.06);
  expect(out.stretch).toBeCloseTo(1, 6);
  const into = measure(-3);
  expect(into.under).toBeGreaterThan(0.94);
  expect(into.deepMm).toBeGreaterThan(2.8);
  expect(into.deepMm).toBeLessThan(3.1);
});

test('every pose has its row; the arm of a T that goes up is drawn long at the shoulder; what is left out is not asked', async () => {
  const model = readModel(await new WebIO().readBinary(await darkSuit()));
  const bones = {
    pelvis: 'hips',
    spine_03: 'upperChest',
    clavicle_l: 'leftShoulder',
    upperarm_l: 'leftUpperArm',
    lowerarm_l: 'leftLowerArm',
    hand_l: 'leftHand',
  };
  const body = drawnBody(shapeBody(bodyBase(), 'M'));
  const { skeleton } = restOfSize('M');
  const rows = wornOverPoses(model, { bones, hides: [], under: [] }, skeleton, body);
  expect(rows.map((r) => r.pose).sort()).toEqual(['A', 'T', 'armsDown', 'armsHalf', 'fist', 'handsOnHips', 'oneArmUp', 'seated']);
  const of = (pose: string, list = rows) => list.find((r) => r.pose === pose) as (typeof rows)[number];
  expect(of('A').stretch).toBe(1);
  expect(of('oneArmUp').stretch).toBeGreaterThan(1.3);
  const less = wornOverPoses(model, { bones, hides: ['arms', 'hands', 'trunk'], under: [] }, skeleton, body, ['oneArmUp']);
  expect(of('oneArmUp', less).stretch).toBeLessThan(of('oneArmUp').stretch);
});

test('the body is bare under cloth, wherever that lies; not along its openings, and not where it is left out', async () => {
  const shaped = shapeBody(bodyBase(), 'M');
  const body = drawnBody(shaped);
  const { skeleton } = restOfSize('M');
  const levels = (model: ReturnType<typeof second>, bones: Record<string, string>, hides: readonly BodyArea[] = []) =>
    bareUnderCloth(model, { bones, hides, under: [] }, skeleton, body);
  const end = body.groups.find((g) => g.name === 'eyes')?.start ?? 0;
  const skin = [...new Set(body.indices.subarray(0, end))];
  // a second skin lies over all of it
  const all = levels(second(4), own);
  expect(skin.filter((v) => all[v] === BARE).length / skin.length).toBeGreaterThan(0.97);
  // too far off it covers nothing but where it comes near again
  const off = levels(second(75), own);
  expect(skin.filter((v) => off[v] === BARE).length / skin.length).toBeLessThan(0.35);

  const suit = readModel(await new WebIO().readBinary(await darkSuit()));
  const bones = Object.fromEntries([...garmentBones(suit, skeleton)].map(([n, b]) => [suit.nodes[n].name, b]));
  const worn = levels(suit, bones);
  const share = (of: Uint8Array, region: string) => {
    const id = body.regions.names.indexOf(region);
    const its = skin.filter((v) => body.regions.ids[v] === id);
    return its.filter((v) => of[v] === BARE).length / its.length;
  };
  expect(share(worn, 'torso')).toBeGreaterThan(0.6);
  expect(share(worn, 'leg')).toBeGreaterThan(0.8);
  for (const region of ['eyelid', 'ear', 'nose'].filter((r) => body.regions.names.includes(r))) expect(share(worn, region)).toBe(0);
  const short = levels(suit, bones, ['arms']);
  expect(share(worn, 'arm')).toBeGreaterThan(0.6);
  expect(share(short, 'arm')).toBeLessThan(share(worn, 'arm') / 2);
});
