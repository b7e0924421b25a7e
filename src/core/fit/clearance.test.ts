import fc from 'fast-check';
import { BoxGeometry, BufferAttribute, BufferGeometry, DoubleSide, Ray, SphereGeometry, TorusGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, test } from 'vitest';
import { makeForm } from '../form';
import { formBase } from '../form/samples';
import { seededRandom } from '../math';
import { type Asked, askedOf, askingOf, BEYOND_M, type ClearanceShape, clearanceOf, distancesOf, TOUCH_M } from './clearance';
import { REACH_M, SurfaceField } from './field';

type Geometry = BoxGeometry | SphereGeometry | TorusGeometry;
const shapeOf = (g: Geometry, at: readonly [number, number, number] = [0, 0, 0]) => {
  const p = (g.getAttribute('position') as BufferAttribute).array as Float32Array;
  return { positions: Float32Array.from(p, (x, i) => x + at[i % 3]), triangles: Uint32Array.from(g.index?.array ?? []) };
};
const fieldOf = (g: Geometry) => {
  const { positions, triangles } = shapeOf(g);
  return new SurfaceField(positions, triangles);
};
const measure = (g: Geometry, at: readonly [number, number, number], field: SurfaceField) => {
  return clearanceIn([shapeOf(g, at)], field) as NonNullable<ReturnType<typeof clearanceOf>>;
};
function clearanceIn(shapes: readonly ClearanceShape[], field: SurfaceField) {
  const asked = askedOf(shapes);
  return clearanceOf(asked, toldIn(asked, field));
}
function toldIn(asked: Asked, field: SurfaceField) {
  const asking = askingOf(asked, field);
  const distances = (p: Float32Array) => distancesOf(p, field, asking).distances;
  return { corners: asked.corners.map(distances), between: distances(asked.between) };
}
/** Every place asked for itself. */
function eachIn(asked: Asked, field: SurfaceField) {
  const distances = (p: Float32Array) =>
    Float32Array.from({ length: p.length / 3 }, (_, v) => field.distance(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]));
  return { corners: asked.corners.map(distances), between: distances(asked.between) };
}

describe('the distance to a surface', () => {
  const near = fc.double({ min: -0.12, max: 0.12, noNaN: true });
  test('of a box is that of the closed form, sides, edges and corners', () => {
    const half = [0.04, 0.03, 0.05];
    const box = fieldOf(new BoxGeometry(0.08, 0.06, 0.1));
    fc.assert(
      fc.property(near, near, near, (x, y, z) => {
        const q = [x, y, z].map((v, k) => Math.abs(v) - half[k]);
        const want = Math.hypot(...q.map((v) => Math.max(v, 0))) + Math.min(Math.max(...q), 0);
        // on the surface itself there is no side
        if (Math.abs(want) < 1e-6) return;
        expect(box.distance(x, y, z)).toBeCloseTo(Math.min(want, REACH_M), 6);
      }),
      { numRuns: 400 },
    );
  });

  test('of a ball and of a ring are within what their flat faces leave of the closed forms', () => {
    const ball = fieldOf(new SphereGeometry(0.05, 96, 64));
    const ring = fieldOf(new TorusGeometry(0.06, 0.02, 48, 128));
    fc.assert(
      fc.property(near, near, near, (x, y, z) => {
        const r = Math.hypot(x, y, z);
        expect(Math.abs(ball.distance(x, y, z) - Math.min(r - 0.05, REACH_M))).toBeLessThan(1.2e-4);
        const torus = Math.hypot(Math.hypot(x, y) - 0.06, z) - 0.02;
        if (torus < REACH_M) expect(Math.abs(ring.distance(x, y, z) - torus)).toBeLessThan(2e-4);
      }),
      { numRuns: 200 },
    );
  });

  test('of the head is that of every triangle tried, and its side that of how often a way out leads through the surface', () => {
    const form = makeForm(formBase(), 'M');
    // eyeballs lie in open lids: what is near them has two sides
    const end = form.groups.find((g) => g.name === 'eyes')?.start ?? form.indices.length;
    const indices = form.indices.slice(0, end);
    const field = new SurfaceField(form.positions.slice(), indices);
    const random = seededRandom(7);
    const tri = { a: new Vector3(), b: new Vector3(), c: new Vector3() };
    const [p, q] = [new Vector3(), new Vector3()];
    const whole = new BufferGeometry().setAttribute('position', new BufferAttribute(form.positions, 3));
    const tree = new MeshBVH(whole.setIndex(new BufferAttribute(indices.slice(), 1)));
    let sided = 0;
    for (let n = 0; n < 60; n++) {
      const v = Math.floor(random() * (form.positions.length / 3));
      p.fromArray(form.positions, v * 3).add(q.set(random() - 0.5, random() - 0.5, random() - 0.5).multiplyScalar(0.04));
      let least = Infinity;
      for (let t = 0; t < indices.length; t += 3) {
        for (const [k, name] of (['a', 'b', 'c'] as const).entries()) tri[name].fromArray(form.positions, indices[t + k] * 3);
        least = Math.min(least, nearestOnTriangle(p, tri.a, tri.b, tri.c).distanceTo(p));
      }
      const d = field.distance(p.x, p.y, p.z);
      expect(Math.abs(Math.abs(d) - least)).toBeLessThan(1e-6);
      // away from the lids, which are open behind
      if (p.y > 0.02 || p.z < 0.02) {
        const up = new Vector3(random() - 0.5, 1, random() - 0.5).normalize();
        expect(d < 0, `${p.toArray()}`).toBe(tree.raycast(new Ray(p, up), DoubleSide).length % 2 === 1);
        sided++;
      }
    }
    expect(sided).toBeGreaterThan(25);
  });

  test('what has moved is asked where it is', () => {
    const g = new BoxGeometry(0.1, 0.1, 0.1);
    const field = fieldOf(g);
    field.move(Float32Array.from(shapeOf(g).positions, (x, i) => x + (i % 3 === 0 ? 0.05 : 0)));
    expect(field.distance(-0.02, 0, 0)).toBeCloseTo(0.02, 6);
    expect(field.distance(0.05, 0, 0)).toBeCloseTo(-0.05, 6);
  });
});

/** Ericson, Real-Time Collision Detection, 5.1.5, from memory. */
function nearestOnTriangle(p: Vector3, a: Vector3, b: Vector3, c: Vector3): Vector3 {
  const [ab, ac, ap] = [b.clone().sub(a), c.clone().sub(a), p.clone().sub(a)];
  const [d1, d2] = [ab.dot(ap), ac.dot(ap)];
  if (d1 <= 0 && d2 <= 0) return a.clone();
  const bp = p.clone().sub(b);
  const [d3, d4] = [ab.dot(bp), ac.dot(bp)];
  if (d3 >= 0 && d4 <= d3) return b.clone();
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return a.clone().addScaledVector(ab, d1 / (d1 - d3));
  const cp = p.clone().sub(c);
  const [d5, d6] = [ab.dot(cp), ac.dot(cp)];
  if (d6 >= 0 && d5 <= d6) return c.clone();
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return a.clone().addScaledVector(ac, d2 / (d2 - d6));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b.clone().lerp(c, (d4 - d3) / (d4 - d3 + (d5 - d6)));
  const w = va + vb + vc;
  return a
    .clone()
    .addScaledVector(ab, vb / w)
    .addScaledVector(ac, vc / w);
}

describe('clearance', () => {
  const ball = fieldOf(new SphereGeometry(0.1, 128, 96));

  test('a ball that dips into another: depth, place and share of the cap by the closed form', () => {
    // centres 0.115 m apart, radii 0.1 and 0.02: 5 mm deep; the cap below the skin by the cut of two spheres
    const d = 0.115;
    const h = 0.02 - (d * d - 0.1 * 0.1 + 0.02 * 0.02) / (2 * d);
    const c = measure(new SphereGeometry(0.02, 96, 64), [d, 0, 0], ball);
    expect(c.deepestMm).toBeCloseTo(5, 1);
    expect(c.atM[0]).toBeCloseTo(0.095, 3);
    expect(Math.hypot(c.atM[1], c.atM[2])).toBeLessThan(0.002);
    // of a sphere's surface a cap has h / 2r
    expect(c.cutShare).toBeCloseTo(h / (2 * 0.02), 2);
  });

  test('one that hovers cuts nothing, and says how near it comes', () => {
    const c = measure(new SphereGeometry(0.02, 48, 32), [0.13, 0, 0], ball);
    expect(c).toMatchObject({ cutShare: 0, meanGapMm: null, touchShare: 0 });
    expect(c.deepestMm).toBeCloseTo(-10, 1);
  });

  test('a shell one millimetre off lies on the skin all over; one as far in cuts all over', () => {
    const out = measure(new SphereGeometry(0.101, 160, 120), [0, 0, 0], ball);
    expect(out.touchShare).toBeCloseTo(1, 6);
    expect(out.meanGapMm).toBeCloseTo(1, 1);
    expect(out.cutShare).toBe(0);
    const within = measure(new SphereGeometry(0.0985, 64, 48), [0, 0, 0], ball);
    expect(within.cutShare).toBeCloseTo(1, 6);
    expect(TOUCH_M).toBe(0.002);
  });

  test('large triangles are asked about between their corners: a plate through a ball, both sides of it', () => {
    // corners lie far outside; a slab through the middle cuts a disc of the ball's breadth on each of its two sides
    const plate = measure(new BoxGeometry(0.4, 0.001, 0.4), [0, 0, 0], ball);
    expect(plate.deepestMm).toBeGreaterThan(95);
    const all = 2 * (0.4 * 0.4 + 2 * 0.4 * 0.001);
    expect(plate.cutShare).toBeCloseTo((2 * Math.PI * 0.1 * 0.1) / all, 2);
  });

  test('what is far is not asked about, and nothing that is told changes by that', () => {
    const form = makeForm(formBase(), 'M');
    const field = new SurfaceField(form.positions.slice(), form.indices.slice(0, form.groups.find((g) => g.name === 'eyes')?.start));
    const random = seededRandom(11);
    let [left, all] = [0, 0];
    for (let n = 0; n < 4; n++) {
      // shells, rings and rods round the head, off by centimetres or through it
      const g = [new SphereGeometry(0.06 + random() * 0.12, 24, 18), new TorusGeometry(0.05 + random() * 0.08, 0.008, 8, 60)][n % 2];
      const asked = askedOf([shapeOf(g, [0, 1, 2].map(() => (random() - 0.5) * 0.1) as [number, number, number])]);
      const [told, each] = [toldIn(asked, field), eachIn(asked, field)];
      expect(clearanceOf(asked, told)).toEqual(clearanceOf(asked, each));
      for (const [mine, theirs] of [
        [told.corners[0], each.corners[0]],
        [told.between, each.between],
      ])
        mine.forEach((d, v) => {
          all++;
          if (Number.isNaN(d) || Math.abs(d - theirs[v]) < 1e-5) return;
          left++;
          expect(d).toBeGreaterThan(BEYOND_M);
          expect(d).toBeLessThan(theirs[v]);
        });
    }
    expect(left / all).toBeGreaterThan(0.3);
  });

  test('what is no place, and what has no surface, is left out or told', () => {
    const shape = shapeOf(new BoxGeometry(0.01, 0.01, 0.01), [0.2, 0, 0]);
    const bad = { positions: Float32Array.from(shape.positions), triangles: shape.triangles };
    bad.positions[0] = Number.NaN;
    expect(clearanceIn([bad], ball)?.cutShare).toBe(0);
    expect(clearanceIn([{ positions: new Float32Array(9), triangles: [0, 1, 2] }], ball)).toBeNull();
    expect(clearanceIn([], ball)).toBeNull();
  });
});
