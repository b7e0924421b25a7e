/** What the tests of preparing share: tools as Node gives them, models that bend and wear pictures, and the validator. */
import { Document, WebIO } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import { validateBytes } from 'gltf-validator';
import { MeshoptDecoder } from 'meshoptimizer';
import sharp from 'sharp';
import { bodyBase } from '@/core/form/samples';
import type { RecipeStep, StepDraft } from '@/core/piece';
import { type Limits, NO_LIMITS, type RunTools, runMeasured, type Solution, solve, TextureCache } from '@/core/prepare';
import { makeReference } from '@/core/prepare/measure/error';
import { readShape } from '@/core/prepare/measure/shape';
import { blob, surfaceDocument } from '@/core/prepare/samples';
import { nodeDraco } from '@/worker/node/codecs';
import { nodePictures } from '@/worker/node/pictures';

export const draco = await nodeDraco();
await MeshoptDecoder.ready;

export const tools = (): RunTools => ({
  ...nodePictures,
  picture: async () => null,
  model: async () => null,
  body: async () => bodyBase(),
  draco,
  now: () => 0,
  progress: () => undefined,
});
export const asRecipe = (steps: readonly StepDraft[]) => steps.map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);

/** The budget solver, asked at half a metre; quick where its parts are asked about, not how good its answer is. */
export async function search(document: Document, limits: Partial<Limits>, effort: 'quick' | 'full' = 'quick'): Promise<Solution> {
  const cache = new TextureCache(nodePictures);
  const ref = makeReference(readShape(document), await cache.of(document), 0.5);
  const t = tools();
  return solve(cloneDocument(document), ref, (d) => cache.of(d), { ...NO_LIMITS, ...limits }, 0.5, { ...t, recipe: t, effort });
}
export const run = (document: Document, steps: readonly StepDraft[]) =>
  runMeasured(document, 1_000_000, asRecipe(steps), 0.5, 'end', tools());

export const errorsOf = async (glb: Uint8Array) => {
  const { issues } = await validateBytes(glb, { maxIssues: 0, writeTimestamp: false });
  return issues.messages.filter((m) => m.severity === 0).map((m) => `${m.code} ${m.pointer}`);
};

export const namesOf = (list: { getName(): string }[]) => list.map((x) => x.getName());

/** Noise of several sizes, as photographs have it. */
export async function photo(size: number): Promise<Uint8Array> {
  const data = new Uint8Array(size * size * 4).fill(255);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      for (let k = 0; k < 3; k++)
        data[(y * size + x) * 4 + k] =
          120 +
          60 * Math.sin(x / 23 + k) * Math.cos(y / 17) +
          30 * Math.sin(x / 3.1 + y / 2.3 + k) +
          ((x * 7919 + y * 104729 + k * 31) % 17);
  return new Uint8Array(
    await sharp(data, { raw: { width: size, height: size, channels: 4 } })
      .png()
      .toBuffer(),
  );
}

export async function painted(across = 64, edge = 256, radiusM = 0.09): Promise<Document> {
  const document = surfaceDocument('ball', blob(radiusM), across, across / 2);
  const material = document.getRoot().listMaterials()[0];
  material.setBaseColorTexture(
    document
      .createTexture('skin')
      .setImage((await photo(edge)) as Uint8Array<ArrayBuffer>)
      .setMimeType('image/png'),
  );
  return document;
}

/** A tube on four bones, bent by a clip, with a bulge as a morph target. */
export function bentTube(around = 48, along = 64): Document {
  const document = surfaceDocument(
    'tube',
    (u, v) => [0.02 * Math.sin(u * 2 * Math.PI), v * 0.2, 0.02 * Math.cos(u * 2 * Math.PI)],
    around,
    along,
  );
  const buffer = document.getRoot().listBuffers()[0];
  const put = (type: 'VEC3' | 'VEC4' | 'MAT4' | 'SCALAR', array: Float32Array | Uint16Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const node = document.getRoot().listNodes()[0];
  const primitive = document.getRoot().listMeshes()[0].listPrimitives()[0];
  const p = primitive.getAttribute('POSITION')?.getArray() as Float32Array;
  const n = p.length / 3;
  const joints = new Uint16Array(n * 4);
  const weights = new Float32Array(n * 4);
  const bulge = new Float32Array(n * 3);
  for (let i = 0; i < n; i++) {
    const at = Math.min(2.999, Math.max(0, (p[i * 3 + 1] / 0.2) * 4 - 0.5));
    joints.set([Math.floor(at), Math.floor(at) + 1, 0, 0], i * 4);
    weights.set([1 - (at % 1), at % 1, 0, 0], i * 4);
    const swell = 0.4 * Math.exp(-(((p[i * 3 + 1] - 0.1) / 0.02) ** 2));
    bulge.set([p[i * 3] * swell, 0, p[i * 3 + 2] * swell], i * 3);
  }
  primitive.setAttribute('JOINTS_0', put('VEC4', joints)).setAttribute('WEIGHTS_0', put('VEC4', weights));
  primitive.addTarget(document.createPrimitiveTarget('bulge').setAttribute('POSITION', put('VEC3', bulge)));
  const mesh = document
    .getRoot()
    .listMeshes()[0]
    .setWeights([0])
    .setExtras({ targetNames: ['bulge'] });
  const skin = document.createSkin('tube skin');
  const scene = document.getRoot().listScenes()[0];
  const animation = document.createAnimation('bend');
  let parent = node;
  for (let k = 0; k < 4; k++) {
    const bone = document.createNode(`bone ${k}`).setTranslation([0, k === 0 ? 0 : 0.05, 0]);
    if (k === 0) scene.addChild(bone);
    else parent.addChild(bone);
    parent = bone;
    skin.addJoint(bone);
    const sampler = document
      .createAnimationSampler()
      .setInterpolation('LINEAR')
      .setInput(put('SCALAR', new Float32Array([0, 1])))
      .setOutput(put('VEC4', new Float32Array([0, 0, 0, 1, 0, 0, Math.sin(0.15), Math.cos(0.15)])));
    animation
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setSampler(sampler).setTargetNode(bone).setTargetPath('rotation'));
  }
  skin.setInverseBindMatrices(
    put(
      'MAT4',
      Float32Array.from({ length: 64 }, (_, i) =>
        i % 16 === 13 ? -0.05 * Math.floor(i / 16) : i % 5 === 0 && i % 16 <= 15 && (i % 16) % 5 === 0 ? 1 : 0,
      ),
    ),
  );
  const bind = skin.getInverseBindMatrices()?.getArray() as Float32Array;
  for (let k = 0; k < 4; k++) for (let i = 0; i < 16; i++) bind[k * 16 + i] = i % 5 === 0 ? 1 : i === 13 ? -0.05 * k : 0;
  node.setSkin(skin).setMesh(mesh);
  return document;
}

/** A GLB of one primitive of a kind. */
export async function lone(mode: number, positions: ArrayLike<number>, indices?: ArrayLike<number>): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const p = document
    .createPrimitive()
    .setMode(mode as never)
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(Float32Array.from(positions)).setBuffer(buffer));
  if (indices) p.setIndices(document.createAccessor().setArray(Uint32Array.from(indices)).setBuffer(buffer));
  document.createScene().addChild(document.createNode('n').setMesh(document.createMesh('m').addPrimitive(p)));
  return new WebIO().writeBinary(document);
}
