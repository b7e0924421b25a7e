import { Triangle, Vector3 } from 'three';
import { expect, test } from 'vitest';
import { formBase } from '@/core/form/samples';
import { coarseTriangles } from './coarse';
import { type Form, makeForm } from './form';

/** How far a place is from a form's surface as some triangles have it, metres. */
function offBy(form: Form, triangles: Uint32Array, p: Vector3): number {
  let least = Number.POSITIVE_INFINITY;
  const on = new Vector3();
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => new Vector3().fromArray(form.positions, triangles[t + k] * 3));
    least = Math.min(least, new Triangle(a, b, c).closestPointToPoint(p, on).distanceTo(p));
  }
  return least;
}

test('a quarter of the triangles, on the same vertices, near the form of any size; eyeballs apart', async () => {
  const m = makeForm(formBase(), 'M');
  const coarse = await coarseTriangles(m);
  expect(coarse.indices.length).toBeLessThan(m.indices.length * 0.35);
  expect(coarse.indices.length).toBeGreaterThan(m.indices.length * 0.15);
  expect(coarse.groups.map((g) => g.name)).toEqual(['form', 'eyes']);
  expect(coarse.groups[1].start + coarse.groups[1].count).toBe(coarse.indices.length);
  const eye = m.regions.names.indexOf('eye');
  for (let i = 0; i < coarse.indices.length; i++) expect(m.regions.ids[coarse.indices[i]] === eye).toBe(i >= coarse.groups[1].start);
  const l = makeForm(formBase(), 'L');
  for (let v = 0; v < 5000; v += 131) {
    const p = new Vector3().fromArray(l.positions, v * 3);
    expect(offBy(l, coarse.indices, p)).toBeLessThan(0.0012);
  }
});
