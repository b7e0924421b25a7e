import { readFileSync } from 'node:fs';
import { Document, WebIO } from '@gltf-transform/core';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { BODY_POSES, type BodyPoseName, restOfSize, solveBodyPose } from '../form/body';
import { bvhDocument, readBvh } from '../intake/media/bvh';
import { type Model, nodeMatrices, posedPrimitives, readModel, restPose } from '../model';
import { cape, darkSuit } from './samples';
import { fitWorn, wornPose } from './worn';
import { coveredAreas, wornWithout } from './wornareas';
import { wornReport } from './wornreport';

const SUIT: Readonly<Record<string, string>> = {
  pelvis: 'hips',
  spine_01: 'spine',
  spine_02: 'chest',
  spine_03: 'upperChest',
  neck_01: 'neck',
  head: 'head',
  ...Object.fromEntries(
    (['left', 'right'] as const).flatMap((s) => {
      const of = (name: string, bone: string): [string, string] => [`${name}_${s[0]}`, `${s}${bone}`];
      return [
        of('clavicle', 'Shoulder'),
        of('upperarm', 'UpperArm'),
        of('lowerarm', 'LowerArm'),
        of('hand', 'Hand'),
        of('thigh', 'UpperLeg'),
        of('calf', 'LowerLeg'),
        of('foot', 'Foot'),
        of('ball', 'Toes'),
      ];
    }),
  ),
};
const CAPE = { spine_02: 'chest', spine_03: 'upperChest', neck_01: 'neck' };
const ONE = new Vector3(1, 1, 1);
const read = async (glb: Uint8Array) => readModel(await new WebIO().readBinary(glb));

/** Where joints of a body in a pose are, in its own frame. */
function jointsIn(size: 'S' | 'M' | 'L', pose: BodyPoseName) {
  const states = solveBodyPose(restOfSize(size).skeleton, BODY_POSES[pose]);
  const names = Object.keys(restOfSize(size).skeleton.rest);
  return {
    of: (i: number) => new Matrix4().compose(states[names[i]].place, states[names[i]].turn, ONE),
    place: (bone: string) => states[bone].place,
  };
}
const wear = (model: Model, bones: Readonly<Record<string, string>>, size: 'S' | 'M' | 'L', pose: BodyPoseName) =>
  wornPose(model, restPose(model), fitWorn(model, bones, restOfSize(size).skeleton), jointsIn(size, pose).of);

let suit: Model;
let cloak: Model;
beforeAll(async () => {
  suit = await read(await darkSuit());
  cloak = await read(await cape());
});

describe('a garment on the body', () => {
  test.each([
    ['S', 'A'],
    ['M', 'T'],
    ['M', 'seated'],
    ['L', 'oneArmUp'],
  ] as const)('form %s, pose %s: every bone begins at its joint and ends at the next', (size, pose) => {
    const world = nodeMatrices(suit, wear(suit, SUIT, size, pose));
    const joints = jointsIn(size, pose);
    for (const [name, bone] of Object.entries(SUIT)) {
      const at = new Vector3().setFromMatrixPosition(world[suit.nodes.findIndex((n) => n.name === name)]);
      expect(at.distanceTo(joints.place(bone)), bone).toBeLessThan(1e-9);
    }
    // what is modelled along a bone is carried along it: the cuff of a sleeve, straight on from the elbow
    const elbow = suit.nodes.findIndex((n) => n.name === 'lowerarm_l');
    const rest = nodeMatrices(suit, restPose(suit))[elbow];
    const half = new Vector3(0.58, 1.42, -0.02).applyMatrix4(rest.clone().invert()).applyMatrix4(world[elbow]);
    const between = joints.place('leftLowerArm').clone().add(joints.place('leftHand')).multiplyScalar(0.5);
    expect(half.distanceTo(between)).toBeLessThan(1e-6);
  });

  test('its own rest pose is undone: made with arms level, half down or as the body stands, it lies alike', async () => {
    const vertices = async (armsDeg: number) => {
      const model = await read(await darkSuit(20, armsDeg));
      return posedPrimitives(model, wear(model, SUIT, 'M', 'armsDown'))[0].positions;
    };
    const level = await vertices(0);
    for (const deg of [44, 58]) {
      const other = await vertices(deg);
      let far = 0;
      for (let i = 0; i < level.length; i++) far = Math.max(far, Math.abs(level[i] - other[i]));
      // cloth between collar bone and arm is made otherwise; all else is the same
      expect(far).toBeLessThan(0.08);
      const hand = [...level.keys()].filter((i) => i % 3 === 0 && Math.abs(level[i]) > 0.24 && level[i + 1] < 1.2);
      expect(hand.length).toBeGreaterThan(50);
      for (const i of hand) for (let k = 0; k < 3; k++) expect(Math.abs(level[i + k] - other[i + k])).toBeLessThan(1e-3);
    }
    const report = wornReport(await read(await darkSuit(20, 44)), { bones: SUIT, hides: [], under: [] }, restOfSize('M').skeleton);
    expect(report.missing).toEqual([]);
    const sleeve = { upperarm_l: 'leftUpperArm', lowerarm_l: 'leftLowerArm' };
    const alone = wornReport(suit, { bones: sleeve, hides: [], under: [] }, restOfSize('M').skeleton);
    expect(alone.missing).toEqual(['rightUpperArm', 'rightLowerArm']);
    expect(alone.rows.filter((r) => r.bone === null)).toHaveLength(20);
    expect(report.armsDeg).toBeCloseTo(44, 4);
    expect(wornReport(suit, { bones: SUIT, hides: [], under: [] }, restOfSize('M').skeleton).armsDeg).toBeCloseTo(0, 4);
  });

  test('turned about, and in other units, it lies alike', async () => {
    const turned = async (by: Quaternion, scale: number) => {
      const document = await new WebIO().readBinary(await darkSuit());
      const holder = document.createNode('turned').setRotation([by.x, by.y, by.z, by.w]).setScale([scale, scale, scale]);
      const scene = document.getRoot().getDefaultScene();
      for (const n of scene?.listChildren() ?? []) if (!n.getMesh()) holder.addChild(n);
      scene?.addChild(holder);
      return readModel(document);
    };
    const plain = posedPrimitives(suit, wear(suit, SUIT, 'M', 'T'))[0].positions;
    for (const [axis, deg, scale] of [
      [[0, 1, 0], 180, 1],
      [[1, 0, 0], -90, 1],
      [[0, 1, 0], 90, 2],
    ] as const) {
      const other = await turned(new Quaternion().setFromAxisAngle(new Vector3(...axis), (deg * Math.PI) / 180), scale);
      const on = posedPrimitives(other, wear(other, SUIT, 'M', 'T'))[0].positions;
      for (let i = 0; i < plain.length; i += 101) expect(on[i]).toBeCloseTo(plain[i], 5);
    }
  });

  test('the body’s own skeleton fits itself: nothing turned, nothing drawn long', () => {
    const { skeleton } = restOfSize('L');
    const document = new Document();
    const scene = document.createScene();
    for (const [bone, { place, turn }] of Object.entries(skeleton.rest))
      scene.addChild(document.createNode(bone).setTranslation(place.toArray()).setRotation([turn.x, turn.y, turn.z, turn.w]));
    const model = readModel(document);
    const own = Object.fromEntries(Object.keys(skeleton.rest).map((n) => [n, n]));
    const fitted = fitWorn(model, own, skeleton);
    expect(fitted).toHaveLength(52);
    for (const { turnedDeg, long, fit } of fitted) {
      expect(turnedDeg ?? 0).toBeLessThan(1e-4);
      expect(long ?? 1).toBeCloseTo(1, 5);
      for (const [i, x] of fit.elements.entries()) expect(x).toBeCloseTo(i % 5 === 0 ? 1 : 0, 5);
    }
  });

  test('bones of its own keep their place on what they hang from', () => {
    const world = nodeMatrices(cloak, wear(cloak, CAPE, 'M', 'seated'));
    const rest = nodeMatrices(cloak, restPose(cloak));
    const at = (n: string) => cloak.nodes.findIndex((x) => x.name === n);
    const local = (of: Matrix4[]) => of[at('spine_03')].clone().invert().multiply(of[at('cape_l_2')]);
    const [now, before] = [local(world), local(rest)];
    for (const [i, x] of now.elements.entries()) expect(x).toBeCloseTo(before.elements[i], 9);
  });

  test('one bone alone does not say where it lies: it stays where its file has it', () => {
    const pose = wear(cloak, { spine_03: 'upperChest' }, 'M', 'A');
    const [now, before] = [pose, restPose(cloak)].map((p) => posedPrimitives(cloak, p)[0].positions);
    for (let i = 0; i < now.length; i += 37) expect(now[i]).toBeCloseTo(before[i], 6);
  });

  test('names that no node or no joint has are left out, not stumbled over', () => {
    const fitted = fitWorn(suit, { ...SUIT, ghost: 'leftEye', nobody: 'hips' }, restOfSize('M').skeleton);
    expect(fitted).toHaveLength(22);
  });

  test('what is left out of it: arms and feet, and no bone besides', () => {
    const out = wornWithout(suit, { bones: SUIT, hides: ['arms', 'feet'], under: [] }).map((n) => suit.nodes[n].name);
    expect(out.sort()).toEqual(['ball_l', 'ball_r', 'foot_l', 'foot_r', 'lowerarm_l', 'lowerarm_r', 'upperarm_l', 'upperarm_r']);
    // what hangs from a bone goes with it
    expect(wornWithout(cloak, { bones: CAPE, hides: ['trunk'], under: [] })).toHaveLength(12);
    expect(wornWithout(cloak, { bones: CAPE, hides: [], under: [] })).toEqual([]);
  });

  test('a suit lies over the body all round, a cape over none of it', () => {
    expect(coveredAreas(suit, SUIT)).toEqual(['neck', 'trunk', 'arms', 'hands', 'legs', 'feet']);
    expect(coveredAreas(cloak, CAPE)).toEqual([]);
  });

  // a skeleton nobody here made (assimp's test files, from CMU's motion capture database), in its own units and names
  test('a captured person’s skeleton lies on the body’s joints', () => {
    const path = '/usr/share/assimp/models/BVH/01_01.bvh';
    const model = readModel(bvhDocument(readBvh(readFileSync(path, 'utf8')), 'capture', 0.0254 / 0.45));
    const named = {
      Hips: 'hips',
      LeftArm: 'leftUpperArm',
      LeftForeArm: 'leftLowerArm',
      LeftHand: 'leftHand',
      RightUpLeg: 'rightUpperLeg',
      RightLeg: 'rightLowerLeg',
    };
    const world = nodeMatrices(model, wear(model, named, 'S', 'handsOnHips'));
    const joints = jointsIn('S', 'handsOnHips');
    for (const [name, bone] of Object.entries(named)) {
      const n = model.nodes.findIndex((x) => x.name === name);
      expect(n, name).toBeGreaterThanOrEqual(0);
      expect(new Vector3().setFromMatrixPosition(world[n]).distanceTo(joints.place(bone)), bone).toBeLessThan(1e-9);
    }
  });
});
