/** A fit by pairs alone: every similarity comes back, and what tells nothing is told. */
import { Quaternion, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { seededRandom } from '../../math';
import type { FitPair } from './fitit';
import { leftBetween, solvePairs } from './pairs';

const random = seededRandom(5);
const place = (): [number, number, number] => [random() - 0.5, random() - 0.5, random() - 0.5];
const pair = (name: string, modelM: [number, number, number], formM: [number, number, number]): FitPair => ({
  name,
  modelM,
  formM,
  residualMm: 0,
});

describe('pairs', () => {
  test('that a similarity brought about give it back, and nothing is left between them', () => {
    for (let n = 0; n < 20; n++) {
      const factor = 10 ** (random() * 4 - 2);
      const turn = new Quaternion(random() - 0.5, random() - 0.5, random() - 0.5, random() - 0.5).normalize();
      const shift = new Vector3(...place());
      const pairs = Array.from({ length: 3 + (n % 4) }, (_, i) => {
        const at = place();
        return pair(`${i}`, at, new Vector3(...at).multiplyScalar(factor).applyQuaternion(turn).add(shift).toArray());
      });
      const solved = solvePairs(pairs, false);
      if (typeof solved === 'string') throw new Error(solved);
      expect(solved.factor / factor).toBeCloseTo(1, 6);
      expect(solved.turn.angleTo(turn)).toBeLessThan(1e-5);
      for (const p of leftBetween(pairs, solved)) expect(p.residualMm).toBeLessThan(1e-3);
    }
  });

  test('one that is moved off is told by how far; its size kept, the thing is only turned and moved', () => {
    const square = [
      pair('a', [0, 0, 0], [0, 0, 0]),
      pair('b', [1, 0, 0], [2, 0, 0]),
      pair('c', [0, 1, 0], [0, 2, 0]),
      pair('d', [0, 0, 1], [0, 0, 2]),
    ];
    const larger = solvePairs(square, false);
    const kept = solvePairs(square, true);
    if (typeof larger === 'string' || typeof kept === 'string') throw new Error('not solved');
    expect(larger.factor).toBeCloseTo(2, 9);
    expect(kept.factor).toBe(1);
    // the middles of both sets come together
    expect(kept.shiftM.distanceTo(new Vector3(0.25, 0.25, 0.25))).toBeLessThan(1e-9);
    const off = square.map((p) => (p.name === 'd' ? { ...p, formM: [0, 0, 3] as [number, number, number] } : p));
    const solved = solvePairs(off, false);
    if (typeof solved === 'string') throw new Error(solved);
    expect(Math.max(...leftBetween(off, solved).map((p) => p.residualMm))).toBeGreaterThan(100);
  });

  test('too few, on one line, or left for right: why nothing is told', () => {
    const a = pair('a', [0, 0, 0], [0, 0, 0]);
    expect(solvePairs([a, pair('b', [1, 0, 0], [1, 0, 0])], false)).toContain('Three pairs');
    expect(solvePairs([a, pair('b', [1, 0, 0], [1, 0, 0]), pair('c', [2, 0, 0], [2, 0, 0])], false)).toContain('one line');
    const mirrored = [a, pair('b', [1, 0, 0], [-1, 0, 0]), pair('c', [0, 1, 0], [0, 1, 0]), pair('d', [0, 0, 1], [0, 0, 1])];
    expect(solvePairs(mirrored, false)).toContain('left and right');
  });
});
