import { expect, test } from 'vitest';
import type { RecipeStep } from '@/core/piece';
import { withRaised, withStep } from './order';

const steps = (...names: RecipeStep['step'][]) =>
  names.map((step, i) => ({ id: `s${i}`, on: true, step, settings: {} }) as unknown as RecipeStep);
const order = (list: readonly RecipeStep[]) => list.map((s) => s.step);
const none = {} as never;

test('steps about bones stand in their order, behind what changes the shape and before what packs', () => {
  const given = steps('mend', 'figure', 'motion', 'compress');
  expect(order(withStep(given, 'shares', none))).toEqual(['mend', 'figure', 'shares', 'motion', 'compress']);
  expect(order(withStep(given, 'bones', none))).toEqual(['mend', 'figure', 'motion', 'bones', 'compress']);
  expect(order(withStep(steps('mend', 'simplify'), 'known', none))).toEqual(['mend', 'simplify', 'known']);
  expect(order(withStep(given, 'motion', null))).toEqual(['mend', 'figure', 'compress']);
});

test('what moves the model behind its bones stays behind what is said of them', () => {
  const given = steps('mend', 'chains', 'transform', 'compress');
  expect(order(withStep(given, 'shares', none))).toEqual(['mend', 'chains', 'shares', 'transform', 'compress']);
  expect(order(withStep(given, 'chains', none))).toEqual(['mend', 'chains', 'transform', 'compress']);
  expect(order(withStep(steps('transform', 'compress'), 'chains', none))).toEqual(['transform', 'chains', 'compress']);
});

test('a step that is there keeps its id', () => {
  expect(withStep(steps('mend', 'shares'), 'shares', none)[1].id).toBe('s1');
});

test('other bones in the place of bones: what was about them stays where it still can', () => {
  const given = steps('mend', 'figure', 'shares', 'motion', 'bones', 'compress');
  expect(order(withRaised(given, { step: 'figure', settings: none }))).toEqual(['mend', 'figure', 'shares', 'motion', 'bones', 'compress']);
  expect(order(withRaised(given, { step: 'chains', settings: none }))).toEqual(['mend', 'chains', 'shares', 'bones', 'compress']);
  expect(order(withRaised(given, null))).toEqual(['mend', 'compress']);
});

test('chains pressed on a figure stay with it, and go with it', () => {
  const hung = { id: 'c', on: true, step: 'chains', settings: { chains: [{}], more: [], changes: {} } } as unknown as RecipeStep;
  const [mend, figure, motion] = steps('mend', 'figure', 'motion');
  const given = [mend, figure, hung, motion];
  expect(order(withRaised(given, { step: 'figure', settings: none }))).toEqual(['mend', 'figure', 'chains', 'motion']);
  expect(order(withRaised(given, { step: 'garment', settings: none }))).toEqual(['mend', 'garment']);
  expect(order(withRaised(given, { step: 'chains', settings: none }))).toEqual(['mend', 'chains']);
  expect(order(withStep([mend, figure, motion], 'chains', none))).toEqual(['mend', 'figure', 'chains', 'motion']);
});
