import fc from 'fast-check';
import { Quaternion, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { seededRandom } from './quantity';
import { fitSimilarity } from './similarity';

const random = seededRandom(11);
const cloud = (n: number) => Float64Array.from({ length: n * 3 }, () => (random() - 0.5) * 0.3);
function moved(points: ArrayLike<number>, factor: number, turn: Quaternion, shift: readonly number[], noise = 0, mirror = 1): Float64Array {
  const out = new Float64Array(points.length);
  const v = new Vector3();
  for (let i = 0; i < points.length; i += 3) {
    v.set(points[i] * mirror, points[i + 1], points[i + 2])
      .applyQuaternion(turn)
      .multiplyScalar(factor);
    [v.x, v.y, v.z].forEach((x, k) => {
      out[i + k] = x + shift[k] + noise * (random() - 0.5);
    });
  }
  return out;
}
const turns = fc.tuple(
  fc.double({ min: -1, max: 1, noNaN: true }),
  fc.double({ min: -1, max: 1, noNaN: true }),
  fc.double({ min: -1, max: 1, noNaN: true }),
  fc.double({ min: 0.1, max: 1, noNaN: true }),
);

/** Horn's solution by unit quaternions (Closed-form solution of absolute orientation, JOSA A 4(4), 1987): another road to the same least squares. */
function horn(from: ArrayLike<number>, to: ArrayLike<number>) {
  const n = from.length / 3;
  const mean = (p: ArrayLike<number>) =>
    [0, 1, 2].map((k) => Array.from({ length: n }, (_, i) => p[i * 3 + k]).reduce((a, b) => a + b, 0) / n);
  const [a, b] = [mean(from), mean(to)];
  const s = [0, 1, 2].map(() => [0, 0, 0]);
  let spread = 0;
  for (let i = 0; i < n; i++)
    for (let r = 0; r < 3; r++) {
      spread += (from[i * 3 + r] - a[r]) ** 2;
      for (let c = 0; c < 3; c++) s[r][c] += (from[i * 3 + r] - a[r]) * (to[i * 3 + c] - b[c]);
    }
  const [[xx, xy, xz], [yx, yy, yz], [zx, zy, zz]] = s;
  const m = [
    [xx + yy + zz, yz - zy, zx - xz, xy - yx],
    [yz - zy, xx - yy - zz, xy + yx, zx + xz],
    [zx - xz, xy + yx, -xx + yy - zz, yz + zy],
    [xy - yx, zx + xz, yz + zy, -xx - yy + zz],
  ];
  // the largest eigenvector, by powers of the matrix moved so that it is the largest in size as well
  const lift = m.flat().reduce((t, x) => t + Math.abs(x), 0);
  let q = [1, 0.3, 0.2, 0.1];
  for (let k = 0; k < 20_000; k++) {
    const next = m.map((row, i) => row.reduce((t, x, j) => t + x * q[j], 0) + lift * q[i]);
    const length = Math.hypot(...next);
    q = next.map((x) => x / length);
  }
  const turn = new Quaternion(q[1], q[2], q[3], q[0]);
  let top = 0;
  for (let i = 0; i < n; i++) {
    const v = new Vector3(from[i * 3] - a[0], from[i * 3 + 1] - a[1], from[i * 3 + 2] - a[2]).applyQuaternion(turn);
    top += v.x * (to[i * 3] - b[0]) + v.y * (to[i * 3 + 1] - b[1]) + v.z * (to[i * 3 + 2] - b[2]);
  }
  const factor = top / spread;
  const at = new Vector3(...(a as [number, number, number])).applyQuaternion(turn).multiplyScalar(factor);
  return { factor, turn, shift: [b[0] - at.x, b[1] - at.y, b[2] - at.z] };
}

describe('fitSimilarity', () => {
  test('finds what was done, whatever it was', () => {
    const points = cloud(40);
    fc.assert(
      fc.property(turns, fc.double({ min: 0.001, max: 1000, noNaN: true }), (q, factor) => {
        const turn = new Quaternion(...q).normalize();
        const to = moved(points, factor, turn, [1, -2, 3]);
        const fit = fitSimilarity(points, to);
        if (!fit) throw new Error('no fit');
        expect(Math.abs(fit.factor / factor - 1)).toBeLessThan(1e-9);
        expect(fit.turn.angleTo(turn)).toBeLessThan(1e-6);
        expect(fit.rms).toBeLessThan(1e-9 * Math.max(1, factor));
        expect(fit.mirrored).toBe(false);
      }),
      { numRuns: 60 },
    );
  });
  test('agrees with Horn’s quaternions where points are noisy, within a hundredth of a millimetre at a head’s size', () => {
    const points = cloud(200);
    const turn = new Quaternion(0.3, -0.5, 0.2, 0.7).normalize();
    const to = moved(points, 2.54, turn, [0.1, 0.2, -0.3], 0.01);
    const [ours, theirs] = [fitSimilarity(points, to), horn(points, to)];
    if (!ours) throw new Error('no fit');
    const a = moved(points, ours.factor, ours.turn, ours.shift);
    const b = moved(points, theirs.factor, theirs.turn, theirs.shift);
    for (const [i, x] of a.entries()) expect(Math.abs(x - b[i])).toBeLessThan(1e-5);
  });
  test('points in a plane fit; a mirror image is told; points on a line and too few do not fit', () => {
    const flat = cloud(30).map((x, i) => (i % 3 === 2 ? 0 : x));
    const turn = new Quaternion(0.1, 0.9, -0.2, 0.4).normalize();
    const fit = fitSimilarity(flat, moved(flat, 3, turn, [0, 0, 1]));
    expect(fit?.factor).toBeCloseTo(3, 9);
    expect(fit?.rms).toBeLessThan(1e-9);
    expect(fit?.mirrored).toBe(false);
    const points = cloud(30);
    expect(fitSimilarity(points, moved(points, 1, turn, [0, 0, 0], 0, -1))?.mirrored).toBe(true);
    expect(fitSimilarity([0, 0, 0, 1, 1, 1, 2, 2, 2], [0, 0, 0, 1, 0, 0, 2, 0, 0])).toBeNull();
    expect(fitSimilarity([0, 0, 0], [1, 1, 1])).toBeNull();
  });
  test('weights of nothing leave points out', () => {
    const points = cloud(20);
    const to = moved(points, 2, new Quaternion(), [0, 0, 0]);
    to[0] += 5;
    const weight = new Float64Array(20).fill(1);
    weight[0] = 0;
    expect(fitSimilarity(points, to, weight)?.rms).toBeLessThan(1e-9);
    expect(fitSimilarity(points, to)?.rms).toBeGreaterThan(0.1);
  });
});
