import { Document } from '@gltf-transform/core';
import { KHRTextureTransform } from '@gltf-transform/extensions';
import { describe, expect, test } from 'vitest';
import { readModel } from '../../model/model';
import { addSurface, plane } from '../../prepare/samples';
import type { PictureStats } from './pictures';
import { bytesWithMips, texelDensities, USEFUL_TEXELS_PER_MM, USUAL_EDGE, usefulEdge } from './textures';

describe('memory on a device (common practice)', () => {
  test('a 1024² RGBA picture is 4 194 304 bytes, 5 592 404 with its smaller copies', () => {
    expect(1024 * 1024 * 4).toBe(4_194_304);
    expect(bytesWithMips(1024, 1024)).toBe(5_592_404);
  });
  test('one pixel is four bytes; a strip goes down to one pixel as well; nothing is nothing', () => {
    expect(bytesWithMips(1, 1)).toBe(4);
    expect(bytesWithMips(4, 1)).toBe(4 * (4 + 2 + 1));
    expect(bytesWithMips(0, 8)).toBe(0);
  });
});

describe('usefulEdge', () => {
  test('1024 px is a usual ceiling, whatever the density', () => expect(usefulEdge(4096, 0)).toBe(USUAL_EDGE));
  test('at the density a phone shows nothing is to be gained', () => expect(usefulEdge(1024, USEFUL_TEXELS_PER_MM)).toBe(1024));
  test('at four times that a quarter is enough, in powers of two, and never under 256', () => {
    expect(usefulEdge(1024, USEFUL_TEXELS_PER_MM * 4)).toBe(256);
    expect(usefulEdge(1024, USEFUL_TEXELS_PER_MM * 1.5)).toBe(1024);
    expect(usefulEdge(512, USEFUL_TEXELS_PER_MM * 100)).toBe(256);
    expect(usefulEdge(64, USEFUL_TEXELS_PER_MM * 100)).toBe(64);
  });
});

describe('texels a millimetre', () => {
  /** Squares of so many metres that wear a picture of 512 px, each over so much of it. */
  function told(squares: readonly { sizeM: number; uv: number }[], repeat = 1): number {
    const document = new Document();
    const texture = document.createTexture('skin').setImage(new Uint8Array(1)).setMimeType('image/png');
    const material = document.createMaterial('m').setBaseColorTexture(texture);
    if (repeat !== 1)
      material
        .getBaseColorTextureInfo()
        ?.setExtension('KHR_texture_transform', document.createExtension(KHRTextureTransform).createTransform().setScale([repeat, repeat]));
    for (const { sizeM, uv } of squares) {
      addSurface(document, `square ${uv}`, plane(sizeM), 4, 2, material);
      const accessor = document.getRoot().listMeshes().at(-1)?.listPrimitives()[0].getAttribute('TEXCOORD_0');
      accessor?.setArray((accessor.getArray() as Float32Array<ArrayBuffer>).map((x) => x * uv));
    }
    const stats = { width: 512, height: 512 } as PictureStats;
    return texelDensities({ document, model: readModel(document), pictures: [{ name: 'skin', bytes: 0, sha: '', stats }] })[0];
  }
  test('512 px over 100 mm are 5.12; worn in tiles, four times across, 20.48', () => {
    expect(told([{ sizeM: 0.1, uv: 1 }])).toBeCloseTo(5.12, 3);
    expect(told([{ sizeM: 0.1, uv: 4 }])).toBeCloseTo(20.48, 3);
  });
  test('the same said by KHR_texture_transform', () => expect(told([{ sizeM: 0.1, uv: 1 }], 4)).toBeCloseTo(20.48, 3));
  test('worn twice, the coarser is told: a picture made smaller shows there first', () =>
    expect(
      told([
        { sizeM: 0.1, uv: 1 },
        { sizeM: 0.1, uv: 0.25 },
      ]),
    ).toBeCloseTo(1.28, 3));
  test('but not for a corner of it, nor for what wears one spot', () => {
    expect(
      told([
        { sizeM: 0.1, uv: 1 },
        { sizeM: 0.02, uv: 0.02 },
      ]),
    ).toBeCloseTo(5.12, 3);
    expect(
      told([
        { sizeM: 0.1, uv: 1 },
        { sizeM: 0.3, uv: 0 },
      ]),
    ).toBeCloseTo(5.12, 3);
  });
});
