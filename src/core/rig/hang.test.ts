import { type Document, WebIO } from '@gltf-transform/core';
import { Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { bentTube, errorsOf, lone, tools } from '../../../e2e/support/preparing';
import { readModel } from '../model';
import { posedPrimitives, restPose } from '../model/pose';
import { runStep } from '../prepare';
import { hangChains } from './hang';
import type { Vec } from './middle';
import { manikin, TAIL } from './samples';
import { tube } from './shapes';
import { sparsOf } from './spars';

/** A tube on four bones, and a pennant that no skin moves, hung on its third bone; both under nodes that turn and size. */
function mast(): Document {
  const doc = bentTube(12, 24);
  const root = doc.getRoot();
  const buffer = root.listBuffers()[0];
  const { positions, triangles } = tube(
    (t): Vec => [0.1 * t, 0, 0],
    () => 0.005,
    20,
    8,
  );
  const primitive = doc
    .createPrimitive()
    .setAttribute('POSITION', doc.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer))
    .setIndices(doc.createAccessor().setType('SCALAR').setArray(triangles).setBuffer(buffer))
    .setMaterial(doc.createMaterial('cloth'));
  const pennant = doc.createNode('pennant').setMesh(doc.createMesh('pennant').addPrimitive(primitive)).setTranslation([0.021, 0.02, 0]);
  root
    .listNodes()
    .find((n) => n.getName() === 'bone 2')
    ?.addChild(pennant);
  return doc;
}
const placesOf = (doc: Document) => {
  const model = readModel(doc);
  return posedPrimitives(model, restPose(model)).flatMap((p) => Array.from(p.positions));
};
/** The place of a primitive of a mesh, as its vertices are. */
const ofMesh = (doc: Document, name: string) => {
  const model = readModel(doc);
  return posedPrimitives(model, restPose(model))
    .filter((p) => model.meshes[p.mesh].name === name)
    .flatMap((p) => Array.from({ length: p.positions.length / 3 }, (_, i) => new Vector3().fromArray(p.positions, i * 3)));
};
const turn = (doc: Document, name: string, deg: number) =>
  doc
    .getRoot()
    .listNodes()
    .find((n) => n.getName() === name)
    ?.setRotation(
      new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), (deg * Math.PI) / 180).toArray() as [number, number, number, number],
    );

// the mast is 0.2 m high, its bones 0.05 m each: the third begins at 0.1 m, the pennant at 0.12 m
const PRESSES = { root: [0.021, 0.125, 0] as Vec, tip: [0.121, 0.12, 0] as Vec, bones: 3, name: 'pennant' };

describe('a chain on bones that are there', () => {
  it('hangs from the bone there; nothing moves at rest, what it does not hold keeps its bits, the validator passes it', async () => {
    const doc = mast();
    const before = placesOf(doc);
    const tubes = doc.getRoot().listMeshes()[0].listPrimitives()[0];
    const kept = [tubes.getAttribute('JOINTS_0')?.getArray()?.slice(), tubes.getAttribute('WEIGHTS_0')?.getArray()?.slice()];
    const { chains } = hangChains(doc, [PRESSES]);
    expect(chains.map((c) => c.bones)).toEqual([['pennant.1', 'pennant.2', 'pennant.3']]);
    const after = placesOf(doc);
    expect(Math.max(...before.map((x, i) => Math.abs(x - after[i])))).toBeLessThan(1e-6);
    expect([tubes.getAttribute('JOINTS_0')?.getArray(), tubes.getAttribute('WEIGHTS_0')?.getArray()]).toEqual(kept);
    const { spars, chains: seen } = sparsOf(readModel(doc));
    const first = spars.findIndex((s) => s.name === 'pennant.1');
    expect(spars[spars[first].parent].name).toBe('bone 2');
    expect(seen.find((c) => c.name === 'pennant')).toMatchObject({ found: { name: 'pennant', joint: 0 } });
    expect(spars[first].head[0]).toBeCloseTo(0.02, 2);
    expect(spars[spars.length - 1].tail[0]).toBeCloseTo(0.12, 2);
    expect(await errorsOf(await new WebIO().writeBinary(doc))).toEqual([]);
    // what it wrote anew it did not leave behind
    const used = (a: { listParents(): unknown[] }) => a.listParents().length > 1;
    expect(
      doc
        .getRoot()
        .listAccessors()
        .filter((a) => !used(a)),
    ).toEqual([]);
  });

  it('it follows that bone whole, and its own bones from the root on', () => {
    const doc = mast();
    hangChains(doc, [PRESSES]);
    const rest = ofMesh(doc, 'pennant');
    turn(doc, 'bone 2', 90);
    const carried = ofMesh(doc, 'pennant');
    // as the bone turns about its head, 0.1 m up: rigid, though several bones hold it
    rest.forEach((p, i) => {
      expect(carried[i].distanceTo(new Vector3(-(p.y - 0.1), p.x + 0.1, p.z))).toBeLessThan(1e-5);
    });
    turn(doc, 'bone 2', 0);
    turn(doc, 'pennant.3', 60);
    const bent = ofMesh(doc, 'pennant');
    const moved = rest.map((p, i) => ({ x: p.x, by: p.distanceTo(bent[i]) }));
    expect(Math.max(...moved.filter((m) => m.x > 0.115).map((m) => m.by))).toBeGreaterThan(0.02);
    for (const m of moved.filter((m) => m.x < 0.05)) expect(m.by).toBeLessThan(1e-4);
  });

  it('a name that a node has is given no second time; presses on no bones are refused', () => {
    const doc = mast();
    doc.createNode('pennant.2');
    doc
      .getRoot()
      .listScenes()[0]
      .addChild(doc.getRoot().listNodes().at(-1) as never);
    hangChains(doc, [PRESSES]);
    const names = doc
      .getRoot()
      .listNodes()
      .map((n) => n.getName());
    expect(new Set(names).size).toBe(names.length);
    const bare = bentTube(12, 24);
    for (const s of bare.getRoot().listSkins()) s.dispose();
    expect(() => hangChains(bare, [PRESSES])).toThrow('no bones that a chain could hang from');
  });

  it('a figure’s tail is told as an end of no limb, and becomes a chain on its hips', async () => {
    const { positions, triangles } = manikin(72, true);
    const doc = await new WebIO().readBinary(await lone(4, positions, triangles));
    await runStep(doc, { step: 'figure', settings: { detail: 17, jointsM: {}, weights: 'auto' } }, tools());
    const ends = readModel(doc).nodes.flatMap((n) => n.ends);
    const tail = ends.find((e) => Math.hypot(...e.tipM.map((x, k) => x - TAIL.tip[k])) < 0.08);
    if (!tail) throw new Error(JSON.stringify(ends));
    // it leaves the body behind the hips
    expect(Math.hypot(...tail.rootM.map((x, k) => x - [0, 0.92, -0.15][k]))).toBeLessThan(0.12);
    const before = sparsOf(readModel(doc)).spars;
    const hands = readModel(doc);
    const rest = placesOf(doc);
    const pressed = { name: 'tail', ...tail, bones: 4 };
    await runStep(doc, { step: 'chains', settings: { chains: [pressed], more: [], changes: {}, weights: 'auto' } }, tools());
    const { spars } = sparsOf(readModel(doc));
    expect(spars.slice(0, before.length).map((s) => s.name)).toEqual(before.map((s) => s.name));
    expect(spars.slice(before.length).map((s) => s.name)).toEqual(['tail.1', 'tail.2', 'tail.3', 'tail.4']);
    expect(spars[spars[before.length].parent].name).toMatch(/hips|spine/);
    const after = placesOf(doc);
    expect(Math.max(...rest.map((x, i) => Math.abs(x - after[i])))).toBeLessThan(1e-6);
    // the end follows the last bone alone, the rest of the body what it followed
    const model = readModel(doc);
    const [p, q] = [hands, model].map((m) => m.meshes[0].primitives[0]);
    let tips = 0;
    for (let v = 0; v < q.positions.length / 3; v++) {
      const [y, z] = [q.positions[v * 3 + 1], q.positions[v * 3 + 2]];
      if (z < -0.7) {
        expect(model.nodes[model.skins[0].joints[q.joints?.[v * 4] ?? 0]].name).toBe('tail.4');
        tips++;
      }
      if (z > 0 || y > 1.2) expect([q.joints?.[v * 4], q.weights?.[v * 4]]).toEqual([p.joints?.[v * 4], p.weights?.[v * 4]]);
    }
    expect(tips).toBeGreaterThan(5);
    await expect(
      runStep(doc, { step: 'chains', settings: { chains: 'all', more: [], changes: {}, weights: 'auto' } }, tools()),
    ).rejects.toThrow('has bones already');
  });
});
