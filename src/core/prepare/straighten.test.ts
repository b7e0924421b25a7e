import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Corners, type Homography, homographyOf, isConvex, mapPoint } from '../math/homography';
import type { Pixels } from '../math/pixels';
import { crop, straighten, straightSize } from './straighten';

describe('homographyOf', () => {
  test('takes corners to corners, and straight lines to straight lines', () => {
    const square: Corners = [
      [0, 0],
      [100, 0],
      [100, 60],
      [0, 60],
    ];
    const near = (x: number) => fc.double({ min: x - 18, max: x + 18, noNaN: true });
    fc.assert(
      fc.property(fc.tuple(near(0), near(0), near(100), near(0), near(100), near(60), near(0), near(60)), (c) => {
        const to: Corners = [
          [c[0], c[1]],
          [c[2], c[3]],
          [c[4], c[5]],
          [c[6], c[7]],
        ];
        const h = homographyOf(square, to) as Homography;
        square.forEach((p, i) => {
          const [x, y] = mapPoint(h, p);
          expect(Math.hypot(x - to[i][0], y - to[i][1])).toBeLessThan(1e-6);
        });
        const [a, b, m] = [mapPoint(h, [0, 0]), mapPoint(h, [100, 60]), mapPoint(h, [50, 30])];
        expect(Math.abs((b[0] - a[0]) * (m[1] - a[1]) - (b[1] - a[1]) * (m[0] - a[0]))).toBeLessThan(1e-5);
      }),
    );
  });
  test('the diagonals of a square seen in perspective cross where its middle is (closed form)', () => {
    // a square seen by a camera: depth 2 at its far side, 1 at its near side
    const to: Corners = [
      [-0.5, 0.5],
      [0.5, 0.5],
      [1, -1],
      [-1, -1],
    ];
    const h = homographyOf(
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ],
      to,
    ) as Homography;
    // harmonic mean of the depths: the middle lies at 0 + t·… where depth is 4/3
    expect(mapPoint(h, [0.5, 0.5])[1]).toBeCloseTo(0, 9);
    expect(mapPoint(h, [0.5, 0])[1]).toBeCloseTo(0.5, 9);
  });
  test('three corners on a line have no map; a dent is told', () => {
    const line: Corners = [
      [0, 0],
      [1, 0],
      [2, 0],
      [0, 1],
    ];
    expect(homographyOf(line, line)).toBeNull();
    expect(
      isConvex([
        [0, 0],
        [10, 0],
        [2, 2],
        [0, 10],
      ]),
    ).toBe(false);
  });
});

const DOTS = [0.15, 0.38, 0.5, 0.71, 0.86].flatMap((u) => [0.2, 0.5, 0.83].map((v): [number, number] => [u, v]));

/** A photograph of dark dots on paper, drawn through a known homography: every pixel asks where it comes from. */
function photograph(h: Homography, back: Homography, size: [number, number], page: [number, number]): Pixels {
  const [width, height] = size;
  const data = new Uint8Array(width * height * 4).fill(255);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = mapPoint(back, [x + 0.5, y + 0.5]);
      let ink = 0;
      for (const [du, dv] of DOTS) ink += Math.exp(-((u - du * page[0]) ** 2 + (v - dv * page[1]) ** 2) / (2 * 4 * 4));
      const c = Math.round(255 * (1 - Math.min(1, ink)));
      data.set([c, c, c, 255], (y * width + x) * 4);
    }
  void h;
  return { width, height, data };
}

/** Middle of the ink near a place. */
function dotNear(p: Pixels, [x0, y0]: [number, number], reach: number): [number, number] {
  let [sx, sy, s] = [0, 0, 0];
  for (let y = Math.max(0, Math.floor(y0 - reach)); y < Math.min(p.height, y0 + reach); y++)
    for (let x = Math.max(0, Math.floor(x0 - reach)); x < Math.min(p.width, x0 + reach); x++) {
      const ink = 255 - p.data[(y * p.width + x) * 4];
      sx += ink * (x + 0.5);
      sy += ink * (y + 0.5);
      s += ink;
    }
  return [sx / s, sy / s];
}

describe('straighten', () => {
  test('brings dots photographed through a known homography back within half a pixel', () => {
    const page: [number, number] = [300, 200];
    const corners: Corners = [
      [61, 44],
      [418, 22],
      [396, 301],
      [24, 262],
    ];
    const flat: Corners = [
      [0, 0],
      [300, 0],
      [300, 200],
      [0, 200],
    ];
    const h = homographyOf(flat, corners) as Homography;
    const back = homographyOf(corners, flat) as Homography;
    const photo = photograph(h, back, [460, 330], page);
    const out = straighten(photo, corners, 300, 200);
    for (const [u, v] of DOTS) {
      const [x, y] = dotNear(out, [u * 300, v * 200], 14);
      expect(Math.hypot(x - u * 300, y - v * 200)).toBeLessThan(0.5);
    }
    // and it is the straightening that does it: uncut, the dots lie elsewhere
    const [x, y] = dotNear(photo, [DOTS[0][0] * 300, DOTS[0][1] * 200], 14);
    expect(Math.hypot(x - DOTS[0][0] * 300, y - DOTS[0][1] * 200) > 3 || Number.isNaN(x)).toBe(true);
  });
  test('whole corners give the picture itself, byte for byte; clear pixels lend no colour', () => {
    const p: Pixels = { width: 5, height: 4, data: Uint8Array.from({ length: 80 }, (_, i) => (i % 4 === 3 ? 255 : (i * 37) % 251)) };
    const whole: Corners = [
      [0, 0],
      [5, 0],
      [5, 4],
      [0, 4],
    ];
    expect(straighten(p, whole, 5, 4).data).toEqual(p.data);
    const half: Pixels = { width: 2, height: 1, data: new Uint8Array([200, 10, 10, 255, 0, 255, 0, 0]) };
    const wide = straighten(
      half,
      [
        [0, 0],
        [2, 0],
        [2, 1],
        [0, 1],
      ],
      4,
      1,
    );
    for (let x = 0; x < 4; x++) if (wide.data[x * 4 + 3] > 0) expect([...wide.data.slice(x * 4, x * 4 + 3)]).toEqual([200, 10, 10]);
  });
  test('a dent is refused in words; sizes are the means of opposite sides', () => {
    const dent: Corners = [
      [0, 0],
      [10, 0],
      [2, 2],
      [0, 10],
    ];
    expect(() => straighten({ width: 10, height: 10, data: new Uint8Array(400) }, dent, 5, 5)).toThrow(/without dents/);
    expect(
      straightSize([
        [0, 0],
        [100, 0],
        [100, 50],
        [0, 70],
      ]),
    ).toEqual({ width: 101, height: 60 });
  });
  test('a cut takes exactly its pixels, and says so where it reaches outside', () => {
    const p: Pixels = { width: 3, height: 3, data: Uint8Array.from({ length: 36 }, (_, i) => i) };
    expect([...crop(p, 1, 1, 2, 1).data]).toEqual([16, 17, 18, 19, 20, 21, 22, 23]);
    expect(() => crop(p, 2, 0, 2, 1)).toThrow(/reaches to 4/);
  });
});
