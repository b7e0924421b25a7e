import { SphereGeometry } from 'three';
import { expect, test } from 'vitest';
import { layOnto } from './layonto';

const GRID = { across: 8, up: 6 };
const wall = (z: number, half = 1) => ({
  positions: [-half, -half, z, half, -half, z, half, half, z, -half, half, z],
  triangles: [0, 1, 2, 0, 2, 3],
});

test('a wall is met where it stands, the nearer of two first, and none behind the eye', () => {
  expect([...layOnto([wall(-0.3), wall(-0.5), wall(2)], GRID, [0.2, 0.1], [0, 0, 1])]).toEqual(
    Array.from({ length: 63 }, () => expect.closeTo(-0.3, 12)),
  );
});

test('beside a thing nothing is met', () => {
  // the eye sees a wall half as far behind the plane as it is before it one and a half times as large
  const d = layOnto([wall(-0.5, 0.075)], GRID, [0.2, 0.1], [0, 0, 1]);
  const met = Array.from(d, (z, v) => [Math.abs((v % 9) / 8 - 0.5) * 0.2, z] as const);
  expect(met.every(([x, z]) => Number.isNaN(z) === x > 0.05 + 1e-9)).toBe(true);
});

test('on a ball it lies where the closed form has the way from the eye meet it', () => {
  const g = new SphereGeometry(0.1, 256, 128);
  const ball = { positions: g.getAttribute('position').array, triangles: g.index?.array ?? [] };
  const eye = [0.02, -0.05, 1] as const;
  const size = [0.12, 0.08] as const;
  const d = layOnto([ball], GRID, size, eye);
  d.forEach((z, v) => {
    const p = [((v % 9) / 8 - 0.5) * size[0], (Math.floor(v / 9) / 6 - 0.5) * size[1], 0];
    const way = p.map((x, k) => x - eye[k]);
    const a = way.reduce((s, w) => s + w * w, 0);
    const b = way.reduce((s, w, k) => s + w * eye[k], 0);
    const c = eye.reduce((s, e) => s + e * e, 0) - 0.01;
    const at = (-b - Math.sqrt(b * b - a * c)) / a;
    expect(z).toBeCloseTo(eye[2] + at * way[2], 4);
  });
});
