import { describe, expect, it } from 'vitest';
import type { Bone } from '../bone';
import type { Vec } from '../middle';
import { tube } from '../shapes';
import { surfaceFrom } from '../surface';
import { bind } from '../weights/bind';
import { setShares } from '../weights/shares';
import { sharesAt } from '../weights/write';
import { armPits, bendAtJoints, collarBones, level } from './windows';

const bone = (name: string, parent: number, head: Vec, tail: Vec, limb: number): Bone => ({ name, parent, head, tail, limb });
/** An arm to the wearer's left, 4 cm thick to each side, elbow at 0.3 m and wrist at 0.6 m. */
function arm() {
  const made = tube(
    (t) => [0.7 * t, 0, 0],
    () => 0.04,
    140,
    12,
  );
  const surface = surfaceFrom(made.positions, made.triangles);
  const bones = [
    bone('leftUpperArm', -1, [0, 0, 0], [0.3, 0, 0], 0),
    bone('leftLowerArm', 0, [0.3, 0, 0], [0.6, 0, 0], 1),
    bone('leftHand', 1, [0.6, 0, 0], [0.7, 0, 0], 2),
  ];
  return { surface, bones, binding: bind(surface, bones, 'heat') };
}

describe('where a body bends', () => {
  it('two bones are half and half at their joint, alone from a half thickness on, and have together what they had', () => {
    const { surface, bones, binding } = arm();
    const share = (v: number, b: number) => sharesAt(binding, v).find(([x]) => x === b)?.[1] ?? 0;
    const before = Array.from(surface.piece, (_, v) => [0, 1, 2].map((b) => share(v, b)));
    bendAtJoints(surface, bones, binding);
    let seen = 0;
    for (let v = 0; v < surface.piece.length; v++) {
      const x = surface.positions[v * 3];
      const own = [0, 1, 2].map((b) => share(v, b));
      expect(own.reduce((s, w) => s + w, 0)).toBe(1);
      if (x < 0.26) expect(own[0]).toBeGreaterThan(0.995);
      if (x > 0.34 && x < 0.55) expect(own[1]).toBeGreaterThan(0.995);
      if (Math.abs(x - 0.3) < 0.03) {
        // smoothstep over 0.85 of the half thickness, 34 mm, each way
        expect(own[1]).toBeCloseTo(level(-0.034, 0.034, x - 0.3), 2);
        seen++;
      }
      // the wrist has less room: the hand is 10 cm long, and thick
      if (x < 0.5) expect(own[2]).toBeLessThan(before[v][2] + 0.01);
    }
    expect(seen).toBeGreaterThan(50);
  });

  it('a collar bone has the upper edge of the chest and nothing below', () => {
    // a chest of 0.5 m, upright, with a collar bone across its top
    const made = tube(
      (t) => [0, 1 + 0.5 * t, 0],
      () => 0.16,
      50,
      24,
    );
    const surface = surfaceFrom(made.positions, made.triangles);
    const bones = [
      bone('upperChest', -1, [0, 1.2, 0], [0, 1.45, 0], 0),
      bone('neck', 0, [0, 1.45, 0], [0, 1.5, 0], 1),
      bone('leftShoulder', 0, [0.02, 1.42, 0], [0.17, 1.4, 0], 2),
    ];
    const binding = bind(surface, bones, 'voxel');
    const of = (v: number, b: number) => sharesAt(binding, v).find(([x]) => x === b)?.[1] ?? 0;
    const arms = Array.from(surface.piece, (_, v) => of(v, 2));
    collarBones(surface, bones, binding);
    let kept = 0;
    for (let v = 0; v < surface.piece.length; v++) {
      const [x, y] = [surface.positions[v * 3], surface.positions[v * 3 + 1]];
      expect([0, 1, 2].reduce((s, b) => s + of(v, b), 0)).toBe(1);
      expect(of(v, 2)).toBeLessThanOrEqual(arms[v] + 1 / 4096);
      // half a collar bone's length below it, and on the other side
      if (y < 1.32 || x < 0) expect(of(v, 2)).toBe(0);
      if (of(v, 2) > 0.5) kept++;
    }
    expect(kept).toBeGreaterThan(3);
    // it did have more
    expect(arms.some((w, v) => w > 0.3 && of(v, 2) === 0)).toBe(true);
  });

  it('an upper arm holds nothing of the flank further off than it is thick, and all it had of itself', () => {
    // an arm of 40 mm that slopes away from a trunk of 130 mm
    const trunk = tube(
      (t) => [0, 0.9 + 0.55 * t, 0],
      () => 0.13,
      40,
      24,
    );
    const arm = tube(
      (t) => [0.16 + 0.24 * t, 1.4 - 0.24 * t, 0],
      () => 0.04,
      30,
      16,
    );
    const positions = Float32Array.from([...trunk.positions, ...arm.positions]);
    const from = trunk.positions.length / 3;
    const surface = surfaceFrom(positions, Uint32Array.from([...trunk.triangles, ...[...arm.triangles].map((i) => i + from)]));
    const bones = [
      bone('upperChest', -1, [0, 1.1, 0], [0, 1.42, 0], 0),
      bone('neck', 0, [0, 1.42, 0], [0, 1.48, 0], 1),
      bone('leftUpperArm', 0, [0.16, 1.4, 0], [0.4, 1.16, 0], 2),
    ];
    const count = surface.piece.length;
    const binding = { ...bind(surface, bones, 'voxel') };
    const on = (v: number) => [surface.positions[v * 3], surface.positions[v * 3 + 1], surface.positions[v * 3 + 2]] as const;
    const isArm = (v: number) => on(v)[0] > 0.135;
    // half and half wherever the trunk is near to the arm, as heat would have it
    for (let v = 0; v < count; v++)
      setShares(
        binding,
        v,
        isArm(v)
          ? [[2, 1]]
          : on(v)[0] > 0
            ? [
                [0, 0.5],
                [2, 0.5],
              ]
            : [[0, 1]],
      );
    armPits(surface, bones, binding);
    const of = (v: number, b: number) => sharesAt(binding, v).find(([x]) => x === b)?.[1] ?? 0;
    let [near, far] = [0, 0];
    for (let v = 0; v < count; v++) {
      const [x, y, z] = on(v);
      expect(of(v, 0) + of(v, 1) + of(v, 2)).toBe(1);
      if (isArm(v)) expect(of(v, 2)).toBe(1);
      if (isArm(v) || x <= 0) continue;
      const along = (x - 0.16 - (y - 1.4)) / Math.SQRT2;
      const away = Math.sqrt(Math.max(0, (x - 0.16) ** 2 + (y - 1.4) ** 2 + z ** 2 - along ** 2));
      if (away > 2.2 * 0.04) {
        far++;
        expect(of(v, 2)).toBe(0);
      }
      if (away < 1.3 * 0.04) {
        near++;
        expect(of(v, 2)).toBe(0.5);
      }
    }
    expect(Math.min(near, far)).toBeGreaterThan(3);
  });
});
