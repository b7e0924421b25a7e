import { Vector3 } from 'three';
import { expect, test } from 'vitest';
import { cuts, leaks } from '@/core/fit/judge';
import { add, applyEdit, changePart, createPiece, createSolid, onAnchor, shownWearer } from '@/core/piece';
import { cellOf, placedCell } from '@/core/run/placed';
import { clearanceWords, leakWords } from './clearance';

const told = (deepestMm: number, near: 'pronasale' | 'stomion' | null = null, cutShare = deepestMm > 0 ? 0.1 : 0) =>
  ({ near, clearance: { deepestMm, atM: [0, 0, 0], cutShare, meanGapMm: null, touchShare: 0 } }) as const;

test('what is told of a cut and of what hovers', () => {
  expect(clearanceWords(told(1.84, 'pronasale') as never)).toBe('cuts in 1.8 mm, the tip of the nose');
  expect(clearanceWords(told(1.84, 'stomion') as never)).toBe('cuts in 1.8 mm, the mouth');
  expect(clearanceWords(told(2) as never)).toBe('cuts in 2.0 mm');
  expect(clearanceWords(told(-3.25) as never)).toBe('free by 3.3 mm');
  expect(clearanceWords(told(-150) as never)).toBe('nowhere near the wearer');
  expect([0.4, 0.6, -1].map((mm) => cuts(told(mm) as never))).toEqual([false, true, false]);
});

test('what is told of leaks', () => {
  const leaking = (leak: number, swallowed: number) => ({ leaks: { leak, swallowed, leaksAt: [], swallowedAt: [] } }) as never;
  expect(leakWords(leaking(0.032, 0))).toBe('3.2 % of what is seen of it a wearer would hide');
  expect(leakWords(leaking(0.5, 0.004))).toBe('50 % of what is seen of it a wearer would hide; 0.4 % that should be seen is hidden');
  expect([leakWords(leaking(0, 0)), leakWords({ leaks: null } as never)]).toEqual([null, null]);
  expect([leaking(0.02, 0), leaking(0, 0.02), leaking(0.005, 0.005), { leaks: null } as never].map(leaks)).toEqual([
    true,
    true,
    false,
    false,
  ]);
});

const box = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
const held = { head: { yawDeg: 40, pitchDeg: 10, rollDeg: 0 } };
const piece = applyEdit(createPiece('x'), add('parts', createSolid('a', 'A', box, onAnchor('head'))));

test('a part is asked about where it lies on a turned head: in the head’s own frame it has not moved', () => {
  const still = cellOf(piece, { models: {} }, piece.parts.a, shownWearer(piece), { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } });
  const turned = cellOf(piece, { models: {} }, piece.parts.a, shownWearer(piece), held);
  const was = still?.shapes[0].positions as Float32Array;
  expect(turned?.shapes[0].positions).toHaveLength(was.length);
  for (const [i, x] of (turned?.shapes[0].positions ?? []).entries()) expect(x).toBeCloseTo(was[i], 5);
  // seen from where the camera is, in the head's frame, and hidden with the block of the head
  expect(turned?.sight?.hides).toMatchObject([{ region: 'bust' }]);
  expect(turned?.sight?.eyeM).not.toEqual(still?.sight?.eyeM);
  expect(cellOf(piece, { models: {} }, { ...piece.parts.a, id: 'gone' }, shownWearer(piece), held)).toBeNull();
});

test('a way of the head is a way of the offset, whatever holds the part', () => {
  const placed = placedCell(piece, { models: {} }, piece.parts.a, shownWearer(piece), held);
  const by = placed?.inOffset(new Vector3(0.01, -0.02, 0.03)) as Vector3;
  for (const [k, x] of [0.01, -0.02, 0.03].entries()) expect(by.getComponent(k)).toBeCloseTo(x, 9);
  // moved by it, the part lies that far on in the head's frame
  const moved = applyEdit(piece, changePart('a', { offset: { ...piece.parts.a.offset, positionM: by.toArray() } }));
  const after = cellOf(moved, { models: {} }, moved.parts.a, shownWearer(piece), held);
  const before = placed?.cell.shapes[0].positions as Float32Array;
  for (const [i, x] of (after?.shapes[0].positions ?? []).entries()) expect(x - before[i]).toBeCloseTo([0.01, -0.02, 0.03][i % 3], 5);
});
