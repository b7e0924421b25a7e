import { FloatType } from 'three';
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js';
import { describe, expect, test } from 'vitest';
import { direction, type Radiance, shrinkRadiance } from '../../math/radiance';
import { makeSky } from '../../scene';
import { SKIES } from '../../words/skies';
import { drawBall } from './ball';
import { cleanRadiance, environmentFindings, measureRadiance, readRgbe, writeRgbe } from './environment';

const even = (v: number, width = 64): Radiance => ({ width, height: width / 2, data: new Float32Array((width * width * 3) / 2).fill(v) });
function withLamp(bearing: number, high: number, light = 1000, width = 256): Radiance {
  const env = even(0.1, width);
  const [a, h] = [(bearing * Math.PI) / 180, (high * Math.PI) / 180];
  const to = [Math.cos(h) * Math.sin(a), Math.sin(h), Math.cos(h) * Math.cos(a)];
  for (let y = 0; y < env.height; y++)
    for (let x = 0; x < width; x++) {
      const d = direction(x + 0.5, y + 0.5, width, env.height);
      if (d[0] * to[0] + d[1] * to[1] + d[2] * to[2] > Math.cos(0.06)) env.data.fill(light, (y * width + x) * 3, (y * width + x) * 3 + 3);
    }
  return env;
}

describe('an environment', () => {
  test('even light of 2^k has an exposure of k, and no seam', () => {
    for (const k of [-3, 0, 2]) expect(measureRadiance(even(2 ** k))).toMatchObject({ exposureEv: k, rangeEv: 0, seam: 0 });
  });
  test.each([
    [0, 0],
    [-52, 7],
    [120, 45],
    [179, -20],
    [10, 85],
  ])('a lamp at bearing %i and height %i is found within a degree', (bearing, high) => {
    const { brightest } = measureRadiance(withLamp(bearing, high));
    expect(Math.abs(brightest.heightDeg - high)).toBeLessThan(1);
    const off = Math.abs(((brightest.bearingDeg - bearing + 540) % 360) - 180) * Math.cos((high * Math.PI) / 180);
    expect(off).toBeLessThan(1);
    expect(brightest.share).toBeGreaterThan(0.8);
  });
  test('a seam, a wrong shape, and light out of reach are told', () => {
    const env = even(0.5, 128);
    for (let y = 0; y < env.height; y++)
      for (let x = 0; x < 128; x++) env.data.fill(0.2 + (x / 128) * 2, (y * 128 + x) * 3, (y * 128 + x) * 3 + 3);
    const { seam } = measureRadiance(env);
    const codes = (f: Partial<Parameters<typeof environmentFindings>[0]>) =>
      environmentFindings({ width: 128, height: 64, seam: 1, notFinite: 0, exposureEv: 0, ...f }).map((x) => x.code);
    expect(codes({ seam })).toEqual(['environment/seam']);
    expect(codes({})).toEqual([]);
    expect(codes({ width: 100 })).toEqual(['environment/shape']);
    expect(codes({ exposureEv: -9 })).toEqual(['environment/exposure']);
  });
  test('what is no light is counted and takes the brightest beside it', () => {
    const env = even(0.5, 8);
    env.data[0] = Number.NaN;
    env.data[30] = Number.POSITIVE_INFINITY;
    env.data[31] = -3;
    env.data[33] = 2;
    expect(cleanRadiance(env)).toBe(2);
    expect(env.data.every((x) => Number.isFinite(x) && x >= 0)).toBe(true);
    expect([env.data[0], env.data[30]]).toEqual([0.5, 2]);
  });
  test('nothing but NaN becomes black', () => {
    const env = even(Number.NaN, 8);
    expect(cleanRadiance(env)).toBe(96);
    expect(Math.max(...env.data)).toBe(0);
  });
});

describe('RGBE', () => {
  test('keeps values to a part in 256 of the largest, and three reads the same', () => {
    const env = makeSky('quay-at-dawn', 64);
    const bytes = writeRgbe(env);
    const back = readRgbe(bytes);
    const theirs = new HDRLoader().setDataType(FloatType).parse(bytes.slice().buffer) as unknown as {
      width: number;
      height: number;
      data: Float32Array;
    };
    expect([theirs.width, theirs.height]).toEqual([64, 32]);
    for (let i = 0; i < env.width * env.height; i++) {
      const top = Math.max(...env.data.subarray(i * 3, i * 3 + 3));
      for (let k = 0; k < 3; k++) {
        expect(Math.abs(back.data[i * 3 + k] - env.data[i * 3 + k])).toBeLessThanOrEqual(top / 256 + 1e-9);
        // it takes 255 for one where the format's author takes 256
        expect(Math.abs((back.data[i * 3 + k] * 256) / 255 - theirs.data[i * 4 + k])).toBeLessThanOrEqual(1e-6 * Math.max(1, top));
      }
    }
  });
  test('runs are read: a row coded in runs is the row', () => {
    const head = new TextEncoder().encode('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\nEXPOSURE=nan\n\n-Y 1 +X 8\n');
    const row = [2, 2, 0, 8, 128 + 8, 128, 128 + 8, 64, 8, 1, 2, 3, 4, 5, 6, 7, 8, 128 + 8, 129];
    const env = readRgbe(new Uint8Array([...head, ...row]));
    expect(env.data[0]).toBe(1);
    expect(env.data[1]).toBe(0.5);
    expect(env.data[23]).toBeCloseTo(8 / 128, 9);
  });
  test('lies and cuts are refused in words before anything is made for them', () => {
    const text = (s: string) => new TextEncoder().encode(s);
    const start = '#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n';
    expect(() => readRgbe(text(`${start}-Y 60000 +X 60000\n`))).toThrow(/up to/);
    expect(() => readRgbe(text(`${start}-Y 100 +X 200\nab`))).toThrow(/ends too early/);
    expect(() => readRgbe(text(`${start}+X 200 -Y 100\n`))).toThrow(/top left/);
    expect(() => readRgbe(text('#?RADIANCE\nFORMAT=32-bit_rle_xyze\n\n-Y 1 +X 8\n'))).toThrow(/RGBE/);
    expect(() => readRgbe(text('#?RADIANCE\nA=1\n'))).toThrow(/header does not end/);
    expect(() => readRgbe(new Uint8Array([...text(`${start}-Y 2 +X 8\n`), 2, 2, 0, 8, 128 + 9, 1, 0, 0, 0]))).toThrow(
      /longer than it says/,
    );
  });
  test('made smaller, light is neither lost nor gained', () => {
    const env = makeSky('night-market', 256);
    const mean = (r: Radiance) => r.data.reduce((s, x) => s + x, 0) / r.data.length;
    expect(mean(shrinkRadiance(env, 64))).toBeCloseTo(mean(env), 5);
  });
});

describe('balls', () => {
  const at = (p: ReturnType<typeof drawBall>, x: number, y: number) => [...p.data.slice((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)];
  const srgb = (x: number) => Math.round(255 * (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055));
  test('in even light a white matte ball is even: four fifths of the light (closed form)', () => {
    const ball = drawBall(even(0.5, 128), 41, 'matte', 0);
    for (const [x, y] of [
      [20, 20],
      [10, 20],
      [20, 32],
    ])
      for (const c of at(ball, x, y)) expect(Math.abs(c - srgb(0.4))).toBeLessThanOrEqual(1);
  });
  test('the middle of a mirror ball shows what is behind the viewer; turned, it shows what is beside him', () => {
    const env = withLamp(0, 0, 0.7);
    expect(at(drawBall(env, 41, 'mirror', 0), 20, 20)[0]).toBe(srgb(0.7));
    expect(at(drawBall(env, 41, 'mirror', 0, 90), 20, 20)[0]).toBe(srgb(0.1));
    expect(at(drawBall(withLamp(90, 0, 0.7), 41, 'mirror', 0, 90), 20, 20)[0]).toBe(srgb(0.7));
  });
  test('a stop doubles', () => {
    expect(at(drawBall(even(0.2), 21, 'mirror', 1), 10, 10)[0]).toBe(srgb(0.4));
  });
});

describe('the four environments of our own', () => {
  test('are finite, meet at their ends, differ, and come out the same every time', () => {
    const exposures = SKIES.map((name) => {
      const env = makeSky(name, 256);
      expect(env.data.every((x) => Number.isFinite(x) && x >= 0)).toBe(true);
      expect(makeSky(name, 256).data).toEqual(env.data);
      const m = measureRadiance(env);
      expect(environmentFindings({ ...m, width: 256, height: 128, notFinite: 0 })).toEqual([]);
      return m.exposureEv;
    });
    expect(new Set(exposures).size).toBe(4);
    expect(measureRadiance(makeSky('quay-at-dawn', 256)).brightest).toMatchObject({
      bearingDeg: expect.closeTo(-52, 0),
      heightDeg: expect.closeTo(7, 0),
    });
  });
});
