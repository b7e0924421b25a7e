import fc from 'fast-check';
import { Euler, Quaternion } from 'three';
import { expect, test } from 'vitest';
import { yawPitchRoll } from './turns';

test('the turn comes back from its angles, also hard by a pitch of a quarter', () => {
  const angle = fc.oneof(
    fc.double({ min: -3.2, max: 3.2, noNaN: true }),
    fc.constantFrom(0, Math.PI / 2, -Math.PI / 2, Math.PI).chain((a) => fc.double({ min: a - 1e-4, max: a + 1e-4, noNaN: true })),
    fc.constantFrom(0, Math.PI / 2, -Math.PI / 2, Math.PI),
  );
  fc.assert(
    fc.property(angle, angle, angle, (x, y, z) => {
      const q = new Quaternion().setFromEuler(new Euler(x, y, z, 'YXZ'));
      expect(new Quaternion().setFromEuler(yawPitchRoll(q)).angleTo(q)).toBeLessThan(1e-7);
    }),
    { numRuns: 500 },
  );
});
