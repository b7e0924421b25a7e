/** What can be said of a size without a kind: nothing worn or held is over 4 m or under 4 mm. */
import { expect, test } from 'vitest';
import { guessUnitUnstated } from '../../model/lie/units';

const factor = (mm: number) => guessUnitUnstated([mm, mm / 2, mm / 3])?.factor ?? null;

test.each([
  [4, null],
  [4_000, null],
  [4_001, 0.01],
  [400_000, 0.01],
  [400_001, 0.001],
  [3_000_000, 0.001],
  [4_000_000, 0.001],
  [4_000_001, null],
  [3.99, 100],
  [0.04, 100],
  [0.039, 1_000],
  [0.004, 1_000],
  [0.0039, null],
  [0, null],
  [Number.NaN, null],
])('%f mm at the longest: %s', (mm, wanted) => expect(factor(mm)).toBe(wanted));
test('it is the longest side that counts, and the guess is unsure', () => {
  const guess = guessUnitUnstated([10, 14_000, 20]);
  expect(guess?.factor).toBe(0.01);
  expect(guess?.confidence).toBeLessThan(0.5);
  expect(guess?.reason).toContain('14.0 m at its longest');
});
