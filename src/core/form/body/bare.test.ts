import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { seededRandom } from '../../math';
import { bodyBase } from '../samples';
import { BARE, bareShare, barest, type DrawnBody, drawnBody, hidingTriangles, packBare, shapeBody, strokeBare, unpackBare } from '.';
import { BARE_TEXT } from './bare';

const levelsOf = fc.array(fc.tuple(fc.integer({ min: 0, max: 15 }), fc.integer({ min: 1, max: 400 })), { minLength: 1, maxLength: 30 });
let made: DrawnBody | undefined;
const body = () => {
  made ??= drawnBody(shapeBody(bodyBase(), 'M'));
  return made;
};

describe('a mask as text', () => {
  test('comes back as it was, and is of so many vertices and no others', () => {
    fc.assert(
      fc.property(levelsOf, (runs) => {
        const levels = Uint8Array.from(runs.flatMap(([level, n]) => Array<number>(n).fill(level)));
        const text = packBare(levels);
        expect(unpackBare(text, levels.length)).toEqual(levels);
        expect(unpackBare(text, levels.length + 1)).toBeNull();
        expect(unpackBare(text, levels.length - 1)).toBeNull();
      }),
      { numRuns: 60 },
    );
  });

  test('of runs as LEB128, worked out by hand: 3 of level 0, 20 of level 15', () => {
    // 48 = 0x30; 335 = 0xCF 0x02
    expect(atob(packBare(Uint8Array.from({ length: 23 }, (_, i) => (i < 3 ? 0 : 15))))).toBe('\x30\xcf\x02');
  });

  test.each(['', '!', 'AAAA', btoa('\x00'), btoa('\xff\xff\xff\xff\xff\xff\xff'), btoa('\xb0')])('%j is none', (text) => {
    expect(unpackBare(text, 3)).toBeNull();
  });

  test('the busiest there is of a body still fits what a document takes', () => {
    const random = seededRandom(1);
    const levels = new Uint8Array(body().positions.length / 3).map(() => Math.floor(random() * 16));
    expect(packBare(levels).length).toBeLessThan(BARE_TEXT);
  });

  test('of several the barest at each place; one of another shape says nothing', () => {
    const [a, b] = [packBare(Uint8Array.of(0, 9, 15)), packBare(Uint8Array.of(4, 2, 1))];
    expect(barest([a, b], 3)).toEqual(Uint8Array.of(4, 9, 15));
    expect(barest([a, packBare(Uint8Array.of(15))], 3)).toEqual(Uint8Array.of(0, 9, 15));
    expect(barest([packBare(Uint8Array.of(15))], 3)).toBeNull();
    expect(barest([], 3)).toBeNull();
  });
});

describe('a stroke over the body', () => {
  const chest = (): [number, number, number] => {
    const { positions: p } = body();
    let best = 0;
    // the foremost place at the height of the chest, left of the middle
    for (let v = 0; v * 3 < p.length; v++)
      if (Math.abs(p[v * 3 + 1] - 1.25) < 0.02 && Math.abs(p[v * 3] - 0.08) < 0.02 && p[v * 3 + 2] > p[best * 3 + 2]) best = v;
    return [p[best * 3], p[best * 3 + 1], p[best * 3 + 2]];
  };
  const bare = (at: [number, number, number], to = at, mirrored = false, levels = new Uint8Array(body().positions.length / 3)) => {
    strokeBare(levels, body(), at, to, { radiusM: 0.05, bares: true, mirrored });
    return levels;
  };

  test('is whole in its middle, fades to its border, and leaves the back alone', () => {
    const { positions: p } = body();
    const at = chest();
    const levels = bare(at);
    let reached = 0;
    for (let v = 0; v < levels.length; v++) {
      const far = Math.hypot(p[v * 3] - at[0], p[v * 3 + 1] - at[1], p[v * 3 + 2] - at[2]);
      if (far >= 0.05) expect(levels[v]).toBe(0);
      else reached++;
      if (far < 0.03) expect(levels[v]).toBe(BARE);
    }
    expect(reached).toBeGreaterThan(10);
    expect(new Set(levels).size).toBeGreaterThan(3);
    // a hand is thinner than the brush is wide
    const hand: [number, number, number] = [0.6, 1.02, 0];
    const { normals: n } = body();
    const onHand = bare(hand);
    const sides = [...onHand.keys()].filter((v) => onHand[v] > 0).map((v) => n.slice(v * 3, v * 3 + 3));
    expect(sides.length).toBeGreaterThan(4);
    for (const a of sides) expect(sides.filter((b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2] < -0.99)).toEqual([]);
  });

  test('drawn fast it has no holes; on both sides it is even; hiding again takes it back', () => {
    const at = chest();
    const low: [number, number, number] = [at[0], at[1] - 0.25, at[2]];
    const { positions: p } = body();
    const levels = bare(at, low, true);
    const near = (x: number, y: number) =>
      [...levels.keys()]
        .filter((v) => Math.abs(p[v * 3] - x) < 0.012 && Math.abs(p[v * 3 + 1] - y) < 0.012 && p[v * 3 + 2] > 0.05)
        .map((v) => levels[v]);
    for (let y = at[1]; y > low[1]; y -= 0.03) expect(Math.min(BARE, ...near(at[0], y))).toBeGreaterThan(BARE / 2);
    for (let v = 0; v < levels.length; v++) {
      if (!levels[v] || p[v * 3] < 0.02) continue;
      const other = [...levels.keys()].find(
        (w) =>
          Math.abs(p[w * 3] + p[v * 3]) < 1e-6 &&
          Math.abs(p[w * 3 + 1] - p[v * 3 + 1]) < 1e-6 &&
          Math.abs(p[w * 3 + 2] - p[v * 3 + 2]) < 1e-6,
      );
      expect(levels[other as number]).toBe(levels[v]);
    }
    expect(bareShare(body(), levels)).toBeGreaterThan(0);
    strokeBare(levels, body(), at, low, { radiusM: 0.2, bares: false, mirrored: true });
    expect(bareShare(body(), levels)).toBe(0);
    expect(strokeBare(levels, body(), at, low, { radiusM: 0.01, bares: false, mirrored: false })).toBe(false);
  });

  test('triangles that are bare by more than half hide no more', () => {
    const indices = Uint32Array.of(0, 1, 2, 1, 2, 3);
    expect([...hidingTriangles(indices, Uint8Array.of(15, 15, 15, 0))]).toEqual([]);
    expect([...hidingTriangles(indices, Uint8Array.of(15, 15, 0, 0))]).toEqual([1, 2, 3]);
    expect([...hidingTriangles(indices, Uint8Array.of(0, 0, 0, 0))]).toEqual([0, 1, 2, 1, 2, 3]);
    // of two triangles one is three times the other
    const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 3, 0);
    expect(bareShare({ positions, indices }, Uint8Array.of(15, 15, 0, 0))).toBeCloseTo(0.25, 6);
    expect(bareShare({ positions, indices }, Uint8Array.of(0, 0, 15, 15))).toBeCloseTo(0.75, 6);
  });
});
