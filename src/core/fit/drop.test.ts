import { BoxGeometry, SphereGeometry } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { makeForm } from '../form';
import { formBase } from '../form/samples';
import { askedOf, askingOf, clearanceOf, distancesOf } from './clearance';
import { dropAlong } from './drop';
import { SurfaceField } from './field';

const shapeOf = (g: BoxGeometry | SphereGeometry, at: readonly [number, number, number]) => ({
  positions: Float32Array.from(g.getAttribute('position').array, (x, i) => x + at[i % 3]),
  triangles: Uint32Array.from(g.index?.array ?? []),
});
const moved = (s: ReturnType<typeof shapeOf>, along: readonly number[], way: number) => ({
  ...s,
  positions: s.positions.map((x, i) => x + along[i % 3] * way),
});

describe('on a ball of 0.1 m', () => {
  const g = shapeOf(new SphereGeometry(0.1, 120, 90), [0, 0, 0]);
  const field = new SurfaceField(g.positions, g.triangles);
  const DOWN = [0, -1, 0] as const;

  test('another ball comes down as far as the closed form says, from above and from within', () => {
    for (const [x, y] of [
      [0, 0.3],
      [0.06, 0.25],
      [0.06, 0.05],
    ]) {
      const drop = dropAlong([shapeOf(new SphereGeometry(0.03, 64, 48), [x, y, 0])], field, DOWN, 0.001);
      // centres stand 0.131 apart
      const rests = Math.sqrt(0.131 ** 2 - x ** 2);
      expect(y - (drop?.wayM ?? 0)).toBeCloseTo(rests, 3);
    }
  });

  test('a plate lies on its top at the gap asked, though no corner of it comes near', () => {
    const drop = dropAlong([shapeOf(new BoxGeometry(0.5, 0.01, 0.5), [0, 0.2, 0])], field, DOWN, 0.0005);
    expect(0.2 - (drop?.wayM ?? 0) - 0.005).toBeCloseTo(0.1005, 4);
    expect(Math.hypot(drop?.atM[0] ?? 1, drop?.atM[2] ?? 1)).toBeLessThan(0.02);
  });

  test('what passes by meets nobody', () => {
    expect(dropAlong([shapeOf(new SphereGeometry(0.02, 16, 12), [0.2, 0.3, 0])], field, DOWN, 0)).toBeNull();
    expect(dropAlong([shapeOf(new SphereGeometry(0.02, 16, 12), [0, 0.3, 0])], field, [0, 1, 0], 0)).toBeNull();
    expect(dropAlong([], field, DOWN, 0)).toBeNull();
  });
});

describe('on a head', () => {
  let field: SurfaceField;
  beforeAll(() => {
    const form = makeForm(formBase(), 'M');
    const end = form.groups.find((g) => g.name === 'eyes')?.start ?? form.indices.length;
    field = new SurfaceField(form.positions.slice(), form.indices.slice(0, end));
  });
  test.each([
    ['a cap, from above', [0, 0.3, 0], [0, -1, 0]],
    ['a nose piece, from before', [0, -0.02, 0.3], [0, 0, -1]],
    ['a stud, from the left', [0.25, 0, 0.01], [-1, 0, 0]],
    ['what lies in the head is drawn out again', [0, 0.02, 0], [0, -1, 0]],
  ] as const)('%s: it touches at the gap and cuts nowhere', (_, at, along) => {
    const shape = shapeOf(new SphereGeometry(0.02, 48, 32), at);
    const drop = dropAlong([shape], field, along, 0.0005);
    const there = moved(shape, along, drop?.wayM ?? 0);
    const asked = askedOf([there]);
    const asking = askingOf(asked, field);
    const distances = (p: Float32Array) => distancesOf(p, field, asking).distances;
    const c = clearanceOf(asked, { corners: asked.corners.map(distances), between: distances(asked.between) });
    expect(c?.deepestMm).toBeCloseTo(-0.5, 1);
    expect(c?.cutShare).toBe(0);
  });
});
