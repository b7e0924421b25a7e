import { expect, describe as group, it } from 'vitest';
import { seededRandom } from '../../math';
import { fill, frontOf, type Screen, scan } from './raster';

const [W, H] = [61, 47];
const screen = (xyz: readonly (readonly number[])[]): Screen => ({
  x: Float32Array.from(xyz, (p) => p[0]),
  y: Float32Array.from(xyz, (p) => p[1]),
  z: Float32Array.from(xyz, (p) => p[2]),
});
/** What `scan` finds nearest, one triangle after the other. */
function scanned(sc: Screen, both: boolean) {
  const front = frontOf(W * H);
  for (let i = 0; i < sc.x.length; i += 3)
    scan(sc, i, i + 1, i + 2, W, H, both, (px, z) => {
      if (z <= front.depth[px]) return;
      front.depth[px] = z;
      front.owner[px] = i;
    });
  return front;
}
function filled(sc: Screen, both: boolean) {
  const front = frontOf(W * H);
  for (let i = 0; i < sc.x.length; i += 3) fill(sc, i, i + 1, i + 2, W, H, both, i, front);
  return front;
}

group('filling without a call per pixel', () => {
  const random = seededRandom(5);
  const at = (least: number, most: number) => least + random() * (most - least);
  const corner = (spread: number) => [at(-spread, W + spread), at(-spread, H + spread), at(0, 50)];
  const heaps: [string, () => number[][]][] = [
    ['of any size, also beyond the picture', () => [corner(40), corner(40), corner(40)]],
    [
      'smaller than a pixel',
      () => {
        const [x, y, z] = corner(1);
        return [0, 1, 2].map(() => [x + at(-0.6, 0.6), y + at(-0.6, 0.6), z]);
      },
    ],
    [
      'as thin as a hair',
      () => {
        const [a, b] = [corner(5), corner(5)];
        return [a, b, [(a[0] + b[0]) / 2 + at(-0.02, 0.02), (a[1] + b[1]) / 2 + at(-0.02, 0.02), at(0, 50)]];
      },
    ],
    [
      'with corners on pixel centres',
      () => [0, 1, 2].map(() => [Math.floor(at(-3, W + 3)) + 0.5, Math.floor(at(-3, H + 3)) + 0.5, at(0, 50)]),
    ],
    [
      'with level and upright edges',
      () => {
        const [x, y, z] = corner(0).map((c) => Math.round(c * 2) / 2);
        const [w, h] = [Math.round(at(1, 30)) / 2, Math.round(at(1, 30)) / 2];
        return [
          [x, y, z],
          [x, y + h, z],
          [x + w, y, z],
        ];
      },
    ],
  ];
  it.each(heaps)('triangles %s: pixel for pixel what scanning gives', (_, triangle) => {
    let covered = 0;
    for (let n = 0; n < 200; n++) {
      const sc = screen(triangle());
      for (const both of [true, false]) {
        const [a, b] = [scanned(sc, both), filled(sc, both)];
        expect(Buffer.from(b.owner.buffer).equals(Buffer.from(a.owner.buffer))).toBe(true);
        expect(a.depth.every((z, p) => a.owner[p] < 0 || Math.abs(b.depth[p] - z) < 1e-3)).toBe(true);
        covered += a.owner.reduce((s, o) => s + (o >= 0 ? 1 : 0), 0);
      }
    }
    expect(covered).toBeGreaterThan(20);
  });
  it('a heap of them hides what lies behind', () => {
    const sc = screen(Array.from({ length: 60 }, () => [corner(20), corner(20), corner(20)]).flat());
    expect(filled(sc, true).owner).toEqual(scanned(sc, true).owner);
  });
  it('two that share an edge leave no pixel out between them (Pineda, 1988)', () => {
    for (let n = 0; n < 50; n++) {
      const [a, b] = [
        [at(0, W), -5, 1],
        [at(0, W), H + 5, 1],
      ];
      const sc = screen([a, b, [-2_000, H / 2, 1], a, b, [W + 2_000, H / 2, 1]]);
      const front = filled(sc, true);
      const whole = front.owner.every((o) => o >= 0);
      expect(whole).toBe(true);
    }
  });
  it('a square of known size covers its area, and nothing where it is no number', () => {
    const sc = screen([
      [10, 10, 1],
      [10, 30, 1],
      [40, 10, 1],
      [40, 10, 1],
      [10, 30, 1],
      [40, 30, 1],
    ]);
    expect(filled(sc, true).owner.filter((o) => o >= 0).length).toBe(30 * 20);
    expect(
      filled(
        screen([
          [Number.NaN, 0, 0],
          [9, 9, 0],
          [0, 9, 0],
        ]),
        true,
      ).owner.every((o) => o < 0),
    ).toBe(true);
    expect(
      filled(
        screen([
          [Number.POSITIVE_INFINITY, 0, 0],
          [9, 9, 0],
          [0, 9, 0],
        ]),
        true,
      ).owner.every((o) => o < 0),
    ).toBe(true);
  });
});
