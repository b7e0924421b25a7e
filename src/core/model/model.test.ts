/** What is read of a glTF as plain numbers, by the words of glTF 2.0 (sections 3.6 to 3.11). */
import { type Accessor, Document, type TypedArray } from '@gltf-transform/core';
import { EXTMeshGPUInstancing, type InstancedMesh } from '@gltf-transform/extensions';
import { Matrix4, Quaternion, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { readModel, readPrimitive } from './model';
import { stillMeshNodes } from './still';
import { applyNodes, applyTransform } from './transform';

function build() {
  const document = new Document();
  const buffer = document.createBuffer();
  const put = (type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4', array: TypedArray): Accessor =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  /** Vertices along a line: only their numbers matter. */
  const primitive = (vertices: number, mode: number, indices?: number[]) => {
    const p = document.createPrimitive().setMode(mode as 4);
    p.setAttribute(
      'POSITION',
      put(
        'VEC3',
        Float32Array.from({ length: vertices * 3 }, (_, i) => (i % 3 ? 0 : i / 3)),
      ),
    );
    return indices ? p.setIndices(put('SCALAR', Uint16Array.from(indices))) : p;
  };
  return { document, put, primitive };
}
const read = (...of: Parameters<ReturnType<typeof build>['primitive']>) => readPrimitive(build().primitive(...of));
/** Triangles as sets of corners in their winding, whichever comes first. */
const turned = (list: ArrayLike<number>) =>
  Array.from({ length: list.length / 3 }, (_, t) => {
    const [a, b, c] = [0, 1, 2].map((k) => list[t * 3 + k]);
    return a < b && a < c ? [a, b, c] : b < c ? [b, c, a] : [c, a, b];
  });

describe('a primitive', () => {
  test('a list as it is, one that is not there by the order of vertices; what is over at its end is no triangle', () => {
    expect([...(read(6, 4)?.triangles ?? [])]).toEqual([0, 1, 2, 3, 4, 5]);
    expect([...(read(4, 4, [2, 1, 0, 3, 2, 1, 0, 1])?.triangles ?? [])]).toEqual([2, 1, 0, 3, 2, 1]);
  });
  test('a strip and a fan by the formulas of section 3.7.2.1', () => {
    const strip = [0, 1, 2, 3, 4].flatMap((_, i) => (i < 3 ? [i, i + 1 + (i % 2), i + 2 - (i % 2)] : []));
    expect(turned(read(5, 5)?.triangles ?? [])).toEqual(turned(strip));
    expect(turned(read(5, 6)?.triangles ?? [])).toEqual(turned([1, 2, 0, 2, 3, 0, 3, 4, 0]));
    expect(turned(read(6, 6, [5, 1, 2, 4])?.triangles ?? [])).toEqual(turned([1, 2, 5, 2, 4, 5]));
    for (const mode of [5, 6]) expect(read(2, mode)?.triangles).toHaveLength(0);
  });
  test.each([0, 1, 2, 3])('points and lines (mode %i) are no triangles, and drawn all the same', (mode) => {
    const p = read(4, mode, [0, 3]);
    expect(p?.triangles).toHaveLength(0);
    expect([...(p?.drawn ?? [])]).toEqual([0, 3]);
  });
  test('a triangle that names a vertex that is not there is left out, whichever corner it is', () => {
    expect([...(read(4, 4, [0, 1, 2, 0, 1, 4, 0, 4, 1, 4, 0, 1, 9, 9, 9, 3, 1, 0])?.triangles ?? [])]).toEqual([0, 1, 2, 3, 1, 0]);
    expect([...(read(4, 4, [0, 1, 2, 0, 1, 4, 3])?.drawn ?? [])]).toEqual([0, 1, 2, 3]);
  });
  test('drawn are the vertices that are named, in order, each once; without a list all', () => {
    expect([...(read(6, 4, [4, 4, 2, 2, 0, 4])?.drawn ?? [])]).toEqual([0, 2, 4]);
    expect([...(read(3, 4)?.drawn ?? [])]).toEqual([0, 1, 2]);
  });
  test('without positions it is none', () => expect(readPrimitive(build().document.createPrimitive())).toBeNull());
  test('eight bones a vertex come as two sets, side by side; a set without weights ends them', () => {
    const { put, primitive } = build();
    const set = (from: number) => Uint8Array.from({ length: 8 }, (_, i) => from + i);
    const p = primitive(2, 4)
      .setAttribute('JOINTS_0', put('VEC4', set(0)))
      .setAttribute('WEIGHTS_0', put('VEC4', set(10)).setNormalized(true))
      .setAttribute('JOINTS_1', put('VEC4', set(20)))
      .setAttribute('WEIGHTS_1', put('VEC4', set(30)).setNormalized(true))
      .setAttribute('JOINTS_2', put('VEC4', set(40)));
    const r = readPrimitive(p);
    expect(r?.influences).toBe(8);
    expect([...(r?.joints ?? [])]).toEqual([0, 1, 2, 3, 20, 21, 22, 23, 4, 5, 6, 7, 24, 25, 26, 27]);
    const weights = [...(r?.weights ?? [])].map((w) => Math.round(w * 255));
    expect(weights).toEqual([10, 11, 12, 13, 30, 31, 32, 33, 14, 15, 16, 17, 34, 35, 36, 37]);
    expect(read(2, 4)).toMatchObject({ influences: 0, joints: null, weights: null, uvs: null, morphPositions: [] });
  });
  test('UVs packed into bytes are what they stand for; alpha is the material’s where it blends', () => {
    const { document, put, primitive } = build();
    const material = document.createMaterial().setBaseColorFactor([1, 1, 1, 0.4]);
    const p = primitive(2, 4)
      .setAttribute('TEXCOORD_0', put('VEC2', Uint8Array.of(0, 255, 51, 102)).setNormalized(true))
      .setMaterial(material);
    expect([...(readPrimitive(p)?.uvs ?? [])].map((x) => Math.round(x * 1000) / 1000)).toEqual([0, 1, 0.2, 0.4]);
    expect(readPrimitive(p)?.alpha).toBe(1);
    material.setAlphaMode('BLEND');
    expect(readPrimitive(p)?.alpha).toBe(0.4);
    expect(read(2, 4)?.alpha).toBe(1);
  });
});

describe('a model', () => {
  test('nodes know their parents; a skin without matrices binds where the bones are nought; weights of a mesh are its nodes’', () => {
    const { document, primitive } = build();
    const mesh = document.createMesh('m').addPrimitive(primitive(3, 4)).setWeights([0.25]);
    const [a, b, loose] = ['a', 'b', 'loose'].map((n) => document.createNode(n));
    a.addChild(b.setMesh(mesh));
    document.createScene().addChild(a);
    b.setSkin(document.createSkin().addJoint(a).addJoint(loose));
    const m = readModel(document);
    expect(m.nodes.map((n) => [n.name, n.parent, n.children, n.mesh, n.skin, n.morphWeights])).toEqual([
      ['a', -1, [1], -1, -1, []],
      ['b', 0, [], 0, 0, [0.25]],
      ['loose', -1, [], -1, -1, []],
    ]);
    expect(m.sceneRoots).toEqual([0]);
    expect(m.skins[0].joints).toEqual([0, 2]);
    expect([...m.skins[0].inverseBind]).toEqual([...new Matrix4().toArray(), ...new Matrix4().toArray()]);
    expect(readModel(new Document()).sceneRoots).toEqual([]);
  });
  test('a clip is as long as its longest channel; channels of nothing, for nothing or of odd numbers are left out', () => {
    const { document, put } = build();
    const node = document.createNode('n');
    const channel = (times: number[], values: number[], more: { way?: 'LINEAR' | 'CUBICSPLINE'; of?: typeof node | null } = {}) => {
      const sampler = document
        .createAnimationSampler()
        .setInput(put('SCALAR', Float32Array.from(times)))
        .setOutput(put('SCALAR', Float32Array.from(values)))
        .setInterpolation(more.way ?? 'LINEAR');
      const c = document.createAnimationChannel().setSampler(sampler).setTargetPath('weights');
      return more.of === null ? c : c.setTargetNode(more.of ?? node);
    };
    const clip = document.createAnimation('sway').setExtras({ loop: false });
    const all = [
      channel([0, 1.5], [0, 1]),
      channel([0, 2.5], [0, 1, 2, 3, 4, 5], { way: 'CUBICSPLINE' }),
      channel([0, 9], [0, 1], { of: null }),
      channel([], []),
      channel([0, 8], [1, 2, 3]),
      channel([0, 7], [1, 2, 3, 4], { way: 'CUBICSPLINE' }),
      document.createAnimationChannel().setTargetNode(node).setTargetPath('weights'),
      channel([0, 6], [0, 1]),
      channel([0, 5], [0, 1]),
      channel([0, 4], [0, 1]),
    ];
    all.at(-3)?.getSampler()?.setInput(null);
    all.at(-2)?.getSampler()?.setOutput(null);
    all.at(-1)?.setTargetPath(null as never);
    for (const c of all) clip.addChannel(c);
    document.createAnimation('other');
    const [sway, other] = readModel(document).clips;
    expect(sway.channels.map((c) => [c.node, c.interpolation, c.size])).toEqual([
      [0, 'LINEAR', 1],
      [0, 'CUBICSPLINE', 1],
    ]);
    expect([sway.name, sway.seconds, sway.loop]).toEqual(['sway', 2.5, false]);
    expect([other.seconds, other.loop, other.channels]).toEqual([0, true, []]);
  });
});

/** A mesh drawn three times by one node, turned and sized unevenly. */
function instanced() {
  const b = build();
  const mesh = b.document.createMesh().addPrimitive(b.primitive(3, 4));
  const q = new Quaternion(0.1, 0.4, -0.2, 0.8).normalize();
  const batch = b.document.createExtension(EXTMeshGPUInstancing).createInstancedMesh();
  batch.setAttribute('TRANSLATION', b.put('VEC3', Float32Array.of(0, 0, 0, 1, 2, 3, -1, 0, 4)));
  batch.setAttribute('ROTATION', b.put('VEC4', Float32Array.of(0, 0, 0, 1, ...q.toArray(), 0, 0.6, 0, 0.8)));
  batch.setAttribute('SCALE', b.put('VEC3', Float32Array.of(1, 1, 1, 2, 3, 5, 1, 0.5, 2)));
  const node = b.document.createNode('many').setMesh(mesh).setTranslation([0.5, 0, 0]).setExtension('EXT_mesh_gpu_instancing', batch);
  b.document.createScene().addChild(node);
  return { ...b, mesh, node };
}
/** Where the last vertex of every instance lies. */
function ends(document: Document): Vector3[] {
  const m = readModel(document);
  const n = m.nodes[0];
  const own = new Matrix4().compose(new Vector3(...n.translation), new Quaternion(...n.rotation), new Vector3(...n.scale));
  const p = new Vector3().fromArray(m.meshes[0].primitives[0].positions, 6);
  return Array.from({ length: (n.instances?.length ?? 0) / 16 }, (_, i) =>
    p
      .clone()
      .applyMatrix4(new Matrix4().fromArray(n.instances as Float32Array, i * 16))
      .applyMatrix4(own),
  );
}

describe('instances (EXT_mesh_gpu_instancing)', () => {
  test('stand where their rows say', () => {
    const [first, second] = ends(instanced().document);
    expect(first.toArray()).toEqual([2.5, 0, 0]);
    const q = new Quaternion(0.1, 0.4, -0.2, 0.8).normalize();
    const want = new Vector3(2 * 2, 0, 0).applyQuaternion(q).add(new Vector3(1.5, 2, 3));
    expect(second.distanceTo(want)).toBeLessThan(1e-6);
  });
  test.each(['TRANSLATION', 'ROTATION', 'SCALE'])('rows of %s alone are enough: what is not said is nothing', (only) => {
    const { document, node } = instanced();
    const batch = node.getExtension('EXT_mesh_gpu_instancing') as InstancedMesh;
    for (const name of batch.listSemantics()) if (name !== only) batch.setAttribute(name, null);
    const [, second] = ends(document);
    const q = new Quaternion(0.1, 0.4, -0.2, 0.8).normalize();
    const want = {
      TRANSLATION: new Vector3(3, 2, 3),
      ROTATION: new Vector3(2, 0, 0).applyQuaternion(q),
      SCALE: new Vector3(4, 0, 0),
    }[only] as Vector3;
    // the node’s own place
    expect(second.distanceTo(want.add(new Vector3(0.5, 0, 0)))).toBeLessThan(1e-6);
  });
  test.each([
    ['a quarter turn about up', new Quaternion(0, Math.SQRT1_2, 0, Math.SQRT1_2)],
    ['a quarter turn about fore', new Quaternion(0, 0, Math.SQRT1_2, Math.SQRT1_2)],
    ['two turns', new Quaternion(0.5, 0.5, 0.5, 0.5)],
  ])('%s moves each as it moves the whole', (_, turn) => {
    const before = ends(instanced().document);
    const { document } = instanced();
    applyTransform(document, { factor: 10, turn, shiftM: [1, 2, 3] });
    const after = ends(document);
    expect(after).toHaveLength(3);
    before.forEach((p, i) => {
      const want = p
        .applyQuaternion(turn)
        .multiplyScalar(10)
        .add(new Vector3(1, 2, 3));
      expect(after[i].distanceTo(want)).toBeLessThan(1e-4);
    });
  });
});

describe('working a node’s turn and size into its shape', () => {
  const uneven = new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), Math.PI / 2);
  function morphing(change: (b: ReturnType<typeof build>, node: ReturnType<Document['createNode']>) => void = () => undefined) {
    const b = build();
    const slant = new Vector3(1, 1, 0).normalize();
    const target = b.document
      .createPrimitiveTarget()
      .setAttribute('POSITION', b.put('VEC3', Float32Array.of(1, 0, 0, 0, 0, 0, 0, 1, 0)))
      .setAttribute('NORMAL', b.put('VEC3', Float32Array.of(0.5, 0, 0, 0, 0, 0, 0, 0.25, 0)));
    const p = b
      .primitive(3, 4)
      .setAttribute('NORMAL', b.put('VEC3', Float32Array.of(...slant.toArray(), ...slant.toArray(), 0, 0, 0)))
      .addTarget(target);
    const mesh = b.document.createMesh().addPrimitive(p);
    const node = b.document.createNode('n').setMesh(mesh).setRotation(uneven.toArray()).setScale([2, 1, 1]);
    b.document.createScene().addChild(node);
    change(b, node);
    return { ...b, mesh };
  }
  test('normals turn by the inverse transpose and stay of length one; what a morph adds to them is added as it is turned', () => {
    const { document, mesh } = morphing();
    expect(applyNodes(document)).toBe(1);
    expect(readModel(document).nodes.find((n) => n.mesh >= 0)).toMatchObject({ rotation: [0, 0, 0, 1], scale: [1, 1, 1] });
    const [p] = mesh.listPrimitives();
    const rows = (a: Accessor | null | undefined) =>
      Array.from({ length: 3 }, (_, i) => a?.getElement(i, []).map((x) => Math.round(x * 1e5) / 1e5 + 0));
    // (x, y) by 2 and 1, then a quarter turn: (−y, 2x); normals by ½ and 1: (−y, x/2)
    const l = Math.hypot(1, 0.5);
    const lean = [-1 / l, 0.5 / l, 0].map((x) => Math.round(x * 1e5) / 1e5);
    expect(rows(p.getAttribute('NORMAL'))).toEqual([lean, lean, [0, 0, 0]]);
    expect(rows(p.listTargets()[0].getAttribute('NORMAL'))).toEqual([
      [0, 0.25, 0],
      [0, 0, 0],
      [-0.25, 0, 0],
    ]);
    expect(rows(p.listTargets()[0].getAttribute('POSITION'))).toEqual([
      [0, 2, 0],
      [0, 0, 0],
      [-1, 0, 0],
    ]);
  });
  test('only where nothing moves it: no clip, bone, skin, instance or second user of the mesh', () => {
    const still = (change: Parameters<typeof morphing>[0]) => stillMeshNodes(readModel(morphing(change).document));
    expect(still(() => undefined)).toEqual([0]);
    expect(still((b) => b.document.createNode('empty').addChild(b.document.createNode()))).toEqual([0]);
    const moved = (b: ReturnType<typeof build>, n: ReturnType<Document['createNode']>) => {
      const sampler = b.document
        .createAnimationSampler()
        .setInput(b.put('SCALAR', Float32Array.of(0, 1)))
        .setOutput(b.put('VEC3', new Float32Array(6)));
      const channel = b.document.createAnimationChannel().setSampler(sampler).setTargetNode(n).setTargetPath('translation');
      b.document.createAnimation().addChannel(channel);
    };
    expect(still(moved)).toEqual([]);
    expect(still((b, n) => moved(b, b.document.createNode('over').addChild(n)))).toEqual([]);
    expect(still((b, n) => void b.document.createSkin().addJoint(n))).toEqual([]);
    expect(still((b, n) => void n.setSkin(b.document.createSkin().addJoint(b.document.createNode())))).toEqual([]);
    expect(still((b, n) => void b.document.createNode('twin').setMesh(n.getMesh()))).toEqual([]);
    expect(stillMeshNodes(readModel(instanced().document))).toEqual([]);
  });
});
