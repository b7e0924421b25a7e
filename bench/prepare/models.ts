/** What is made light: made from formulas, our demo's, and files nobody here made. */
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { Document } from '@gltf-transform/core';
import sharp from 'sharp';
import { seededRandom } from '@/core/math';
import { addSurface, blob, rippledTorus, sphere, surfaceDocument } from '@/core/prepare/samples';
import { openModel } from '@/worker/node';
import { helmetGlb } from '../../demo/models/helmet';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { rivalPath } from './rivals';
import { io } from './triangles';

export interface BenchModel {
  name: string;
  make: () => Promise<Uint8Array>;
}

/** The largest of Debian's assimp-testmodels that have shapes of triangles and are read here. */
const OUTSIDE = [
  'glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
  'PLY/Wuson.ply',
  'Collada/COLLADA.dae',
  'Collada/duck.dae',
  'Collada/teapots.DAE',
].map((f) => join('/usr/share/assimp/models', f));

/** As Stock would take it: one plain GLB. */
async function opened(path: string): Promise<Uint8Array> {
  const dir = mkdtempSync(join(tmpdir(), 'scaphos-bench-'));
  try {
    const { model } = await openModel({ files: [{ name: basename(path), path }], fromDisk: true, outDir: dir });
    return new Uint8Array(readFileSync(join(dir, model)));
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}

function rawDocument(positions: number[], triangles: number[]): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const p = document
    .createPrimitive()
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(Float32Array.from(positions)).setBuffer(buffer))
    .setIndices(document.createAccessor().setArray(Uint32Array.from(triangles)).setBuffer(buffer));
  document.createScene().addChild(document.createNode('bunny').setMesh(document.createMesh('bunny').addPrimitive(p)));
  return document;
}

function heap(): Document {
  const document = new Document();
  const random = seededRandom(9);
  for (let i = 0; i < 60; i++) {
    const r = 0.004 + 0.02 * random();
    const at: [number, number, number] = [0.1 * (random() - 0.5), 0.1 * random(), 0.1 * (random() - 0.5)];
    addSurface(
      document,
      `part ${i}`,
      i % 3 ? (i % 3 === 1 ? blob(r) : sphere(r)) : rippledTorus(r, r / 3, 5),
      40,
      20,
      document.createMaterial(`m${i % 4}`),
      at,
    );
  }
  return document;
}

async function bunny(): Promise<Uint8Array> {
  const { positions, cells } = createRequire(join(rivalPath('bunny'), 'x.js'))('bunny') as { positions: number[][]; cells: number[][] };
  return io.writeBinary(
    rawDocument(
      positions.flat().map((x) => x / 1000),
      cells.flat(),
    ),
  );
}

export const MODELS: readonly BenchModel[] = [
  { name: 'bunny (npm)', make: bunny },
  { name: 'ball', make: () => io.writeBinary(surfaceDocument('ball', sphere(0.1), 160, 80)) },
  { name: 'rippled torus', make: () => io.writeBinary(surfaceDocument('torus', rippledTorus(0.08, 0.03, 9), 200, 80)) },
  { name: 'detailed blob', make: () => io.writeBinary(surfaceDocument('blob', blob(0.1), 240, 120)) },
  { name: 'heap of 60 parts', make: () => io.writeBinary(heap()) },
  { name: "diver's helmet (demo)", make: helmetGlb },
  { name: 'spectacles (demo)', make: spectaclesGlb },
  ...OUTSIDE.filter(existsSync).map((f) => ({ name: `${basename(f)} (assimp-testmodels)`, make: () => opened(f) })),
];

/** Noise of several sizes, as photographs have it, as PNG. */
async function photo(size: number, seed: number): Promise<Uint8Array> {
  const data = new Uint8Array(size * size * 3);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      for (let k = 0; k < 3; k++)
        data[(y * size + x) * 3 + k] =
          120 +
          60 * Math.sin(x / 230 + k + seed) * Math.cos(y / 170) +
          30 * Math.sin(x / 31 + y / 23 + k) +
          ((x * 7919 + y * 104729 + k * 31) % 17);
  return new Uint8Array(
    await sharp(data, { raw: { width: size, height: size, channels: 3 } })
      .png()
      .toBuffer(),
  );
}

/** A blob of about `triangles` triangles; with `edge`, wearing two pictures of that size. */
export async function large(triangles: number, edge: number | null): Promise<Uint8Array> {
  const down = Math.round(Math.sqrt(triangles / 4));
  const document = surfaceDocument('blob', blob(0.1), down * 2, down);
  const material = document.getRoot().listMaterials()[0];
  const put = async (name: string, seed: number) =>
    document
      .createTexture(name)
      .setImage((await photo(edge ?? 1, seed)) as Uint8Array<ArrayBuffer>)
      .setMimeType('image/png');
  if (edge) material.setBaseColorTexture(await put('skin', 0)).setMetallicRoughnessTexture(await put('rough', 3));
  return io.writeBinary(document);
}
