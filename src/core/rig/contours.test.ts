import { expect, test } from 'vitest';
import { contours, foremost } from './contours';
import { tube } from './shapes';

/** A tube of 1 m along y, 2 cm thick, whose values are heights. */
const { positions, triangles } = tube(
  (t) => [0, t, 0],
  () => 0.02,
  30,
  12,
);
const heights = Float64Array.from({ length: positions.length / 3 }, (_, v) => positions[v * 3 + 1]);

test('where values are heights, lines lie at their levels and go all the way round', () => {
  const levels = [0.1, 0.25, 0.5, 0.75, 0.9];
  const lines = contours(positions, triangles, heights, levels);
  lines.forEach((pieces, l) => {
    let length = 0;
    const ends = new Map<string, number>();
    for (let i = 0; i < pieces.length; i += 6) {
      expect(pieces[i + 1]).toBeCloseTo(levels[l], 5);
      expect(pieces[i + 4]).toBeCloseTo(levels[l], 5);
      length += Math.hypot(pieces[i + 3] - pieces[i], pieces[i + 5] - pieces[i + 2]);
      for (const at of [i, i + 3]) {
        const key = [0, 2].map((k) => pieces[at + k].toFixed(5)).join();
        ends.set(key, (ends.get(key) ?? 0) + 1);
      }
    }
    // a polygon of twelve corners about a circle of 2 cm: closed, so that each end is met twice
    expect(length).toBeCloseTo(24 * 0.02 * Math.sin(Math.PI / 12), 3);
    for (const n of ends.values()) expect(n).toBe(2);
  });
});

test('nothing runs where all is above or below, nor along what is level', () => {
  expect(contours(positions, triangles, heights, [-1, 2])).toEqual([[], []]);
  expect(contours([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2], [0.5, 0.5, 0.5], [0.5])).toEqual([[]]);
});

test('a figure stands where its line is foremost', () => {
  const [line] = contours(positions, triangles, heights, [0.5]);
  expect(foremost(line, [0, 0, 1])?.[2]).toBeGreaterThan(0.018);
  expect(foremost(line, [-1, 0, 0])?.[0]).toBeLessThan(-0.018);
  expect(foremost([], [0, 0, 1])).toBeNull();
});
