/** KTX2 written and read: against the container's own parser, another build of the transcoder, and the closed form of its memory. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { type Document, WebIO } from '@gltf-transform/core';
import { validateBytes } from 'gltf-validator';
import { read } from 'ktx-parse';
import { describe, expect, it } from 'vitest';
import { packDocument, weighDocument } from '@/core/prepare';
import { runPictures } from '@/core/prepare/pictures';
import { blob, surfaceDocument } from '@/core/prepare/samples';
import { decodeKtx2, encodeKtx2, isKtx2 } from './ktx2';
import { nodePictures } from './pictures';

const ramp = (size: number) => {
  const data = new Uint8Array(size * size * 4);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) data.set([(x * 255) / size, (y * 255) / size, 128, 255], (y * size + x) * 4);
  return { width: size, height: size, data };
};
const meanGap = (a: Uint8Array, b: Uint8Array) => a.reduce((s, x, i) => s + Math.abs(x - b[i]), 0) / a.length;

/** three's build of the Basis transcoder. */
async function otherDecoder(bytes: Uint8Array, size: number): Promise<Uint8Array> {
  const require = createRequire(import.meta.url);
  const path = require.resolve('three/examples/jsm/libs/basis/basis_transcoder.js');
  // the file is a script of the browser: it leaves its factory in a variable
  const make = new Function('module', 'exports', 'require', '__dirname', '__filename', `${readFileSync(path, 'utf8')}\nreturn BASIS;`);
  const basis = await make({}, {}, require, path.replace(/[^/]*$/, ''), path)({ wasmBinary: readFileSync(path.replace(/js$/, 'wasm')) });
  basis.initializeBasis();
  const file = new basis.KTX2File(bytes);
  file.startTranscoding();
  const out = new Uint8Array(size * size * 4);
  file.transcodeImage(out, 0, 0, 0, 13, 0, -1, -1);
  file.close();
  file.delete();
  return out;
}

const painted = async (edge: number): Promise<Document> => {
  const document = surfaceDocument('blob', blob(0.1), 16, 8);
  const { data, width, height } = ramp(edge);
  const { default: sharp } = await import('sharp');
  const png = await sharp(data, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
  document
    .getRoot()
    .listMaterials()[0]
    .setBaseColorTexture(document.createTexture('ramp').setImage(new Uint8Array(png)).setMimeType('image/png'));
  return document;
};

describe('KTX2', () => {
  it.each([
    ['colours, as ETC1S', false, 1],
    ['directions, as UASTC', true, 2],
  ] as const)('%s: the container says what it is, and two decoders read the same', async (_, directions, scheme) => {
    const made = await encodeKtx2(ramp(64), 90, directions, directions);
    const box = read(made);
    expect([box.vkFormat, box.pixelWidth, box.pixelHeight, box.levels.length, box.supercompressionScheme]).toEqual([0, 64, 64, 7, scheme]);
    expect(isKtx2(made)).toBe(true);
    const ours = await decodeKtx2(made);
    expect(ours.data).toEqual(await otherDecoder(made, 64));
    expect(meanGap(ours.data, ramp(64).data)).toBeLessThan(6);
  });
  it('what is no KTX2 is refused', async () => {
    expect(isKtx2(new Uint8Array(12))).toBe(false);
    const broken = (await encodeKtx2(ramp(16), 50, false, false)).slice(0, 90);
    await expect(decodeKtx2(broken)).rejects.toThrow();
  });
  it('a model wears it: valid, edges multiples of four, a quarter of the memory; 1024² of RGBA is 5 592 404 bytes with mip levels', async () => {
    const document = await painted(1024);
    const geometry = weighDocument(document, 0).deviceBytes - 5_592_404;
    expect(geometry).toBeGreaterThan(0);
    expect(geometry).toBeLessThan(20_000);
    const role = { role: 'color', maxEdge: 250, format: 'ktx2', quality: 70 } as const;
    await runPictures(document, { roles: [role], textures: [] }, nodePictures);
    const texture = document.getRoot().listTextures()[0];
    expect([texture.getMimeType(), texture.getSize()]).toEqual(['image/ktx2', [252, 252]]);
    // levels of 252, 126, 63, 31, 15, 7, 3 and 1 px
    const pixels = [252, 126, 63, 31, 15, 7, 3, 1].reduce((s, e) => s + e * e, 0);
    expect(weighDocument(document, 0).deviceBytes - geometry).toBe(pixels);
    const glb = await packDocument(document, { method: 'none', quantise: null, reorder: false }, null);
    const { issues } = await validateBytes(glb, { maxIssues: 0 });
    expect(issues.messages.filter((m) => m.severity === 0)).toEqual([]);
    expect(await new WebIO().binaryToJSON(glb).then((x) => x.json.extensionsRequired)).toEqual(['KHR_texture_basisu']);
    // and back again
    await runPictures(document, { roles: [{ ...role, format: 'png' }], textures: [] }, nodePictures);
    expect(document.getRoot().listTextures()[0].getMimeType()).toBe('image/png');
  });
});
