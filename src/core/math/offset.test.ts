import { Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { offsetMatrix, turnAbout, turnMatrix, wrapTurn } from './offset';

describe('turns', () => {
  const fore = new Vector3(0, 0, 1);
  test('yaw + looks to the wearer’s left, pitch + looks down, roll + tips the crown to the wearer’s right', () => {
    expect(fore.clone().applyMatrix4(turnMatrix({ yawDeg: 30, pitchDeg: 0, rollDeg: 0 })).x).toBeCloseTo(0.5, 9);
    expect(fore.clone().applyMatrix4(turnMatrix({ yawDeg: 0, pitchDeg: 30, rollDeg: 0 })).y).toBeCloseTo(-0.5, 9);
    expect(new Vector3(0, 1, 0).applyMatrix4(turnMatrix({ yawDeg: 0, pitchDeg: 0, rollDeg: 30 })).x).toBeCloseTo(-0.5, 9);
  });
  test('a plane that faces +Z lies on the floor after −90° of pitch (common practice)', () => {
    const m = offsetMatrix({ positionM: [0, 0, 0], turnRad: [-Math.PI / 2, 0, 0], size: [1, 1, 1] });
    expect(
      fore
        .clone()
        .applyMatrix4(m)
        .distanceTo(new Vector3(0, 1, 0)),
    ).toBeLessThan(1e-12);
  });
  test('turning four times by 90° about any axis comes home', () => {
    for (const axis of [0, 1, 2] as const) {
      let t: [number, number, number] = [0.3, -0.2, 0.1];
      const before = offsetMatrix({ positionM: [0, 0, 0], turnRad: t, size: [1, 1, 1] });
      for (let i = 0; i < 4; i++) t = turnAbout(t, axis, Math.PI / 2);
      const after = offsetMatrix({ positionM: [0, 0, 0], turnRad: t, size: [1, 1, 1] });
      after.elements.forEach((x, i) => {
        expect(x).toBeCloseTo(before.elements[i], 9);
      });
    }
    expect(wrapTurn(3 * Math.PI)).toBeCloseTo(Math.PI, 12);
    expect(wrapTurn(-Math.PI)).toBeCloseTo(Math.PI, 12);
    expect(wrapTurn(2 * Math.PI)).toBe(0);
  });
});
