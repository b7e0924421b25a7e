/** `./scaphos bench`: times as multiples of a yardstick taken in the same run, memory as multiples of the file's bytes. */

import { simulateCapture } from '@/core/capture';
import { packGlb } from '@/core/deliver';
import { buildFormBase, formDocument, makeForm, SKELETONS } from '@/core/form';
import { createGltfIo, findForm, frameGroups, inspectModel, readGltf, readModel } from '@/core/intake';
import { add, applyEdit, createModelItem, createModelPart, createPiece } from '@/core/piece';
import { stageStill, worldVertices } from '@/core/run';
import { nodeDraco } from '@/worker/node/codecs';
import { readMedia, readSequence } from '@/worker/node/media';
import { unzipModels } from '@/worker/node/unzip';
import { bellWav, flameZip, pennantPng, skyHdr, walkBvh } from '../demo/media';
import { helmetGlb } from '../demo/models/helmet';

const gc = (globalThis as { gc?: () => void }).gc ?? (() => undefined);
/** Buffers are given back a little after they are found to be garbage: asked until nothing more goes. */
async function collect(): Promise<number> {
  let held = Number.POSITIVE_INFINITY;
  for (let i = 0; i < 20; i++) {
    gc();
    await new Promise((r) => setTimeout(r, 50));
    const { arrayBuffers, heapUsed } = process.memoryUsage();
    if (arrayBuffers + heapUsed > held - 10_000) break;
    held = arrayBuffers + heapUsed;
  }
  const { arrayBuffers, heapUsed } = process.memoryUsage();
  return arrayBuffers + heapUsed;
}

/** Median of some runs, ms. */
async function median(work: () => unknown, runs = 9): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const from = performance.now();
    await work();
    times.push(performance.now() - from);
  }
  return times.sort((a, b) => a - b)[runs >> 1];
}

/** A fixed piece of plain arithmetic: what this machine does in one breath. */
function yardstick(): number {
  let x = 0;
  for (let i = 0; i < 5_000_000; i++) x += Math.sqrt(i) * 1.0000001;
  return x;
}

const unit = await median(yardstick);
const rows: [string, number, string][] = [];
const time = async (what: string, work: () => unknown, runs?: number) =>
  rows.push([what, (await median(work, runs)) / unit, '× yardstick']);

const base = buildFormBase();
const glb = await helmetGlb();
const model = readModel((await readGltf(glb, {})).document);
const sha = 'a'.repeat(64);
const piece = applyEdit(createPiece('Bench'), {
  kind: 'batch',
  edits: [
    add('stock', createModelItem({ id: 's', name: 'helmet.glb', original: sha, model: sha, bytes: glb.length })),
    add('parts', createModelPart('p', 's', 'Helmet')),
  ],
});
const models = { [sha]: model };

await time('form: base, once', () => buildFormBase(), 3);
await time('form: one size from the base', () => makeForm(base, 'L'));
await time('form: one size with an expression', () => makeForm(base, 'L', { AU12: 0.5, AU45: 1 }));
await time('intake: read the helmet', () => readGltf(glb, {}));
await time('intake: read and inspect the helmet', async () => inspectModel(await readGltf(glb, {}), glb.length));
const turned = simulateCapture({ yawDeg: 30, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M);
await time('run: one frame at rest', () => stageStill(piece, { models }, turned));
await time('run: world vertices of the helmet', () => worldVertices(stageStill(piece, { models }, turned).parts[1], model));
await time('deliver: pack the GLB', () =>
  packGlb(piece, async () => createGltfIo({}).readBinary(glb as Uint8Array<ArrayBuffer>), nodeDraco),
);

const pennant = await pennantPng(1024);
const bell = bellWav(44_100);
const frames = await flameZip(48, 128);
const walk = new TextEncoder().encode(walkBvh(600));
const sky = skyHdr('quay-at-dawn', 1024);
const returned = readModel(formDocument(makeForm(base, 'M'), 'M'));
await time('stock: a picture of 1024², packings tried', () => readMedia('pennant.png', pennant), 3);
await time('stock: a sound of 4 s', () => readMedia('bell.wav', bell), 3);
await time(
  'stock: 48 frames of 128² onto a sheet',
  async () => {
    const files = await unzipModels(frames);
    return readSequence('flame.zip', frames.length, frameGroups([...files.keys()])[0], files);
  },
  3,
);
await time('stock: a BVH of 600 frames', () => readMedia('walk.bvh', walk), 3);
await time('stock: an environment of 1024 × 512', () => readMedia('sky.hdr', sky), 3);
await time('stock: the form found in a model', () => findForm(returned), 3);

const idle = await collect();
const held = readModel((await readGltf(glb, {})).document);
const full = await collect();
rows.push(['memory: the helmet as a plain model', (full - idle) / glb.length, '× its file']);
if (held.nodes.length === 0) throw new Error('the model is empty');

console.log(`yardstick: ${unit.toFixed(1)} ms (5 million square roots), median of 9`);
for (const [what, ratio, of] of rows) console.log(`${what.padEnd(44)} ${ratio.toFixed(2).padStart(8)} ${of}`);
