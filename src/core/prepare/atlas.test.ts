/** The atlas step on pictures of known colours. */

import { Document, Logger, type Material } from '@gltf-transform/core';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { nodePictures } from '../../worker/node/pictures';
import { bodyBase } from '../form/samples';
import type { RecipeStep } from '../piece/recipe';
import { type RunTools, runMeasured } from './run';
import { addSurface, plane } from './samples';

type Rgb = readonly [number, number, number];
/** Four squares of different colours, the first at the upper left. */
async function squares(width: number, height: number, colours: readonly Rgb[]): Promise<Uint8Array> {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data.set(colours[(y < height / 2 ? 0 : 2) + (x < width / 2 ? 0 : 1)], (y * width + x) * 3);
  return new Uint8Array(
    await sharp(data, { raw: { width, height, channels: 3 } })
      .png()
      .toBuffer(),
  );
}
const RED: Rgb = [200, 30, 30];
const GREEN: Rgb = [30, 200, 30];
const BLUE: Rgb = [30, 30, 200];
const GREY: Rgb = [128, 128, 128];

const tools: RunTools = {
  ...nodePictures,
  picture: async () => null,
  model: async () => null,
  body: async () => bodyBase(),
  draco: null,
  now: () => 0,
  progress: () => undefined,
};
const atlas = (document: Document, maxEdge: number) =>
  runMeasured(document, 1, [{ id: 'a', on: true, step: 'atlas', settings: { maxEdge } } as RecipeStep], 0.5, 'end', tools);

let first: Uint8Array;
let second: Uint8Array;
beforeAll(async () => {
  first = await squares(64, 32, [RED, GREEN, BLUE, GREY]);
  second = await squares(32, 32, [GREY, BLUE, GREEN, RED]);
});

/** Two upright squares side by side, each with a picture of its own. */
function pair(change: (m: Material) => void = () => undefined, repeat = 1): Document {
  const document = new Document().setLogger(new Logger(Logger.Verbosity.SILENT));
  for (const [i, image] of [first, second].entries()) {
    const texture = document
      .createTexture(`picture ${i}`)
      .setImage(image as Uint8Array<ArrayBuffer>)
      .setMimeType('image/png');
    const material = document.createMaterial(`paint ${i}`).setBaseColorTexture(texture).setMetallicFactor(0).setDoubleSided(true);
    if (i === 1) change(material);
    const node = addSurface(document, `square ${i}`, plane(0.1), 2, 2, material, [i * 0.12, 0, 0]);
    node.setRotation([Math.SQRT1_2, 0, 0, Math.SQRT1_2]);
    const uv = node.getMesh()?.listPrimitives()[0].getAttribute('TEXCOORD_0');
    const values = uv?.getArray();
    if (uv && values && i === 1) uv.setArray(Float32Array.from(values as Float32Array, (x) => x * repeat) as Float32Array<ArrayBuffer>);
  }
  return document;
}

describe('the atlas step', () => {
  it('two pictures become parts of one, two materials one, and nothing looks different', async () => {
    const made = await atlas(pair(), 256);
    const root = made.document.getRoot();
    expect(root.listMaterials()).toHaveLength(1);
    expect(root.listTextures()).toHaveLength(1);
    // a picture that repeats bleeds from its far side at its rim, a part of an atlas does not: that is all there is to see
    expect(made.error?.ssimWorst).toBeGreaterThan(0.97);
    // each corner of a part still shows the colour it showed: read at its UVs
    const { data, width, height } = await nodePictures.decode(root.listTextures()[0].getImage() as Uint8Array);
    const seen = (p: number, v: number) => {
      const uv = root.listMeshes()[p].listPrimitives()[0].getAttribute('TEXCOORD_0')?.getElement(v, []) as number[];
      const at = (Math.min(height - 1, Math.floor(uv[1] * height)) * width + Math.min(width - 1, Math.floor(uv[0] * width))) * 4;
      return [...data.subarray(at, at + 3)];
    };
    expect([seen(0, 0), seen(1, 0)]).toEqual([RED, GREY]);
    // beyond the rim the rim goes on: a pixel further out is the same
    const uv = root.listMeshes()[0].listPrimitives()[0].getAttribute('TEXCOORD_0')?.getElement(0, []) as number[];
    const x = Math.floor(uv[0] * width) - 2;
    const y = Math.floor(uv[1] * height) - 2;
    expect([...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 3)]).toEqual(RED);
  });
  it('keeps within its edge by making all parts smaller alike', async () => {
    const made = await atlas(pair(), 64);
    expect(Math.max(...(made.document.getRoot().listTextures()[0].getSize() ?? []))).toBeLessThanOrEqual(64);
    expect(made.error?.ssimWorst).toBeGreaterThan(0.9);
  });
  it('what differs besides its picture, repeats it, or is alone stays as it is', async () => {
    for (const document of [pair((m) => m.setRoughnessFactor(0.3)), pair(undefined, 3), pair((m) => m.setAlphaMode('BLEND'))]) {
      const made = await atlas(document, 256);
      expect(made.document.getRoot().listMaterials()).toHaveLength(2);
      expect(made.document.getRoot().listTextures()).toHaveLength(2);
    }
  });
});
