import { existsSync, readFileSync } from 'node:fs';
import { Document, type Mesh, type Node, WebIO } from '@gltf-transform/core';
import { type SkinnedMesh, Vector3 } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { describe, expect, test } from 'vitest';
import { bentTube } from '../../../e2e/support/preparing';
import { type ModelChannel, readGltf, readModel } from '../intake';
import { packDocument } from '../prepare';
import { poseAt, posedPrimitives, sampleChannel } from '.';

const channel = (c: Partial<ModelChannel>): ModelChannel => ({
  node: 0,
  path: 'translation',
  interpolation: 'LINEAR',
  times: new Float32Array([0, 1, 3]),
  values: new Float32Array([0, 2, 6]),
  size: 1,
  ...c,
});

describe('sampleChannel', () => {
  test('linear: held before the first and after the last key, straight between', () => {
    const c = channel({});
    expect([-1, 0, 0.5, 1, 2, 3, 9].map((t) => sampleChannel(c, t)[0])).toEqual([0, 0, 1, 2, 4, 6, 6]);
  });
  test('step keeps the key before', () =>
    expect([0, 0.99, 1, 2.9].map((t) => sampleChannel(channel({ interpolation: 'STEP' }), t)[0])).toEqual([0, 0, 2, 2]));
  test('rotation turns at an even rate: half of a quarter turn is 45°', () => {
    const q = [0, 0, 0, 1, 0, Math.SQRT1_2, 0, Math.SQRT1_2];
    const v = sampleChannel(channel({ path: 'rotation', size: 4, times: new Float32Array([0, 1]), values: new Float32Array(q) }), 0.5);
    expect(2 * Math.acos(v[3])).toBeCloseTo(Math.PI / 4, 6);
  });
  test('cubic spline with tangents of a parabola gives the parabola (glTF 2.0, appendix C)', () => {
    // x = t²: values 0, 1, 4 at 0, 1, 2 with slopes 0, 2, 4
    const c = channel({
      interpolation: 'CUBICSPLINE',
      times: new Float32Array([0, 1, 2]),
      values: new Float32Array([0, 0, 0, 2, 1, 2, 4, 4, 4]),
    });
    for (const t of [0, 0.25, 0.5, 1, 1.5, 1.9]) expect(sampleChannel(c, t)[0]).toBeCloseTo(t * t, 6);
  });
});

/** Debian's assimp-testmodels: not made here. The file's two joints bend an eight-triangle ribbon. */
const SKINNED = '/usr/share/assimp/models/glTF2/simple_skin/simple_skin.gltf';
describe.skipIf(!existsSync(SKINNED))('a skinned file nobody here made', () => {
  test('at rest it is 1 m wide and 2 m high; bent, its top moves and its foot stays', async () => {
    const model = readModel((await readGltf(readFileSync(SKINNED), {})).document);
    const rest = posedPrimitives(model, poseAt(model, -1, 0))[0].positions;
    const bent = posedPrimitives(model, poseAt(model, 0, 1.5))[0].positions;
    expect(Math.max(...rest.filter((_, i) => i % 3 === 1))).toBeCloseTo(2, 5);
    expect(bent.slice(0, 6)).toEqual(rest.slice(0, 6));
    expect(Math.hypot(bent[24] - rest[24], bent[25] - rest[25])).toBeGreaterThan(0.5);
    // the upper joint turns about (0, 1, 0): distances to it are kept
    const toJoint = (p: Float32Array, v: number) => Math.hypot(p[v * 3], p[v * 3 + 1] - 1);
    expect(toJoint(bent, 9)).toBeCloseTo(toJoint(rest, 9), 2);
  });
});

describe('weights that do not sum to 1', () => {
  const io = new WebIO();
  /** Two triangles on two joints, the second a metre up and turned; each vertex pulled by both. */
  async function bent(weights: (v: number) => [number, number]): Promise<Uint8Array> {
    const document = new Document();
    const buffer = document.createBuffer();
    const put = (type: 'VEC3' | 'VEC4' | 'MAT4', array: Float32Array | Uint16Array) =>
      document
        .createAccessor()
        .setType(type)
        .setArray(array as Float32Array<ArrayBuffer>)
        .setBuffer(buffer);
    const places = [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0.2, 0, 2, 0, 1, 2, 0.4];
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', put('VEC3', new Float32Array(places)))
      .setAttribute(
        'JOINTS_0',
        put(
          'VEC4',
          new Uint16Array(24).map((_, i) => (i % 4 === 1 ? 1 : 0)),
        ),
      )
      .setAttribute(
        'WEIGHTS_0',
        put(
          'VEC4',
          Float32Array.from({ length: 24 }, (_, i) => (i % 4 < 2 ? weights(i >> 2)[i % 4] : 0)),
        ),
      );
    const [foot, top] = [document.createNode('foot'), document.createNode('top')];
    top.setTranslation([0, 1, 0.5]).setRotation([0, 0, Math.sin(0.4), Math.cos(0.4)]);
    foot.addChild(top);
    const bind = Float32Array.from({ length: 32 }, (_, i) => ((i % 16) % 5 === 0 ? 1 : i === 29 ? -1 : 0));
    const skin = document.createSkin('s').addJoint(foot).addJoint(top).setInverseBindMatrices(put('MAT4', bind));
    const node = document.createNode('sheet').setMesh(document.createMesh('m').addPrimitive(primitive)).setSkin(skin);
    document.createScene().addChild(foot).addChild(node);
    return io.writeBinary(document);
  }
  const drawn = async (glb: Uint8Array) => {
    const model = readModel((await readGltf(glb, {})).document);
    return posedPrimitives(model, poseAt(model, -1, 0))[0].positions;
  };

  test('are taken in proportion, as three.js draws them', async () => {
    const glb = await bent((v) => [0.3 + 0.2 * v, 0.9 - 0.1 * v]);
    const ours = await drawn(glb);
    const { scene } = await new GLTFLoader().parseAsync(glb.slice().buffer, '');
    scene.updateMatrixWorld(true);
    const mesh = scene.getObjectByName('sheet') as SkinnedMesh;
    for (let v = 0; v < 6; v++) {
      const p = new Vector3().fromBufferAttribute(mesh.geometry.getAttribute('position'), v);
      mesh.applyBoneTransform(v, p);
      p.applyMatrix4(mesh.matrixWorld);
      expect([...ours.slice(v * 3, v * 3 + 3)]).toEqual(p.toArray().map((x) => expect.closeTo(x, 5)));
    }
  });
  test('twice the weights move nothing', async () => {
    const [one, two] = [await drawn(await bent(() => [0.25, 0.75])), await drawn(await bent(() => [0.5, 1.5]))];
    expect([...two]).toEqual([...one].map((x) => expect.closeTo(x, 6)));
  });
  test('rounding them to bytes does not either', async () => {
    const document = (await readGltf(await bent((v) => [0.5 + 0.1 * v, 0.8]), {})).document;
    const before = await drawn(await io.writeBinary(document));
    const packing = { method: 'none', quantise: { positionBits: 16, normalBits: 8, uvBits: 12 }, reorder: false } as const;
    const after = await drawn(await packDocument(document, packing, null));
    // steps of positions (2⁻¹⁶ of 2 m) and of weights (1/255 of what the two joints lie apart)
    for (let i = 0; i < before.length; i++) expect(Math.abs(after[i] - before[i])).toBeLessThan(0.006);
  });
});

describe('time and rest', () => {
  const bulging = () => {
    const document = bentTube(8, 24);
    const node = document
      .getRoot()
      .listNodes()
      .find((n) => n.getMesh()) as Node;
    return { document, node };
  };
  test('a clip that loops is the same a length later and a length before; one played once stays at its ends', async () => {
    const model = readModel(bulging().document);
    const at = (t: number) => [...posedPrimitives(model, poseAt(model, 0, t))[0].positions];
    const near = (p: number[]) => p.map((x) => expect.closeTo(x, 5));
    const { seconds, loop } = model.clips[0];
    expect(loop).toBe(true);
    for (const t of [0.25, 0.6]) for (const n of [-2, -1, 1, 3]) expect(at(t + n * seconds)).toEqual(near(at(t)));
    const once = { ...model, clips: model.clips.map((c) => ({ ...c, loop: false })) };
    const of = (t: number) => [...posedPrimitives(once, poseAt(once, 0, t))[0].positions];
    expect(of(-1)).toEqual(of(0));
    expect(of(seconds + 2)).toEqual(of(seconds));
    expect(of(seconds)).not.toEqual(of(0));
  });
  test('what no clip moves has the weights of its node, which override those of its mesh; as three.js reads them', async () => {
    const { document, node } = bulging();
    const mesh = node.getMesh() as Mesh;
    const widest = () => {
      const model = readModel(document);
      return Math.max(...posedPrimitives(model, poseAt(model, -1, 0))[0].positions.filter((_, i) => i % 3 === 0));
    };
    expect(widest()).toBeCloseTo(0.02, 4);
    mesh.setWeights([1]);
    const swollen = widest();
    expect(swollen).toBeGreaterThan(0.0205);
    node.setWeights([0.5]);
    expect(widest()).toBeCloseTo((swollen + 0.02) / 2, 4);
    const { scene } = await new GLTFLoader().parseAsync((await new WebIO().writeBinary(document)).slice().buffer, '');
    let told: number[] = [];
    scene.traverse((o) => {
      if ('morphTargetInfluences' in o) told = (o as SkinnedMesh).morphTargetInfluences ?? [];
    });
    expect([1, 0.5]).toContain(told[0]);
  });
});
