/** Environments as surfaces mirror them, against closed forms. */
import { DataUtils } from 'three';
import { describe, expect, test } from 'vitest';
import { direction, type Radiance } from '../math/radiance';
import { SKIES } from '../words/skies';
import { domePicture, faceDirection, levelRoughness, lobe, mainLight, type Reflections, reflectionsOf } from './reflect';
import { makeSky } from './sky';

const SIZE = 32;
function made(of: (d: readonly number[]) => number, width = 256): Radiance {
  const height = width / 2;
  const data = new Float32Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data.fill(of(direction(x + 0.5, y + 0.5, width, height)), (y * width + x) * 3, (y * width + x) * 3 + 3);
  return { width, height, data };
}
/** Every texel of a level: its direction and its red. */
function* texels({ size, levels }: Reflections, level: number) {
  const edge = size >> level;
  for (let face = 0, at = 0; face < 6; face++)
    for (let y = 0; y < edge; y++)
      for (let x = 0; x < edge; x++, at += 4)
        yield {
          d: faceDirection(face, (2 * (x + 0.5)) / edge - 1, (2 * (y + 0.5)) / edge - 1),
          v: DataUtils.fromHalfFloat(levels[level][at]),
        };
}

describe('reflections', () => {
  test('an even environment stays even at every roughness (white furnace)', () => {
    const all = reflectionsOf(
      made(() => 0.7),
      SIZE,
    );
    expect(all.levels.map((l) => Math.sqrt(l.length / 24))).toEqual([32, 16, 8]);
    for (let level = 0; level < 3; level++) for (const { v } of texels(all, level)) expect(v).toBeCloseTo(0.7, 3);
  });

  test('the roughest level is Lambert’s: a small lamp of radiance L and solid angle ω gives L ω cos θ / π', () => {
    const to = [0.6, 0.64, 0.48];
    const cosR = Math.cos(0.06);
    const lit = made((d) => (d[0] * to[0] + d[1] * to[1] + d[2] * to[2] > cosR ? 100 : 0), 512);
    let omega = 0;
    for (let y = 0; y < 256; y++)
      for (let x = 0; x < 512; x++) {
        const rise = (0.5 - (y + 0.5) / 256) * Math.PI;
        if (lit.data[(y * 512 + x) * 3] > 0) omega += ((2 * Math.PI) / 512) * (Math.PI / 256) * Math.cos(rise);
      }
    const all = reflectionsOf(lit, SIZE);
    for (const { d, v } of texels(all, 2)) {
      const cos = Math.max(0, d[0] * to[0] + d[1] * to[1] + d[2] * to[2]);
      expect(Math.abs(v - (100 * omega * cos) / Math.PI)).toBeLessThan(0.02 * ((100 * omega) / Math.PI));
    }
  });

  test('light that grows evenly with height keeps its tilt by the first band of the lobe, at every roughness', () => {
    const all = reflectionsOf(
      made((d) => 1 + d[1]),
      SIZE,
    );
    for (let level = 1; level < 3; level++) {
      const alpha = levelRoughness(level, 2) ** 2;
      let [first, whole] = [0, 0];
      for (let i = 0; i < 20_000; i++) {
        const cos = (i + 0.5) / 20_000;
        first += lobe(cos, alpha) * cos;
        whole += lobe(cos, alpha);
      }
      for (const { d, v } of texels(all, level)) expect(Math.abs(v - (1 + (first / whole) * d[1]))).toBeLessThan(0.012);
    }
  });

  test('a lamp is brightest where it is, on whichever face', () => {
    for (const to of [
      [1, 0, 0],
      [-1, 0, 0],
      [0, 1, 0],
      [0, -1, 0],
      [0, 0, 1],
      [0, 0, -1],
      [0.6, 0.48, -0.64],
    ]) {
      const lamp = made((d) => Math.exp(60 * (d[0] * to[0] + d[1] * to[1] + d[2] * to[2] - 1)), 128);
      const all = reflectionsOf(lamp, 16);
      for (const level of [0, 1]) {
        const best = [...texels(all, level)].reduce((a, b) => (b.v > a.v ? b : a));
        expect(best.d[0] * to[0] + best.d[1] * to[1] + best.d[2] * to[2]).toBeGreaterThan(0.96);
      }
    }
  });

  test('ours are finite, and give light', () => {
    for (const name of SKIES) {
      const sky = makeSky(name, 128);
      const all = reflectionsOf(sky, 16);
      const mean = (level: number) => {
        const v = [...texels(all, level)].map((t) => t.v);
        expect(v.every(Number.isFinite)).toBe(true);
        return v.reduce((a, b) => a + b, 0) / v.length;
      };
      expect(mean(1)).toBeGreaterThan(0);
      expect(mean(0)).toBeGreaterThan(0);
    }
  });
});

test('the dome is seen from below: fore at the top, the wearer’s left at the right; it turns counter-clockwise from above', () => {
  const left = made((d) => (d[0] > 0.7 ? 5 : 0));
  const at = (turnDeg: number, x: number, y: number) => domePicture(left, 41, 1, turnDeg)[(y * 41 + x) * 4];
  expect([at(0, 38, 20), at(0, 2, 20), at(0, 20, 2)].map((v) => v > 100)).toEqual([true, false, false]);
  // a quarter from above counter-clockwise: from the left to aft
  expect([at(90, 20, 38), at(90, 38, 20)].map((v) => v > 100)).toEqual([true, false]);
  expect(domePicture(left, 41, 1, 0)[3]).toBe(0);
});

test('the main light is found, and none where it is even', () => {
  expect(mainLight(made(() => 1))).toBeNull();
  const sun = mainLight(makeSky('quay-at-dawn', 256));
  expect(sun?.bearingDeg).toBeCloseTo(-52, -1);
});
