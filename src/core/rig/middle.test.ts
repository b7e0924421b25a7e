import { describe, expect, test } from 'vitest';
import { chainPlans, proposedBones } from './chain';
import { lengthOf, middleLine, type RigError, type Vec } from './middle';
import { marched, rod } from './samples';
import { tube } from './shapes';
import { surfaceFrom } from './surface';

const R = 0.01;
const CURVES: Record<string, (t: number) => Vec> = {
  straight: (t) => [0, t * 0.3, 0],
  helix: (t) => [0.05 * Math.cos(t * 4 * Math.PI), t * 0.25, 0.05 * Math.sin(t * 4 * Math.PI)],
  S: (t) => [0.04 * Math.sin(t * 2 * Math.PI), t * 0.3, 0],
};
/** Greatest distance of points from a curve in closed form, metres. */
const strayFrom = (points: readonly Vec[], curve: (t: number) => Vec): number =>
  Math.max(
    ...points.map((p) => Math.min(...Array.from({ length: 2001 }, (_, i) => Math.hypot(...curve(i / 2000).map((x, k) => x - p[k]))))),
  );

describe('the middle line of a tube is its curve, within 5 % of its radius', () => {
  for (const [name, curve] of Object.entries(CURVES))
    test(name, () => {
      const { positions, triangles } = tube(curve, () => R, 160, 20);
      const surface = surfaceFrom(positions, triangles);
      // pressed on its side near one end, and on its other end's cap
      const side = curve(0.03);
      const line = middleLine(surface, [side[0] + R, side[1], side[2]], curve(1));
      expect(strayFrom(line.points, curve)).toBeLessThan(R * 0.05);
      for (const r of line.radii.slice(4, -4)) expect(r / R).toBeCloseTo(1, 1);
      const exact = lengthOf(Array.from({ length: 2001 }, (_, i) => curve(0.03 + (i / 2000) * 0.97)));
      expect(Math.abs(line.lengthM - exact)).toBeLessThan(R);
    });
});

test('through a Y the line follows its stem and the arm that was pressed, not the other', () => {
  const fork: Vec = [0, 0.02, 0];
  const [foot, left, right]: Vec[] = [
    [0, -0.12, 0],
    [-0.08, 0.12, 0],
    [0.08, 0.12, 0],
  ];
  const rods = [rod(foot, fork, R), rod(fork, left, R), rod(fork, right, R)];
  const surface = marched((x, y, z) => Math.min(...rods.map((f) => f(x, y, z))), 0.14, 110);
  const to =
    (end: Vec) =>
    (t: number): Vec => {
      const [a, b, u] = t < 0.5 ? [foot, fork, t * 2] : [fork, end, t * 2 - 1];
      return [0, 1, 2].map((k) => a[k] + (b[k] - a[k]) * u) as Vec;
    };
  const apart = (p: Vec) => Math.hypot(p[0] - fork[0], p[1] - fork[1], p[2] - fork[2]);
  for (const end of [left, right]) {
    const line = middleLine(surface, [foot[0], foot[1] - R, foot[2]], [end[0], end[1] + R, end[2]]);
    // where the arms part the shape is broader than either, and what its middle is is a matter of words
    const clear = line.points.filter((p) => apart(p) > 3 * R && p[1] > foot[1] && p[1] < end[1]);
    expect(clear.length).toBeGreaterThan(10);
    expect(strayFrom(clear, to(end))).toBeLessThan(R * 0.05);
    expect(
      strayFrom(
        line.points.filter((p) => p[1] < end[1] && p[1] > foot[1]),
        to(end),
      ),
    ).toBeLessThan(R * 0.9);
    expect(clear.filter((p) => p[1] > fork[1]).every((p) => Math.sign(p[0]) === Math.sign(end[0]))).toBe(true);
  }
});

test('presses on two pieces, on one place or on nothing are refused', () => {
  const a = tube(CURVES.straight, () => R, 20, 8);
  const b = tube(
    (t) => [0.1, t * 0.3, 0],
    () => R,
    20,
    8,
  );
  const both = surfaceFrom(
    Float32Array.from([...a.positions, ...b.positions]),
    Uint32Array.from([...a.triangles, ...Array.from(b.triangles, (i) => i + a.positions.length / 3)]),
  );
  const code = (work: () => unknown) => {
    try {
      work();
    } catch (e) {
      return (e as RigError).code;
    }
    return null;
  };
  expect(code(() => middleLine(both, [0, 0, 0], [0.1, 0.3, 0]))).toBe('rig/apart');
  expect(code(() => middleLine(both, [0, 0, 0], [0, 0, 0]))).toBe('rig/too-near');
  expect(code(() => middleLine(surfaceFrom(new Float32Array(), new Uint32Array()), [0, 0, 0], [0, 1, 0]))).toBe('rig/no-surface');
  expect(both.pieces).toBe(2);
});

describe('bones of a chain', () => {
  const arc = Array.from({ length: 401 }, (_, i): Vec => [0.1 * Math.cos((i / 400) * Math.PI), 0.1 * Math.sin((i / 400) * Math.PI), 0]);
  test('stray as far as a chord from its arc: r (1 − cos(π / 2n)) of a half circle', () => {
    const plans = chainPlans({ points: arc });
    for (const n of [1, 2, 4, 8]) {
      expect(plans[n - 1].joints).toHaveLength(n + 1);
      expect(plans[n - 1].strayMm).toBeCloseTo(100 * (1 - Math.cos(Math.PI / 2 / n)), 1);
    }
    for (let n = 1; n < plans.length; n++) expect(plans[n].strayMm).toBeLessThanOrEqual(plans[n - 1].strayMm + 1e-9);
    // 3 mm: 100 (1 − cos(π / 2n)) ≤ 3 from n = 7 on
    expect(proposedBones(plans, lengthOf(arc))).toBe(7);
  });
  test('twenty metres long, 60 mm do not show: 6400 (1 − cos(π / 2n)) ≤ 60.3 from n = 12 on', () => {
    const large = arc.map((p) => p.map((x) => x * 64) as Vec);
    const bones = proposedBones(chainPlans({ points: large }), lengthOf(large));
    // joints stand at 64ths of the line, which twelve do not divide
    expect([12, 13]).toContain(bones);
  });
  test('a straight line has two, of equal length', () => {
    const plans = chainPlans({
      points: [
        [0, 0, 0],
        [0, 0.2, 0],
      ],
    });
    expect(proposedBones(plans, 0.2)).toBe(2);
    expect(plans[1].joints[1][1]).toBeCloseTo(0.1, 9);
  });
});
