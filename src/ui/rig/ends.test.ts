import { expect, test } from 'vitest';
import { freeEnds } from './ends';

test('an end that a chain was made of is free no more, also where the model was made smaller since', () => {
  const end = { rootM: [0, 1, 0] as [number, number, number], tipM: [0, 1, -1] as [number, number, number] };
  const other = { rootM: [0, 2, 0] as [number, number, number], tipM: [0, 3, 0] as [number, number, number] };
  const drawn = [0, 0.01, -0.0099];
  const rig = {
    spars: [{ tail: drawn }],
    chains: [
      { found: true, spars: [0] },
      { found: false, spars: [0] },
    ],
  } as never;
  expect(freeEnds([end, other], rig, (p) => p.map((x) => x * 100) as never)).toEqual([other]);
  expect(freeEnds([end, other], rig, (p) => p)).toEqual([end, other]);
});
