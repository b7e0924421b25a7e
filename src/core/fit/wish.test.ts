import { expect, test } from 'vitest';
import { reach } from './wish';

const of = (f: (x: number) => number | null) => async (x: number) => f(x);

test('a line is met where it is, on either side, however far the first step goes', async () => {
  for (const [slope, step] of [
    [2, 0.1],
    [-0.5, 0.02],
    [3, 40],
  ]) {
    const found = await reach(
      of((x) => slope * x + 1),
      4,
      0,
      step,
    );
    expect(found?.value).toBeCloseTo(3 / slope, 2);
    expect(found?.comes).toBeCloseTo(4, 2);
  }
});

test('of two places the nearer: a valley is met on the side one stands on', async () => {
  const valley = of((x) => (x - 2) ** 2);
  expect((await reach(valley, 1, 4, 0.1))?.value).toBeCloseTo(3, 2);
  expect((await reach(valley, 1, 0.5, 0.1))?.value).toBeCloseTo(1, 2);
});

test('where it is already, it stays; what is out of reach, or nowhere, is said', async () => {
  expect(
    await reach(
      of((x) => x),
      5,
      5,
      1,
    ),
  ).toEqual({ value: 5, comes: 5 });
  expect(
    await reach(
      of((x) => Math.min(x, 3)),
      4,
      0,
      1,
    ),
  ).toBeNull();
  expect(
    await reach(
      of(() => null),
      1,
      0,
      1,
    ),
  ).toBeNull();
  // no value past the bounds is tried
  const tried: number[] = [];
  const noted = async (x: number) => {
    tried.push(x);
    return x;
  };
  expect(await reach(noted, 10, 0, 0.5, [-2, 2])).toBeNull();
  expect(Math.max(...tried.map(Math.abs))).toBe(2);
});
