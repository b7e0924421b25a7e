/** What a picture of a surface does, held to the same said without a picture: glTF 2.0, section 3.9, and KHR_texture_transform. */
import type { Document, Material } from '@gltf-transform/core';
import { KHRMaterialsUnlit, KHRTextureTransform } from '@gltf-transform/extensions';
import { Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { plane, surfaceDocument } from '../samples';
import type { Camera } from './raster';
import { readShape } from './shape';
import { mipTexture } from './texture';
import { BACKGROUND, drawView, FULL } from './view';

/** IEC 61966-2-1. */
const linear = (x: number) => (x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4);
/** Down on a sheet of 20 cm, in a picture that is wider than high. */
const above: Camera = {
  right: new Vector3(1, 0, 0),
  up: new Vector3(0, 0, -1),
  back: new Vector3(0, 1, 0),
  // no edge lies on a sample: one that does is shaded by both its triangles
  centre: new Vector3(0.001, 0, 0.0003),
  scale: 100,
  width: 44,
  height: 24,
};
const MIDDLE = 12 * 44 + 22;
type Pixel = readonly [number, number, number, number];
const picture = (at: (x: number, y: number) => Pixel, edge = 32) => {
  const data = new Uint8Array(edge * edge * 4);
  for (let y = 0; y < edge; y++) for (let x = 0; x < edge; x++) data.set(at(x / edge, y / edge), (y * edge + x) * 4);
  return mipTexture({ width: edge, height: edge, data });
};
const plain = (...p: Pixel) => picture(() => p);

function look(
  dress: (m: Material, d: Document) => void,
  pictures: ReturnType<typeof picture>[] = [],
  change: (d: Document) => void = () => undefined,
) {
  const document = surfaceDocument('sheet', plane(0.2), 8, 8);
  const m = document.createMaterial().setBaseColorFactor([0.6, 0.5, 0.4, 1]).setRoughnessFactor(0.5).setMetallicFactor(0.2);
  for (const mesh of document.getRoot().listMeshes()) for (const p of mesh.listPrimitives()) p.setMaterial(m);
  dress(m, document);
  change(document);
  return drawView(readShape(document), pictures, above);
}
const middle = (...of: Parameters<typeof look>) => look(...of).luma[MIDDLE];
const texture = (d: Document) => d.createTexture('t');
const attribute = (d: Document, name: string) => d.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute(name);

describe('a picture of one colour is a factor', () => {
  it('of the base, in linear numbers, alpha as it is', () => {
    const want = middle((m) => m.setBaseColorFactor([0.6 * linear(200 / 255), 0.5 * linear(120 / 255), 0.4 * linear(60 / 255), 1]));
    expect(middle((m, d) => void m.setBaseColorTexture(texture(d)), [plain(200, 120, 60, 255)])).toBeCloseTo(want, 4);
    const half = middle((m) => m.setAlphaMode('BLEND').setAlpha(128 / 255));
    expect(middle((m, d) => void m.setAlphaMode('BLEND').setBaseColorTexture(texture(d)), [plain(255, 255, 255, 128)])).toBeCloseTo(
      half,
      3,
    );
  });
  it('of roughness by green and of metal by blue', () => {
    const want = middle((m) => m.setRoughnessFactor((0.5 * 102) / 255).setMetallicFactor((0.2 * 51) / 255));
    expect(middle((m, d) => void m.setMetallicRoughnessTexture(texture(d)), [plain(255, 102, 51, 255)])).toBeCloseTo(want, 4);
    expect(middle((m, d) => void m.setMetallicRoughnessTexture(texture(d)), [plain(0, 255, 255, 255)])).toBeCloseTo(
      middle(() => undefined),
      4,
    );
  });
  it('of occlusion by red, as strong as is said', () => {
    const of = (red: number, strength: number) =>
      middle((m, d) => void m.setOcclusionTexture(texture(d)).setOcclusionStrength(strength), [plain(red, 9, 9, 255)]);
    expect(of(255, 1)).toBeCloseTo(
      middle(() => undefined),
      4,
    );
    expect(of(0, 0)).toBeCloseTo(of(255, 1), 4);
    // 1 + strength · (o − 1)
    expect(of(0, 0.4)).toBeCloseTo(of(153, 1), 4);
    expect(of(0, 1)).toBeLessThan(of(153, 1) - 0.02);
  });
  it('of what glows, in linear numbers, only where it glows', () => {
    const want = middle((m) => m.setEmissiveFactor([0.3 * linear(188 / 255), 0.2 * linear(94 / 255), 0.1 * linear(20 / 255)]));
    expect(
      middle((m, d) => void m.setEmissiveFactor([0.3, 0.2, 0.1]).setEmissiveTexture(texture(d)), [plain(188, 94, 20, 255)]),
    ).toBeCloseTo(want, 4);
    expect(middle((m, d) => void m.setEmissiveTexture(texture(d)), [plain(255, 255, 255, 255)])).toBeCloseTo(
      middle(() => undefined),
      6,
    );
    expect(want).toBeGreaterThan(middle(() => undefined) + 0.02);
  });
  it('unlit it is shown as it is', () => {
    const unlit = (m: Material, d: Document) =>
      void m.setExtension('KHR_materials_unlit', d.createExtension(KHRMaterialsUnlit).createUnlit());
    // 0.5 linear is 0.735 as shown, whatever the light (IEC 61966-2-1)
    expect(middle((m, d) => unlit(m.setBaseColorFactor([0.5, 0.5, 0.5, 1]), d))).toBeCloseTo(0.7354, 3);
  });
});

describe('a normal map', () => {
  const tilt = Math.PI / 9;
  const towards = (x: number, y: number) =>
    plain(
      Math.round(127.5 + 127.5 * Math.sin(tilt) * x),
      Math.round(127.5 + 127.5 * Math.sin(tilt) * y),
      Math.round(127.5 + 127.5 * Math.cos(tilt)),
      255,
    );
  const mapped = (x: number, y: number, change?: (d: Document) => void) =>
    middle((m, d) => void m.setNormalTexture(texture(d)), [towards(x, y)], change);
  /** The same by the sheet's own normals: it lies level, u grows along +x, v along −z. */
  const leaning = (x: number, z: number) =>
    middle(
      () => undefined,
      [],
      (d) => {
        const n = attribute(d, 'NORMAL');
        for (let i = 0; i < (n?.getCount() ?? 0); i++) n?.setElement(i, [Math.sin(tilt) * x, Math.cos(tilt), Math.sin(tilt) * z]);
      },
    );
  const turnUvs = (change: (u: number, v: number) => [number, number]) => (d: Document) => {
    const uv = attribute(d, 'TEXCOORD_0');
    for (let i = 0; i < (uv?.getCount() ?? 0); i++) uv?.setElement(i, change(uv.getElement(i, [])[0], uv.getElement(i, [])[1]));
  };
  it('leans the surface: red along u, green against v, which runs down the picture', () => {
    for (const [x, y] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
      [0.6, 0.8],
    ])
      expect(mapped(x, y), `${x}, ${y}`).toBeCloseTo(leaning(x, y), 2);
    // along z the light is not even: that is what tells up from down
    expect(Math.abs(leaning(0, 1) - leaning(0, -1))).toBeGreaterThan(0.03);
  });
  it('follows UVs that are turned or mirrored', () => {
    // u along −z, v along −x
    expect(
      mapped(
        1,
        0,
        turnUvs((u, v) => [v, 1 - u]),
      ),
    ).toBeCloseTo(leaning(0, -1), 2);
    expect(
      mapped(
        -1,
        0,
        turnUvs((u, v) => [v, 1 - u]),
      ),
    ).toBeCloseTo(leaning(0, 1), 2);
    // v runs the other way
    expect(
      mapped(
        0,
        1,
        turnUvs((u, v) => [u, 1 - v]),
      ),
    ).toBeCloseTo(leaning(0, -1), 2);
  });
  it('as strong as is said', () => {
    const strong = (scale: number) => middle((m, d) => void m.setNormalTexture(texture(d)).setNormalScale(scale), [towards(0, 1)]);
    expect(strong(0)).toBeCloseTo(leaning(0, 0), 2);
    expect(strong(1)).toBeCloseTo(leaning(0, 1), 2);
  });
});

describe('a picture that is moved, turned and sized (KHR_texture_transform)', () => {
  const ramp = picture((x, y) => [Math.round(255 * x), Math.round(255 * y), 0, 255]);
  it.each([
    ['moved', [0.25, 0.1], 0, [1, 1]],
    ['sized', [0, 0], 0, [0.5, 0.25]],
    ['turned', [0.1, 0.9], Math.PI / 3, [0.4, 0.4]],
    ['all of it, unevenly', [0.2, 0.8], 0.7, [0.5, 0.2]],
  ] as const)('%s: where the extension’s matrix puts it', (_, offset, rotation, scale) => {
    const moved = look(
      (m, d) => {
        m.setBaseColorTexture(texture(d));
        const t = d
          .createExtension(KHRTextureTransform)
          .createTransform()
          .setOffset([...offset])
          .setRotation(rotation)
          .setScale([...scale]);
        m.getBaseColorTextureInfo()?.setExtension('KHR_texture_transform', t);
      },
      [ramp],
    );
    // offset · rotation · scale, as the extension's text multiplies them
    const [c, s] = [Math.cos(rotation), Math.sin(rotation)];
    const by = look(
      (m, d) => void m.setBaseColorTexture(texture(d)),
      [ramp],
      (d) => {
        const uv = attribute(d, 'TEXCOORD_0');
        for (let i = 0; i < (uv?.getCount() ?? 0); i++) {
          const [u = 0, v = 0] = uv?.getElement(i, []) ?? [];
          const [x, y] = [u * scale[0], v * scale[1]];
          uv?.setElement(i, [c * x + s * y + offset[0], -s * x + c * y + offset[1]]);
        }
      },
    );
    const worst = moved.luma.reduce((w, x, i) => Math.max(w, Math.abs(x - by.luma[i])), 0);
    expect(worst).toBeLessThan(1e-3);
    const still = look((m, d) => void m.setBaseColorTexture(texture(d)), [ramp]);
    expect(still.luma.reduce((w, x, i) => Math.max(w, Math.abs(x - by.luma[i])), 0)).toBeGreaterThan(0.05);
  });
});

describe('what is half clear', () => {
  it('covers half of each pixel that the sheet covers, none beside it, in a picture wider than high', () => {
    const { cover, luma, width, height } = look((m) => m.setAlphaMode('BLEND').setAlpha(0.5));
    let [inside, beside] = [0, 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const on = Math.abs(x + 0.5 - 22) < 10 && Math.abs(y + 0.5 - 12) < 10;
        const at = y * width + x;
        if (on) {
          inside++;
          expect(cover[at]).toBe(Math.round(FULL / 2));
        } else {
          beside++;
          expect([cover[at], luma[at]]).toEqual([0, Math.fround(BACKGROUND)]);
        }
      }
    expect([inside, beside]).toEqual([400, 44 * 24 - 400]);
  });
});
