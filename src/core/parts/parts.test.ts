/** What each kind of part is for: held together by it, hidden by it, filled with it, or shown. */
import { expect, test } from 'vitest';
import { fills, hides, holds, isMade, isPlaced, PART_KINDS, type Part } from './index';

test.each([
  // holds, hides, fills, shows something of its own, moves with what it hangs on
  ['model', [false, false, false, true, true]],
  ['solid', [false, false, false, true, true]],
  ['group', [true, false, false, false, true]],
  ['occluder', [false, true, false, false, false]],
  ['screen', [false, false, true, true, false]],
  ['patch', [false, false, false, true, true]],
  ['face', [false, false, false, true, false]],
] as const)('%s', (kind, is) => {
  expect([holds, hides, fills, isMade, isPlaced].map((f) => f({ kind } as Part))).toEqual(is);
});
test('what hides instead of showing itself is placed as before, and is nothing that is made', () => {
  const part = { kind: 'solid', occludes: true } as Part;
  expect([hides, isMade, isPlaced].map((f) => f(part))).toEqual([true, false, true]);
});
test('no other kinds are there', () => expect(PART_KINDS).toHaveLength(7));
