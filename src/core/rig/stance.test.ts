import { type Document, WebIO } from '@gltf-transform/core';
import { validateBytes } from 'gltf-validator';
import { Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { lone } from '../../../e2e/support/preparing';
import { darkSuit } from '../fit/samples';
import { nodeMatrices, poseAt, posedPrimitives, readModel, restPose } from '../model';
import { addClip, motionClip, restIn } from '.';
import { masthead } from './samples';

const suit = async (armsDeg = 0): Promise<Document> => new WebIO().readBinary(await darkSuit(20, armsDeg));
const restOf = (d: Document) => posedPrimitives(readModel(d), restPose(readModel(d)))[0].positions;
/** How far below level the left upper arm is at rest, °. */
function armDeg(d: Document): number {
  const model = readModel(d);
  const world = nodeMatrices(model, restPose(model));
  const at = (n: string) => new Vector3().setFromMatrixPosition(world[model.nodes.findIndex((x) => x.name === n)]);
  const way = at('lowerarm_l').sub(at('upperarm_l')).normalize();
  return (Math.asin(-way.y) * 180) / Math.PI;
}
/** Places that only fore arms and hands move: they are carried, not bent. */
function carried(d: Document): number[] {
  const model = readModel(d);
  const node = model.nodes.findIndex((n) => n.skin >= 0);
  const p = model.meshes[model.nodes[node].mesh].primitives[0];
  const names = model.skins[0].joints.map((j) => model.nodes[j].name);
  return [...Array(p.positions.length / 3).keys()].filter((v) =>
    [0, 1, 2, 3].every((k) => (p.weights?.[v * 4 + k] ?? 0) === 0 || /^(lowerarm|hand)_/.test(names[p.joints?.[v * 4 + k] ?? 0])),
  );
}

let made: Float32Array;
beforeAll(async () => {
  made = restOf(await suit(44));
});

describe('another rest pose', () => {
  test('arms level brought to an A stand as if it had been made so', async () => {
    const d = await suit();
    restIn(d, 'A');
    expect(armDeg(d)).toBeCloseTo(44, 1);
    const now = restOf(d);
    const of = carried(d);
    expect(of.length).toBeGreaterThan(150);
    for (const v of of) for (let k = 0; k < 3; k++) expect(Math.abs(now[v * 3 + k] - made[v * 3 + k])).toBeLessThan(2e-3);
    // legs and trunk did not stir
    const before = restOf(await suit());
    for (let i = 0; i < before.length; i += 3) if (before[i + 1] < 1) expect(Math.abs(now[i] - before[i])).toBeLessThan(1e-6);
    expect((await validateBytes(await new WebIO().writeBinary(d), { maxIssues: 0 })).issues.numErrors).toBe(0);
  });

  test('there and back again it is what it was; held as it is nothing moves', async () => {
    const before = restOf(await suit());
    const d = await suit();
    restIn(d, 'T');
    const same = restOf(d);
    for (let i = 0; i < before.length; i++) expect(Math.abs(same[i] - before[i])).toBeLessThan(1e-5);
    restIn(d, 'half');
    expect(armDeg(d)).toBeCloseTo(58, 1);
    restIn(d, 'T');
    const back = restOf(d);
    for (const v of carried(d)) for (let k = 0; k < 3; k++) expect(Math.abs(back[v * 3 + k] - before[v * 3 + k])).toBeLessThan(1e-4);
  });

  test('clips move its bones where they moved them', async () => {
    const d = await suit();
    addClip(d, motionClip(d, { motion: 'wave', speed: null, energy: 1, inPlace: true }));
    const joints = () => {
      const model = readModel(d);
      return [0, 0.7, 1.9].flatMap((t) => nodeMatrices(model, poseAt(model, 0, t)).flatMap((m) => [...m.elements.slice(12, 15)]));
    };
    const before = joints();
    restIn(d, 'half');
    for (const [i, x] of joints().entries()) expect(x).toBeCloseTo(before[i], 5);
    // and its shape goes along: the hand is carried, so it is where it was
    const hand = (document: Document) => {
      const model = readModel(document);
      return posedPrimitives(model, poseAt(model, 0, 0.7))[0].positions;
    };
    const plain = await suit();
    addClip(plain, motionClip(plain, { motion: 'wave', speed: null, energy: 1, inPlace: true }));
    const [now, was] = [hand(d), hand(plain)];
    for (const v of carried(d)) for (let k = 0; k < 3; k++) expect(Math.abs(now[v * 3 + k] - was[v * 3 + k])).toBeLessThan(1e-4);
  });

  test('two skins of one mesh, and a shape without a figure', async () => {
    const d = await suit();
    const node = d
      .getRoot()
      .listNodes()
      .find((n) => n.getMesh());
    const twin = d.getRoot().listSkins()[0].clone();
    const second = d
      .createNode('second')
      .setMesh(node?.getMesh() ?? null)
      .setSkin(twin);
    d.getRoot().getDefaultScene()?.addChild(second);
    restIn(d, 'A');
    const model = readModel(d);
    const [a, b] = posedPrimitives(model, restPose(model)).map((p) => p.positions);
    for (let i = 0; i < a.length; i += 11) expect(a[i]).toBeCloseTo(b[i], 6);
    const { positions, triangles } = masthead();
    const mast = await new WebIO().readBinary(await lone(4, positions, triangles));
    expect(() => restIn(mast, 'T')).toThrow(/bones of a figure/);
  });
});
