import { describe, expect, test } from 'vitest';
import type { Pixels } from '../../math/pixels';
import { alphaStats, bleedColour } from './alpha';
import { mmOfPixels, packingFor, pictureFindings } from './picture';

function drawn(width: number, height: number, at: (x: number, y: number) => number[]): Pixels {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data.set(at(x + 0.5, y + 0.5), (y * width + x) * 4);
  return { width, height, data };
}
/** A disc with an edge of one pixel; what lies beyond it has another colour. */
const disc = (beyond: number[], radius = 60) =>
  drawn(200, 200, (x, y) => {
    const a = Math.min(1, Math.max(0, radius - Math.hypot(x - 100, y - 100) + 0.5));
    return a > 0 ? [...[180, 40, 30].map((c, k) => Math.round(c * a + beyond[k] * (1 - a))), Math.round(a * 255)] : [...beyond, 0];
  });

describe('alpha', () => {
  test('none, cut out and soft are told by the histogram', () => {
    expect(alphaStats(drawn(8, 8, () => [1, 2, 3, 255])).kind).toBe('none');
    expect(alphaStats(disc([255, 255, 255])).kind).toBe('cut-out');
    expect(alphaStats(drawn(64, 64, (x) => [9, 9, 9, Math.round(x * 4) - 1])).kind).toBe('soft');
  });
  test.each([3, 6, 20])('strips %i px wide are found that wide', (w) => {
    const strips = drawn(240, 240, (x) => [0, 0, 0, Math.floor(x / w) % 2 ? 255 : 0]);
    // a strip's outline runs upright: counted along pixel sides it is exact, and the mean over all directions takes π/4 off
    expect((alphaStats(strips).widthPx as number) * (Math.PI / 4)).toBeGreaterThan(w * 0.9);
    expect((alphaStats(strips).widthPx as number) * (Math.PI / 4)).toBeLessThan(w * 1.15);
  });
  test('of a disc the width is its radius: 2·πr²/2πr', () => expect(alphaStats(disc([255, 255, 255])).widthPx).toBeCloseTo(60, -0.5));
  test('another colour beyond the edge is measured; the same colour is none', () => {
    expect(alphaStats(disc([255, 255, 255])).fringe).toBeGreaterThan(0.4);
    expect(alphaStats(disc([180, 40, 30])).fringe).toBeLessThan(0.01);
  });
  test('bleeding takes the rim away, keeps the alpha and the solid pixels, and done twice changes nothing more', () => {
    const before = disc([255, 255, 255]);
    const after = bleedColour(before);
    expect(alphaStats(after).fringe).toBe(0);
    for (let i = 0; i < before.data.length; i += 4) {
      expect(after.data[i + 3]).toBe(before.data[i + 3]);
      if (before.data[i + 3] === 255) expect([...after.data.slice(i, i + 3)]).toEqual([...before.data.slice(i, i + 3)]);
    }
    expect(bleedColour(after).data).toEqual(after.data);
  });
  test('a picture without a solid pixel is left alone', () => {
    const soft = drawn(4, 4, () => [1, 2, 3, 100]);
    expect(bleedColour(soft)).toBe(soft);
  });
});

describe('what is said of a picture', () => {
  const state = {
    look: 'colour' as const,
    format: 'png' as const,
    hasAlpha: true,
    alpha: 'cut-out' as const,
    alphaWidthPx: 60,
    usedBytes: 400_000,
    width: 512,
    height: 512,
    stats: { fringe: 0 },
    lossy: false,
    trial: null,
  };
  test('packing goes by what the alpha needs: opaque to JPEG, coarse to WebP, fine stays lossless', () => {
    expect(packingFor({ alpha: 'none', alphaWidthPx: null, lossy: false, look: 'colour' })?.format).toBe('jpeg');
    expect(packingFor({ alpha: 'cut-out', alphaWidthPx: 60, lossy: false, look: 'colour' })?.format).toBe('webp');
    expect(packingFor({ alpha: 'cut-out', alphaWidthPx: 3, lossy: false, look: 'colour' })).toBeNull();
    expect(packingFor({ alpha: 'cut-out', alphaWidthPx: 60, lossy: true, look: 'colour' })).toBeNull();
    // maps of numbers are not packed with loss, however opaque they are
    expect(packingFor({ alpha: 'none', alphaWidthPx: null, lossy: false, look: 'normal map' })).toBeNull();
    for (const name of ['deck_Normal.png', 'hull-roughness.png', 'mast_AO.tif', 'sail_height.png'])
      expect(packingFor({ alpha: 'none', alphaWidthPx: null, lossy: false, look: 'colour', name })).toBeNull();
    expect(packingFor({ alpha: 'none', alphaWidthPx: null, lossy: false, look: 'colour', name: 'deck_colour.png' })?.format).toBe('jpeg');
  });
  test('a lossy picture with fine alpha is warned of, one with coarse alpha is not', () => {
    const codes = (s: Partial<typeof state>) => pictureFindings({ ...state, ...s }).map((f) => f.code);
    expect(codes({ lossy: true, alphaWidthPx: 3 })).toEqual(['picture/lossy-alpha']);
    expect(codes({ lossy: true })).toEqual([]);
    expect(codes({ stats: { fringe: 0.5 } })).toEqual(['picture/fringe']);
  });
  test('idle alpha and a lighter packing come with their fix; little to save is not worth a word', () => {
    const found = pictureFindings({
      ...state,
      alpha: 'none' as never,
      alphaWidthPx: null as never,
      trial: { format: 'jpeg', bytes: 60_000, quality: 90 },
    });
    expect(found.map((f) => [f.code, f.fix?.step])).toEqual([
      ['picture/idle-alpha', 'alpha'],
      ['picture/heavy', 'encode'],
    ]);
    expect(found[1].message).toContain('60.0 kB instead of 400 kB');
    expect(pictureFindings({ ...state, trial: { format: 'webp', bytes: 390_000, quality: 90 } })).toEqual([]);
  });
  test('over 2048 px it is said, over 4096 as a warning: what it takes unpacked does not go by its file', () => {
    const large = (width: number, height: number) => pictureFindings({ ...state, width, height }).map((f) => [f.code, f.level]);
    expect(large(2048, 2048)).toEqual([]);
    expect(large(2049, 16)).toEqual([['picture/large', 'note']]);
    expect(large(1024, 4096)).toEqual([['picture/large', 'warning']]);
    const [{ message }] = pictureFindings({ ...state, width: 4096, height: 4096 });
    // 4096² · 4 · 4/3
    expect(message).toContain('89.5 MB');
  });
  test('96 pixels are an inch where nothing is recorded (W3C CSS)', () => {
    expect(mmOfPixels(96, null)).toBeCloseTo(25.4, 9);
    expect(mmOfPixels(300, 300)).toBeCloseTo(25.4, 9);
  });
});
