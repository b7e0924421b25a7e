import { Vector3 } from 'three';
import { expect, test } from 'vitest';
import { type RecipeStep, turnOf } from '@/core/piece';
import { beforeMoves } from './places';

const step = (kind: RecipeStep['step'], settings: object = {}, on = true) =>
  ({ id: kind, on, step: kind, settings }) as unknown as RecipeStep;
const still = { factor: 1, turnDeg: { yaw: 0, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: false };
const near = (a: readonly number[], b: readonly number[]) => {
  for (const [k, x] of a.entries()) expect(x).toBeCloseTo(b[k], 9);
};

test('a place is told where it was before the steps that stand behind the bones moved the model', () => {
  const turned = { ...still, factor: 0.01, turnDeg: { yaw: 90, pitch: 20, roll: 0 }, shiftM: [0.1, 0.2, 0.3] };
  const lifted = { ...still, shiftM: [0, 1, 0] };
  const was: [number, number, number] = [3, -4, 5];
  const p = new Vector3(...was).applyQuaternion(turnOf(turned)).multiplyScalar(0.01);
  const now = p
    .add(new Vector3(0.1, 0.2, 0.3))
    .add(new Vector3(0, 1, 0))
    .toArray();
  const behind = [step('chains'), step('transform', turned), step('transform', lifted)];
  const back = beforeMoves(behind, 'chains');
  near(back?.place(now) ?? [], was);
  expect(back?.length(0.02)).toBeCloseTo(2, 9);
  // what comes anew stands beside the chains, before the moves
  near(beforeMoves(behind, 'shares')?.place(now) ?? [], was);
  // moves before the bones are in what is drawn and in what they are told by alike, and so are those that are off
  near(beforeMoves([step('transform', turned), step('chains')], 'chains')?.place(now) ?? [], now);
  near(beforeMoves([step('chains'), step('transform', turned, false)], 'chains')?.place(now) ?? [], now);
});

test('a move that only running tells is none to be told back', () => {
  expect(beforeMoves([step('chains'), step('ground')], 'shares')).toBeNull();
  expect(beforeMoves([step('ground'), step('chains')], 'shares')).not.toBeNull();
  expect(beforeMoves([step('chains'), step('pivot', {}, false)], 'shares')).not.toBeNull();
});
