/** Normals weighted by the angle of each triangle at the vertex (Thürmer and Wüthrich, 1998): how a face is cut does not matter. */
import { expect, test } from 'vitest';
import { computeNormals } from './normals';

/** A cube about the origin; each face cut along one of its diagonals, as the bits say. */
function cube(cuts: number, size: readonly [number, number, number]) {
  const corners = Array.from({ length: 8 }, (_, i) => [i & 1, (i >> 1) & 1, (i >> 2) & 1].map((b, k) => (b - 0.5) * size[k]));
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const indices = faces.flatMap(([a, b, c, d], f) => ((cuts >> f) & 1 ? [a, b, c, a, c, d] : [b, c, d, b, d, a]));
  return { positions: corners.flat(), indices };
}
const same = Array.from({ length: 8 }, (_, i) => i);

test.each([0, 63, 37, 26])('of a brick’s corners point along its three diagonals, however its faces are cut (%i)', (cuts) => {
  for (const size of [
    [1, 1, 1],
    [2, 5, 0.3],
  ] as const) {
    const { positions, indices } = cube(cuts, size);
    const n = computeNormals(positions, indices, same);
    for (let i = 0; i < 24; i++) expect(n[i]).toBeCloseTo(Math.sign(positions[i]) / Math.sqrt(3), 6);
  }
});
test('vertices that are one place share theirs', () => {
  // two sheets at a right angle, each with vertices of its own along the edge
  const positions = [0, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 1, 0, 1, 0];
  const n = computeNormals(positions, [0, 1, 2, 3, 5, 4], [0, 1, 2, 0, 1, 5]);
  const r = Math.SQRT1_2;
  expect([...n.slice(0, 3)].map((x) => Math.abs(x))).toEqual([expect.closeTo(r, 5), expect.closeTo(r, 5), 0]);
  expect([...n.slice(9, 12)]).toEqual([...n.slice(0, 3)]);
  expect([...n.slice(6, 9)].map(Math.abs)).toEqual([0, 1, 0]);
  expect([...n.slice(15, 18)].map(Math.abs)).toEqual([1, 0, 0]);
});
