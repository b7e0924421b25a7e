/** Poses against three's own mixer, which nobody here wrote: a spline of unequal tangents, and animated files of Debian's. */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';
import { AnimationMixer, type Mesh, type Object3D, Vector3 } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { expect, test } from 'vitest';
import { createGltfIo, readGltf } from '../intake';
import { poseAt, posedPrimitives, readModel } from './index';

(globalThis as { self?: unknown }).self ??= globalThis;

/** Worst distance over the model's size, at several moments of its first clip. */
async function worstAgainstThree(glb: Uint8Array): Promise<number> {
  const model = readModel(await createGltfIo({}).readBinary(glb as Uint8Array<ArrayBuffer>));
  const gltf = await new GLTFLoader().parseAsync(glb.slice().buffer, '');
  const byNode = new Map<number, Object3D>();
  for (const [o, at] of gltf.parser.associations) {
    const node = (at as { nodes?: number } | undefined)?.nodes;
    if (node !== undefined && 'isObject3D' in o) byNode.set(node, o as Object3D);
  }
  const mixer = new AnimationMixer(gltf.scene);
  mixer.clipAction(gltf.animations[0]).play();
  let [worst, size] = [0, 0];
  for (const share of [0, 0.13, 0.37, 0.5, 0.77, 0.93]) {
    const t = share * model.clips[0].seconds;
    mixer.setTime(t);
    gltf.scene.updateMatrixWorld(true);
    for (const p of posedPrimitives(model, poseAt(model, 0, t))) {
      const object = byNode.get(p.node);
      const meshes: Mesh[] = [];
      object?.traverse((x) => {
        if ('isMesh' in x && (x === object || x.parent === object)) meshes.push(x as Mesh);
      });
      const mesh = meshes[p.primitive];
      const v = new Vector3();
      for (let i = 0; i < p.positions.length / 3; i++) {
        mesh.getVertexPosition(i, v).applyMatrix4(mesh.matrixWorld);
        worst = Math.max(worst, Math.hypot(v.x - p.positions[i * 3], v.y - p.positions[i * 3 + 1], v.z - p.positions[i * 3 + 2]));
        size = Math.max(size, v.length());
      }
    }
  }
  expect(size).toBeGreaterThan(0);
  return worst / size;
}

test('a cubic spline whose in- and out-tangents differ, of place, turn, size and morph', async () => {
  const d = new Document();
  const buffer = d.createBuffer();
  const numbers = (type: 'SCALAR' | 'VEC3' | 'VEC4', list: number[]) =>
    d.createAccessor().setType(type).setArray(new Float32Array(list)).setBuffer(buffer);
  const corners = numbers('VEC3', [0, 0, 0, 1, 0, 0, 0, 1, 0]);
  const moved = d.createPrimitiveTarget().setAttribute('POSITION', numbers('VEC3', [0, 0, 0.5, 0, 0.2, 0, 0.1, 0, 0]));
  const mesh = d.createMesh().addPrimitive(d.createPrimitive().setAttribute('POSITION', corners).addTarget(moved)).setWeights([0]);
  const node = d.createNode('n').setMesh(mesh);
  d.createScene().addChild(node);
  const clip = d.createAnimation('spline');
  const times = numbers('SCALAR', [0, 0.7, 2]);
  // in-tangent, value, out-tangent a key; every in differs from its out
  const channel = (path: 'translation' | 'rotation' | 'scale' | 'weights', size: number, list: number[]) => {
    const type = path === 'weights' ? 'SCALAR' : size === 3 ? 'VEC3' : 'VEC4';
    const sampler = d.createAnimationSampler().setInput(times).setOutput(numbers(type, list)).setInterpolation('CUBICSPLINE');
    clip.addSampler(sampler).addChannel(d.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
  };
  channel('translation', 3, [0, 0, 0, 0, 0, 0, 1, -2, 0.5, -3, 1, 2, 0.4, 0.2, -0.3, 2, 0.5, -1, 4, -1, 0, 1, 0, 0, 0, 0, 0]);
  channel(
    'rotation',
    4,
    [
      0, 0, 0, 0, 0, 0, 0, 1, 0.3, 0.1, 0, -0.1, 0.2, -0.4, 0.1, 0, 0, 0.6, 0, 0.8, -0.5, 0.2, 0.3, 0.1, 0.1, 0.1, 0, 0, 0.5, 0.5, 0.5, 0.5,
      0, 0, 0, 0,
    ],
  );
  channel('scale', 3, [0, 0, 0, 1, 1, 1, 0.5, 0, 1, -1, 0.3, 0, 1.5, 0.8, 1.2, 0.2, 0.9, -0.4, 1, 1, 1, 0.7, 1.1, 1, 0, 0, 0]);
  channel('weights', 1, [0, 0, 2, -1, 0.6, 0.4, 3, 1, 0]);
  expect(await worstAgainstThree(await new WebIO().writeBinary(d))).toBeLessThan(1e-6);
});

const MODELS = '/usr/share/assimp/models/glTF2';
const files: [string, number][] = [
  // slerp near its shortcut differs there in the fourth digit
  ['simple_skin/simple_skin.gltf', 5e-4],
  ['glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf', 1e-5],
];
test.each(files.filter(([f]) => existsSync(`${MODELS}/${f}`)))('%s: every vertex where three’s mixer puts it', async (file, most) => {
  const path = join(MODELS, file);
  const bytes = new Uint8Array(readFileSync(path));
  const json = JSON.parse(new TextDecoder().decode(bytes));
  const companions = new Map<string, Uint8Array>();
  for (const { uri } of [...(json.buffers ?? []), ...(json.images ?? [])]) {
    const beside = uri && !uri.startsWith('data:') ? join(dirname(path), decodeURIComponent(uri)) : '';
    if (beside && existsSync(beside)) companions.set(decodeURIComponent(uri), new Uint8Array(readFileSync(beside)));
  }
  const { document } = await readGltf(bytes, {}, companions);
  // pictures need a page
  for (const t of document.getRoot().listTextures()) t.dispose();
  for (const m of document.getRoot().listMaterials()) m.dispose();
  await document.transform(unpartition());
  expect(await worstAgainstThree(await new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document))).toBeLessThan(most);
});
