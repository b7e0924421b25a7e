import { CircleGeometry, SphereGeometry, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { Blocker, leaksOf, placesOn } from './leaks';

type Geometry = CircleGeometry | SphereGeometry;
const shapeOf = (g: Geometry, at: readonly [number, number, number]) => ({
  positions: Float32Array.from(g.getAttribute('position').array, (x, i) => x + at[i % 3]),
  triangles: Uint32Array.from(g.index?.array ?? []),
});
const blocker = (g: Geometry, at: readonly [number, number, number]) => {
  const { positions, triangles } = shapeOf(g, at);
  return new Blocker(positions, triangles);
};
const partOf = (...shapes: ReturnType<typeof shapeOf>[]) => placesOn(shapes) as NonNullable<ReturnType<typeof placesOn>>;

/** A ball of 0.1 m before a disc of 0.3 m, seen from 1 m: the ball's shadow on it by the closed form. */
const [R, D, BEHIND, DISC] = [0.1, 1, 0.2, 0.3];
const shadow = ((D + BEHIND) * Math.tan(Math.asin(R / D))) ** 2 / DISC ** 2;
const eye = new Vector3(0, 0, D);
const disc = partOf(shapeOf(new CircleGeometry(DISC, 180), [0, 0, -BEHIND]));
const ball = () => blocker(new SphereGeometry(R, 120, 90), [0, 0, 0]);
const none = () => blocker(new SphereGeometry(0.001, 4, 3), [5, 5, 5]);

describe('a disc behind a ball', () => {
  test('nothing hides it: what leaks is the ball’s shadow, where it is', () => {
    const l = leaksOf(disc, ball(), [], eye);
    expect(shadow).toBeGreaterThan(0.1);
    expect(Math.abs(l.leak - shadow)).toBeLessThan(0.015);
    expect(l.swallowed).toBe(0);
    for (let i = 0; i < l.leaksAt.length; i += 3)
      expect(Math.hypot(l.leaksAt[i], l.leaksAt[i + 1])).toBeLessThan(Math.sqrt(shadow) * DISC + 1e-3);
  });

  test('hidden as the ball hides, nothing leaks and nothing is swallowed', () => {
    expect(leaksOf(disc, ball(), [ball()], eye)).toMatchObject({ leak: 0, swallowed: 0 });
  });

  test('an occluder of half again the size swallows a ring, by the closed form; of what should be seen', () => {
    const grown = leaksOf(disc, ball(), [blocker(new SphereGeometry(1.5 * R, 120, 90), [0, 0, 0])], eye);
    const wide = ((D + BEHIND) * Math.tan(Math.asin((1.5 * R) / D))) ** 2 / DISC ** 2;
    expect(grown.leak).toBe(0);
    expect(Math.abs(grown.swallowed - (wide - shadow) / (1 - shadow))).toBeLessThan(0.02);
  });

  test('an occluder with nobody there swallows its own shadow', () => {
    expect(Math.abs(leaksOf(disc, none(), [ball()], eye).swallowed - shadow)).toBeLessThan(0.015);
  });
});

test('what the part itself hides is neither drawn nor missed: the far half of a ball does not leak', () => {
  const own = partOf(shapeOf(new SphereGeometry(0.05, 48, 32), [0, 0, 0]));
  // a wearer right behind its middle hides the far half alone
  const wall = blocker(new CircleGeometry(1, 32), [0, 0, -0.001]);
  expect(leaksOf(own, wall, [], eye)).toMatchObject({ leak: 0, swallowed: 0 });
});

test('a place that lies on the skin is not hidden by it; what has moved is where it is', () => {
  const flat = partOf(shapeOf(new CircleGeometry(0.05, 24), [0, 0, 0.1]));
  const wall = blocker(new CircleGeometry(1, 32), [0, 0, 0.1002]);
  expect(leaksOf(flat, wall, [], eye).leak).toBe(0);
  wall.move(shapeOf(new CircleGeometry(1, 32), [0, 0, 0.2]).positions);
  expect(leaksOf(flat, wall, [], eye).leak).toBe(1);
});

test('of no surface, and of places that are none, nothing is asked', () => {
  expect(placesOn([])).toBeNull();
  const bad = shapeOf(new CircleGeometry(0.05, 3), [0, 0, 0]);
  bad.positions.fill(Number.NaN);
  expect(placesOn([bad])).toBeNull();
});
