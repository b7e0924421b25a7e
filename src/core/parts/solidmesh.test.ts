import { describe, expect, test } from 'vitest';
import { boxOf } from '../math/box';
import type { SolidShape } from './solid';
import { OPEN_FACES, SOLID_FACES, SOLID_FORMS, type SolidFace } from './solidforms';
import { type SolidMesh, solidMesh } from './solidmesh';

const shape = (change: Partial<SolidShape>): SolidShape => ({
  form: 'box',
  sizeMm: [40, 60, 20],
  roundMm: 0,
  wallMm: 8,
  open: [],
  ...change,
});

/** Volume by the divergence theorem: a sixth of the sum of the triangles' triple products, mm³. */
function volume({ positions: p, indices }: SolidMesh): number {
  let six = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((e) => p[indices[i + k] * 3 + e] * 1000));
    six += a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
  }
  return six / 6;
}

describe('solidMesh', () => {
  test.each(SOLID_FORMS)('%s fills its box, and its normals point where its triangles face', (form) => {
    const mesh = solidMesh(shape({ form }));
    const box = boxOf(mesh.positions);
    const flat = form === 'plane' || form === 'disc';
    const want = [20, 30, flat ? 0 : 10];
    for (const k of [0, 1, 2]) {
      expect(box[k] * 1000).toBeCloseTo(-want[k], 3);
      expect(box[3 + k] * 1000).toBeCloseTo(want[k], 3);
    }
    const { positions: p, normals: n, indices } = mesh;
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => indices[i + k] * 3);
      const u = [0, 1, 2].map((e) => p[b + e] - p[a + e]);
      const v = [0, 1, 2].map((e) => p[c + e] - p[a + e]);
      const cross = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      const mean = [0, 1, 2].map((e) => n[a + e] + n[b + e] + n[c + e]);
      expect(cross[0] * mean[0] + cross[1] * mean[1] + cross[2] * mean[2]).toBeGreaterThan(0);
    }
  });

  test.each([0, 4])('the UVs of a box with edges of %i mm lie along each face, from 0 to 1 over its whole breadth', (roundMm) => {
    const { positions: p, normals: n, uvs } = solidMesh(shape({ roundMm }));
    const half = [20, 30, 10];
    let seen = 0;
    for (let i = 0; i < p.length / 3; i++) {
      const axis = [0, 1, 2].find((k) => Math.abs(n[i * 3 + k]) > 0.999999);
      // edges that are round lie on no face
      if (axis === undefined) continue;
      for (const [at, k] of [(axis + 1) % 3, (axis + 2) % 3].entries()) {
        const along = (p[i * 3 + k] * 1000) / half[k];
        expect(uvs[i * 2 + at]).toBeCloseTo((along + 1) / 2, 5);
        seen++;
      }
    }
    // four corners on six faces, at the least
    expect(seen).toBeGreaterThanOrEqual(48);
    expect(Math.min(...uvs)).toBeCloseTo(0, 5);
    expect(Math.max(...uvs)).toBeCloseTo(1, 5);
  });

  test.each(SOLID_FORMS)('what of a %s can be left open is so: fewer triangles with each, and only with those', (form) => {
    const count = (open: readonly SolidFace[]) => solidMesh(shape({ form, open: [...open] })).indices.length;
    for (const face of SOLID_FACES) {
      if (OPEN_FACES[form].includes(face)) expect(count([face])).toBeLessThan(count([]));
      else expect(count([face])).toBe(count([]));
    }
  });

  // volumes in closed form; what is round is a polygon of 48 sides: up to 0.5 % less
  test.each<[Partial<SolidShape>, number]>([
    [{ form: 'box' }, 40 * 60 * 20],
    [{ form: 'cylinder' }, Math.PI * 20 * 10 * 60],
    [{ form: 'cone' }, (Math.PI * 20 * 10 * 60) / 3],
    [{ form: 'sphere' }, (4 / 3) * Math.PI * 20 * 30 * 10],
    [{ form: 'capsule', sizeMm: [40, 100, 40] }, Math.PI * 400 * 60 + (4 / 3) * Math.PI * 8000],
    [{ form: 'ring', sizeMm: [100, 10, 100], wallMm: 10 }, 2 * Math.PI ** 2 * 45 * 25],
    [{ form: 'tube', sizeMm: [40, 60, 40], wallMm: 5 }, Math.PI * (400 - 225) * 60],
    // rounded: the area of the cut, once round its middle (Pappus and Guldin)
    [{ form: 'tube', sizeMm: [40, 60, 40], wallMm: 8, roundMm: 3 }, 2 * Math.PI * 16 * (8 * 60 - (4 - Math.PI) * 9)],
    // its corners lie where a quarter of a circle has its middle of area
    [
      { form: 'cylinder', sizeMm: [40, 60, 40], roundMm: 6 },
      Math.PI * 400 * 60 - 2 * 2 * Math.PI * (36 * 17 - 9 * Math.PI * (14 + 8 / Math.PI)),
    ],
    // a box with rounded edges: inner box, six slabs, twelve quarter cylinders, eight eighths of a ball
    [
      { form: 'box', roundMm: 5 },
      30 * 50 * 10 + 2 * 5 * (30 * 50 + 50 * 10 + 30 * 10) + Math.PI * 25 * (30 + 50 + 10) + (4 / 3) * Math.PI * 125,
    ],
  ])('%o has the volume of its formula', (change, mm3) => {
    const got = volume(solidMesh(shape(change)));
    expect(got).toBeGreaterThan(mm3 * 0.985);
    expect(got).toBeLessThan(mm3 * 1.0005);
  });

  test('every normal is of length one', () => {
    for (const form of SOLID_FORMS)
      for (const roundMm of [0, 3]) {
        const { normals: n } = solidMesh(shape({ form, roundMm }));
        for (let i = 0; i < n.length; i += 3) expect(Math.hypot(n[i], n[i + 1], n[i + 2]), form).toBeCloseTo(1, 6);
      }
  });

  test('a plane is a rectangle of two triangles, a disc an ellipse', () => {
    const area = ({ positions: p, indices }: SolidMesh) => {
      let twice = 0;
      for (let i = 0; i < indices.length; i += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => indices[i + k] * 3);
        twice += (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]);
      }
      return (twice / 2) * 1e6;
    };
    expect(area(solidMesh(shape({ form: 'plane' })))).toBeCloseTo(40 * 60, 2);
    expect(solidMesh(shape({ form: 'plane' })).indices).toHaveLength(6);
    expect(area(solidMesh(shape({ form: 'disc' }))) / (Math.PI * 20 * 30)).toBeCloseTo((24 / Math.PI) * Math.sin(Math.PI / 24), 6);
  });

  test('what is not rounded has no triangles for it', () => {
    expect(solidMesh(shape({ form: 'cylinder' })).indices).toHaveLength(48 * (3 + 6 + 3));
    expect(solidMesh(shape({ form: 'tube' })).indices).toHaveLength(48 * 6 * 4);
    expect(solidMesh(shape({ form: 'box' })).indices).toHaveLength(36);
    expect(solidMesh(shape({ form: 'cylinder' })).positions).toHaveLength(49 * 6 * 3);
    expect(solidMesh(shape({ form: 'tube' })).positions).toHaveLength(49 * 8 * 3);
  });

  test('an open face is left out, a rounding larger than the shape is held to it', () => {
    expect(solidMesh(shape({ open: ['top'] })).indices.length).toBe(30);
    expect(solidMesh(shape({ form: 'cylinder', open: ['top', 'bottom'] })).indices.length).toBe(48 * 6);
    const round = solidMesh(shape({ sizeMm: [20, 20, 20], roundMm: 500 }));
    for (let i = 0; i < round.positions.length; i += 3) expect(Math.hypot(...round.positions.slice(i, i + 3)) * 1000).toBeCloseTo(10, 3);
  });
});

describe('normals', () => {
  const rows = (a: Float32Array) => Array.from({ length: a.length / 3 }, (_, i) => [...a.subarray(i * 3, i * 3 + 3)]);
  /** By the gradient of an ellipsoid's equation, (x/a², y/b², z/c²). */
  test('of an ellipsoid are those of its equation, pole and equator alike', () => {
    const mesh = solidMesh(shape({ form: 'sphere' }));
    rows(mesh.positions).forEach((p, i) => {
      const g = [p[0] / 0.02 ** 2, p[1] / 0.03 ** 2, p[2] / 0.01 ** 2];
      const l = Math.hypot(...g);
      rows(mesh.normals)[i].forEach((n, k) => {
        expect(n).toBeCloseTo(g[k] / l, 4);
      });
    });
  });
  test('of a box are its six axes, and of a rounded one lead from the box within', () => {
    const flat = solidMesh(shape({}));
    const of = new Set(rows(flat.normals).map((n) => n.map((x) => x + 0).join()));
    expect(of).toEqual(new Set(['1,0,0', '-1,0,0', '0,1,0', '0,-1,0', '0,0,1', '0,0,-1']));
    rows(flat.positions).forEach((p, i) => {
      const n = rows(flat.normals)[i];
      const k = n.findIndex((x) => x !== 0);
      expect(p[k] * 1000).toBeCloseTo(n[k] * [20, 30, 10][k], 4);
    });
    const round = solidMesh(shape({ roundMm: 4 }));
    rows(round.positions).forEach((p, i) => {
      const inner = p.map((x, k) => Math.max(-([20, 30, 10][k] - 4), Math.min([20, 30, 10][k] - 4, x * 1000)));
      rows(round.normals)[i].forEach((n, k) => {
        expect(inner[k] + 4 * n).toBeCloseTo(p[k] * 1000, 3);
      });
    });
  });
  test('every corner of a triangle looks to the side the triangle faces, in every form', () => {
    for (const form of SOLID_FORMS)
      for (const roundMm of [0, 3]) {
        const { positions, normals, indices } = solidMesh(shape({ form, roundMm }));
        const [p, n] = [rows(positions), rows(normals)];
        for (let i = 0; i < indices.length; i += 3) {
          const [a, b, c] = [0, 1, 2].map((k) => p[indices[i + k]]);
          const [u, v] = [b.map((x, k) => x - a[k]), c.map((x, k) => x - a[k])];
          const cross = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
          const l = Math.hypot(...cross);
          if (l < 1e-12) continue;
          for (const k of [0, 1, 2]) {
            const m = n[indices[i + k]];
            expect((cross[0] * m[0] + cross[1] * m[1] + cross[2] * m[2]) / l, `${form}, rounded by ${roundMm}`).toBeGreaterThan(0.4);
          }
        }
      }
  });
  test('half a ring stands on its feet: as long as half its circle (Pappus), closed, feet level and facing down', () => {
    const mesh = solidMesh(shape({ form: 'arch', sizeMm: [100, 50, 12], wallMm: 10 }));
    // a foot’s picture is the disc in the square: its middle in the middle, its rim on the circle
    const soles = [...rows(mesh.normals).keys()].filter((i) => mesh.normals[i * 3 + 1] < -0.999 && mesh.positions[i * 3 + 1] < 0);
    const off = soles.map((i) => [mesh.uvs[i * 2] - 0.5, mesh.uvs[i * 2 + 1] - 0.5, mesh.positions[i * 3 + 2] * 1000] as const);
    const rim = off.filter(([u, v]) => Math.hypot(u, v) > 1e-6);
    expect([soles.length, rim.length]).toEqual([36, 34]);
    for (const [u, v, z] of rim) {
      expect(Math.hypot(u, v)).toBeCloseTo(0.5, 5);
      expect(z).toBeCloseTo(v * 12, 4);
    }
    // an ellipse of 10 by 12 led along half a circle of 45 mm
    expect(volume(mesh) / (Math.PI * 45 * Math.PI * 5 * 6)).toBeGreaterThan(0.96);
    expect(volume(mesh) / (Math.PI * 45 * Math.PI * 5 * 6)).toBeLessThan(1.0005);
    const feet = rows(mesh.positions).flatMap((p, i) => (rows(mesh.normals)[i][1] < -0.999 && p[1] < 0 ? [p] : []));
    expect(feet.length).toBe(2 * 18);
    for (const f of feet) {
      expect(f[1] * 1000).toBeCloseTo(-25, 4);
      expect(Math.abs(Math.abs(f[0] * 1000) - 45)).toBeLessThanOrEqual(5.001);
    }
  });
});
