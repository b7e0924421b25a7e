import { expect, test } from 'vitest';
import { alongWith } from './depthlook';

const rest = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 2, 0);

test('a picture goes along over the ground; a bow or a small jump stays one', () => {
  for (const up of [-0.5, 0.05]) {
    const seen = alongWith(
      rest,
      rest.map((x, i) => x + [3, up, -2][i % 3]),
    );
    for (const [i, x] of seen.entries()) expect(x).toBeCloseTo(rest[i] + [0, up, 0][i % 3], 6);
  }
});

test('who climbs is seen all the same', () => {
  const seen = alongWith(
    rest,
    rest.map((x, i) => x + (i % 3 === 1 ? 5 : 0)),
  );
  expect(Math.max(...seen.filter((_, i) => i % 3 === 1))).toBeCloseTo(2.08, 6);
});
