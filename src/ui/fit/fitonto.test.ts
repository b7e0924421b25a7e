/** What Fit it says comes to lie on the head, whatever the part hangs on. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import type { RestFrames } from '@/core/fit';
import { offsetMatrix } from '@/core/math';
import { type Hang, onAnchor, onPart } from '@/core/piece';
import { inFile, matrixOf, ontoOffset } from './fitonto';

const head = new Matrix4().makeTranslation(0, 1.6, 0.05);
const carrier = new Matrix4().compose(new Vector3(0.3, 1.2, -0.1), new Quaternion(0, Math.SQRT1_2, 0, Math.SQRT1_2), new Vector3(2, 2, 2));
const frames: RestFrames = { world: () => carrier, of: (hang: Hang) => (hang.on === 'part' ? carrier : head).clone() };
const onto = { factor: 0.01, turn: [0, 1, 0, 0] as [number, number, number, number], shiftM: [0, 0.03, 0.1] as [number, number, number] };

describe('the offset of what was fitted', () => {
  test.each([
    ['on the head', onAnchor('head')],
    ['on a part that is turned and twice as large', onPart('hat')],
  ])('%s: every place of the file lies where the fit brings it', (_, hang) => {
    const world = frames.of(hang).multiply(offsetMatrix(ontoOffset(onto, hang, frames)));
    for (const p of [new Vector3(), new Vector3(3, -2, 7), new Vector3(-1, 0, 0)]) {
      const told = p.clone().applyMatrix4(matrixOf(onto)).applyMatrix4(head);
      expect(p.clone().applyMatrix4(world).distanceTo(told)).toBeLessThan(1e-6);
    }
  });

  test.each([onAnchor('head'), onPart('hat')])('a place of the head is the place of the file that lies there: %o', (hang) => {
    const offset = ontoOffset(onto, hang, frames);
    for (const p of [new Vector3(3, -2, 7), new Vector3(-1, 0, 0)]) {
      const at = p.clone().applyMatrix4(matrixOf(onto)).toArray();
      expect(new Vector3(...inFile(at, offset, hang, frames)).distanceTo(p)).toBeLessThan(1e-5);
    }
  });

  test('on the head it is the fit itself', () => {
    const o = ontoOffset(onto, onAnchor('head'), frames);
    expect(o.positionM[1]).toBeCloseTo(0.03, 9);
    expect(o.size[0]).toBeCloseTo(0.01, 9);
  });
});
