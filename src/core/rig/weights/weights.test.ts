import { describe, expect, test } from 'vitest';
import type { Bone } from '../bone';
import type { Vec } from '../middle';
import { tube } from '../shapes';
import { type Surface, surfaceFrom } from '../surface';
import { bind, methodFor } from './bind';
import { heatWeights } from './heat';
import { voxelWeights } from './voxel';

const R = 0.01;
const HALF = 0.1;
/** A straight tube along Y with two bones that meet in its middle. */
const straight = (rings = 121, round = 24) => {
  const { positions, triangles } = tube(
    (t): Vec => [0, (t * 2 - 1) * HALF, 0],
    () => R,
    rings,
    round,
  );
  return surfaceFrom(positions, triangles);
};
const TWO: Bone[] = [
  { name: 'lower', parent: -1, head: [0, -HALF, 0], tail: [0, 0, 0], limb: 0 },
  { name: 'upper', parent: 0, head: [0, 0, 0], tail: [0, HALF, 0], limb: 0 },
];
const heightsOf = (s: Surface) => Float64Array.from({ length: s.piece.length }, (_, v) => s.positions[v * 3 + 1]);
/** Off its caps, whose middle the bones do not see along the wall. */
const onWall = (s: Surface, v: number) =>
  Math.abs(s.positions[v * 3 + 1]) < HALF - 3 * R && Math.hypot(s.positions[v * 3], s.positions[v * 3 + 2]) > R / 2;

describe('bone heat', () => {
  test('along a straight tube it is the solution of w″ = (w − p)/r² in closed form', () => {
    const s = straight();
    const { weights, cold } = heatWeights(s, TWO);
    expect(cold.some(Boolean)).toBe(false);
    const y = heightsOf(s);
    for (let v = 0; v < y.length; v++) {
      if (!onWall(s, v)) continue;
      const exact = y[v] < 0 ? 0.5 * Math.exp(y[v] / R) : 1 - 0.5 * Math.exp(-y[v] / R);
      expect(Math.abs(weights[1][v] - exact)).toBeLessThan(0.001);
    }
  });
  test('sums to one and is never below zero', () => {
    const { weights } = heatWeights(straight(60, 12), TWO);
    for (let v = 0; v < weights[0].length; v++) {
      expect(weights[0][v] + weights[1][v]).toBeCloseTo(1, 5);
      expect(Math.min(weights[0][v], weights[1][v])).toBeGreaterThan(-1e-6);
    }
  });
});

/** One bent tube whose halves run side by side, so far apart: two fingers that nearly touch. */
function fingers(gapM: number): Surface {
  const x = R + gapM / 2;
  const at = (t: number): Vec => {
    if (t < 0.45) return [-x, HALF - (t / 0.45) * 2 * HALF, 0];
    if (t > 0.55) return [x, -HALF + ((t - 0.55) / 0.45) * 2 * HALF, 0];
    const turn = ((t - 0.45) / 0.1) * Math.PI;
    return [-x * Math.cos(turn), -HALF - x * Math.sin(turn), 0];
  };
  const { positions, triangles } = tube(at, () => R, 300, 20);
  return surfaceFrom(positions, triangles);
}

describe('voxels', () => {
  test('half and half where two bones meet, and it never falls towards a bone', () => {
    const s = straight();
    const binding = bind(s, TWO, 'voxel');
    const y = heightsOf(s);
    const upper = (v: number) => {
      let w = 0;
      for (let k = 0; k < 4; k++) if (binding.bones[v * 4 + k] === 1) w += binding.shares[v * 4 + k];
      return w;
    };
    const rows = Array.from({ length: y.length }, (_, v) => v).filter((v) => onWall(s, v));
    for (const v of rows.filter((i) => Math.abs(y[i]) < 1e-4)) expect(upper(v)).toBeCloseTo(0.5, 1);
    // by rings, from below to above: within what a voxel is wide
    const mean = new Map<number, number[]>();
    for (const v of rows) {
      const k = Math.round(y[v] * 1e5);
      mean.set(k, [...(mean.get(k) ?? []), upper(v)]);
    }
    const run = [...mean].sort((a, b) => a[0] - b[0]).map(([, w]) => w.reduce((p, c) => p + c, 0) / w.length);
    for (let i = 1; i < run.length; i++) expect(run[i]).toBeGreaterThan(run[i - 1] - 0.03);
  });
  test('what stands side by side does not pull: ways run inside the shape', () => {
    const a = tube(
      (t): Vec => [-0.013, t * 0.2, 0],
      () => R,
      60,
      16,
    );
    const b = tube(
      (t): Vec => [0.013, t * 0.2, 0],
      () => R,
      60,
      16,
    );
    const s = surfaceFrom(
      Float32Array.from([...a.positions, ...b.positions]),
      Uint32Array.from([...a.triangles, ...Array.from(b.triangles, (i) => i + a.positions.length / 3)]),
    );
    const w = voxelWeights(s, [
      { name: 'left', parent: -1, head: [-0.013, 0, 0], tail: [-0.013, 0.2, 0], limb: 0 },
      { name: 'right', parent: -1, head: [0.013, 0, 0], tail: [0.013, 0.2, 0], limb: 0 },
    ]);
    for (let v = 0; v < s.piece.length; v++) expect(w[s.positions[v * 3] < 0 ? 1 : 0][v]).toBe(0);
  });
});

describe('what a file holds', () => {
  test('four at most, greatest first, sums of exactly one', () => {
    const s = straight(80, 12);
    const bones = Array.from({ length: 12 }, (_, i): Bone => {
      const y = -HALF + (i * 2 * HALF) / 12;
      return { name: `b${i}`, parent: i - 1, head: [0, y, 0], tail: [0, y + HALF / 6, 0], limb: 0 };
    });
    for (const method of ['heat', 'voxel'] as const) {
      const b = bind(s, bones, method);
      expect(b.maxInfluences).toBeLessThanOrEqual(4);
      for (let v = 0; v < s.piece.length; v++) {
        const w = [...b.shares.subarray(v * 4, v * 4 + 4)];
        expect(w.reduce((p, c) => p + c, 0)).toBe(1);
        expect(Math.min(...w)).toBeGreaterThanOrEqual(0);
      }
    }
  });
  test('mirrored shapes have mirrored weights', () => {
    const curve =
      (sign: number) =>
      (t: number): Vec => [sign * 0.03 * Math.sin(t * 3), t * 0.2, 0];
    const bonesOf = (sign: number): Bone[] =>
      [0, 1, 2].map((i) => ({ name: `b${i}`, parent: i - 1, head: curve(sign)(i / 3), tail: curve(sign)((i + 1) / 3), limb: 0 }));
    const made = tube(curve(1), () => R, 50, 12);
    const there = surfaceFrom(made.positions, made.triangles);
    const back = surfaceFrom(
      made.positions.map((v, i) => (i % 3 === 0 ? -v : v)),
      made.triangles.map((_, i, all) => all[i - (i % 3) + [0, 2, 1][i % 3]]),
    );
    const [a, b] = [heatWeights(there, bonesOf(1)), heatWeights(back, bonesOf(-1))];
    for (const [k, w] of a.weights.entries()) for (let v = 0; v < w.length; v++) expect(b.weights[k][v]).toBeCloseTo(w[v], 4);
  });
  test('the method is chosen by what the shape is, and why is said', () => {
    expect(methodFor(straight(20, 8)).method).toBe('heat');
    const card = surfaceFrom(Float32Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]), Uint32Array.from([0, 1, 2, 0, 2, 3]));
    expect(methodFor(card)).toMatchObject({ method: 'voxel', reason: expect.stringContaining('open') });
    const bound = bind(card, [{ name: 'b', parent: -1, head: [0, 0, 0], tail: [1, 1, 0], limb: 0 }]);
    expect([...bound.shares.filter((_, i) => i % 4 === 0)]).toEqual([1, 1, 1, 1]);
  });
  // voxels are 1.8 mm here: what is nearer than two of them is one to them, and heat's
  test.each([
    ['heat', 0.0006],
    ['voxel', 0.004],
  ] as const)('fingers side by side do not follow one another: %s, %f m apart', (method, gapM) => {
    const s = fingers(gapM);
    const x = R + gapM / 2;
    const b = bind(
      s,
      [
        { name: 'palm', parent: -1, head: [-x, -HALF, 0], tail: [x, -HALF, 0], limb: 0 },
        { name: 'left', parent: 0, head: [-x, -HALF + 2 * R, 0], tail: [-x, HALF, 0], limb: 0 },
        { name: 'right', parent: 0, head: [x, -HALF + 2 * R, 0], tail: [x, HALF, 0], limb: 0 },
      ],
      method,
    );
    for (let v = 0; v < s.piece.length; v++) {
      if (s.positions[v * 3 + 1] < -HALF + 6 * R) continue;
      const other = s.positions[v * 3] < 0 ? 2 : 1;
      let w = 0;
      for (let k = 0; k < 4; k++) if (b.bones[v * 4 + k] === other) w += b.shares[v * 4 + k];
      expect(w).toBeLessThan(0.02);
    }
  });
});
