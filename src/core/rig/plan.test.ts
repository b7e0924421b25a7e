import { describe, expect, test } from 'vitest';
import { ROOT } from './bone';
import { findLimbs } from './limbs';
import type { Vec } from './middle';
import { rigChains, rigLimbs } from './plan';
import { testPoses } from './posetest';
import { R, urchin } from './samples';
import { tube } from './shapes';
import { surfaceFrom } from './surface';

const ARMS: Vec[] = [
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [0, 0, -1],
];

describe('limbs of a ball with five arms', () => {
  const s = urchin(ARMS, 0.15);
  test('each arm is one, from the ball to its tip', () => {
    const limbs = findLimbs(s);
    expect(limbs).toHaveLength(5);
    for (const limb of limbs) {
      const tip = [0, 1, 2].map((k) => s.positions[limb.tip * 3 + k]);
      const arm = ARMS.find((a) => a.reduce((d, x, k) => d + x * tip[k], 0) > 0.14);
      expect(arm).toBeDefined();
      for (const v of limb.vertices) {
        const along = [0, 1, 2].reduce((d, k) => d + (arm as Vec)[k] * s.positions[v * 3 + k], 0);
        expect(along).toBeGreaterThan(0.012);
      }
    }
    expect(new Set(limbs.flatMap((l) => l.vertices)).size).toBe(limbs.flatMap((l) => l.vertices).length);
  });
  test('all chains hang from one root, twins are named as pairs, and the ball stays with the root', () => {
    const rig = rigLimbs(s);
    expect(rig.bones.filter((b) => b.parent < 0).map((b) => b.name)).toEqual([ROOT]);
    expect(rig.chains.map((c) => c.name).filter((n) => /\.[LR]$/.test(n))).toHaveLength(2);
    const [l, r] = ['L', 'R'].map((side) => rig.chains.find((c) => c.name.endsWith(`.${side}`)));
    expect(l?.line.points.at(-1)?.[0]).toBeGreaterThan(0.1);
    expect(r?.line.points.at(-1)?.[0]).toBeLessThan(-0.1);
    expect(l?.name.slice(0, -1)).toBe(r?.name.slice(0, -1));
    // joint for joint the one mirrors the other about the shape's middle
    const xs = s.positions.filter((_, i) => i % 3 === 0);
    const over = Math.min(...xs) + Math.max(...xs);
    const joints = (c: typeof l) =>
      c?.bones.map((n) => rig.bones.find((b) => b.name === n)).flatMap((b) => (b ? [b.head, b.tail] : [])) ?? [];
    expect(joints(l).length).toBeGreaterThan(1);
    joints(r).forEach((p, i) => {
      const q = joints(l)[i];
      expect(Math.hypot(over - p[0] - q[0], p[1] - q[1], p[2] - q[2])).toBeLessThan(1e-12);
    });
    // the ball's back, where no arm is
    const v = Array.from(s.piece.keys()).reduce((best, i) => (s.positions[i * 3 + 1] < s.positions[best * 3 + 1] ? i : best), 0);
    expect(rig.binding.bones[v * 4]).toBe(0);
    expect(rig.binding.shares[v * 4]).toBeGreaterThan(0.95);
    // the tip of an arm follows its last bone
    const tip = findLimbs(s)[0].tip;
    const last = rig.bones[rig.binding.bones[tip * 4]];
    expect(last.name.startsWith('limb')).toBe(true);
    const test_ = testPoses(s, rig.bones, rig.binding);
    expect(test_.flips).toBeLessThan(s.triangles.length / 3 / 100);
    expect(test_.stretchMax).toBeLessThan(2.5);
    expect(Math.abs(test_.volumeChange)).toBeLessThan(0.1);
  });
  test('a lone ball has none', () => {
    expect(findLimbs(urchin([], 0.05, 24))).toEqual([]);
    expect(() => rigLimbs(urchin([], 0.05, 24))).toThrow(/long enough/);
  });
});

test('loose strands are one chain each, from the end that hangs on something longer; a bead at the other is no such thing', () => {
  const parts = [
    tube(
      (t): Vec => [0.3 * (t - 0.5), 0, 0],
      () => 0.02,
      60,
      12,
    ),
    ...[-0.1, 0.1].flatMap((x) => [
      tube(
        (t): Vec => [x, 0.23 - t * 0.2, 0],
        () => 0.006,
        60,
        10,
      ),
      tube(
        (t): Vec => [x, 0.233 + t * 0.012, 0],
        (t) => 0.006 * Math.sin(Math.PI * (0.05 + t * 0.9)),
        8,
        8,
      ),
    ]),
  ];
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const p of parts) {
    for (const i of p.triangles) triangles.push(i + positions.length / 3);
    for (const x of p.positions) positions.push(x);
  }
  const s = surfaceFrom(Float32Array.from(positions), Uint32Array.from(triangles));
  const limbs = findLimbs(s).filter((l) => s.piece[l.tip] > 0);
  expect(limbs).toHaveLength(2);
  for (const l of limbs) expect(s.positions[l.root * 3 + 1]).toBeLessThan(s.positions[l.tip * 3 + 1]);
});

test('two presses: the chain lies in the limb, the rest stays where it is', () => {
  const s = urchin(ARMS, 0.15);
  const rig = rigChains(s, [{ root: [0.035, 0, 0], tip: [0.158, 0, 0], bones: 3 }]);
  expect(rig.bones.map((b) => b.name)).toEqual([ROOT, 'limb 1.1', 'limb 1.2', 'limb 1.3']);
  for (const b of rig.bones.slice(1)) for (const p of [b.head, b.tail]) expect(Math.hypot(p[1], p[2])).toBeLessThan(R * 0.1);
  for (let v = 0; v < s.piece.length; v++) {
    const [x, y, z] = [0, 1, 2].map((k) => s.positions[v * 3 + k]);
    if (x < 0 || Math.hypot(y, z) > 0.04) expect(rig.binding.bones[v * 4]).toBe(0);
    if (x > 0.14) expect(rig.binding.bones[v * 4]).toBe(3);
  }
});

test('two chains that were given one name have two', () => {
  const s = urchin(ARMS, 0.15);
  const rig = rigChains(s, [
    { root: [0.035, 0, 0], tip: [0.158, 0, 0], bones: 2, name: 'arm' },
    { root: [-0.035, 0, 0], tip: [-0.158, 0, 0], bones: 2, name: 'arm' },
  ]);
  expect(rig.chains.map((c) => c.name)).toEqual(['arm', 'arm 2']);
  expect(new Set(rig.bones.map((b) => b.name)).size).toBe(rig.bones.length);
});
