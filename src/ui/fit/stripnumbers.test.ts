import { expect, test } from 'vitest';
import { faultOf } from './stripnumbers';

const told = (deepestMm: number, leak = 0, swallowed = 0) =>
  ({
    near: null,
    clearance: { deepestMm, atM: [0, 0, 0], cutShare: deepestMm > 0 ? 0.1 : 0, meanGapMm: null, touchShare: 0 },
    leaks: { leak, swallowed, leaksAt: [], swallowedAt: [] },
  }) as never;

test('a pose tells its leak, else its cut, else nothing', () => {
  expect([told(3.14, 0.25), told(3.14, 0, 0.031), told(3.14, 0.004), told(0.3), told(-8)].map(faultOf)).toEqual([
    '25 %',
    '3 %',
    '3.1 mm',
    null,
    null,
  ]);
});
