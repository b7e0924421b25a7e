import { Triangle, Vector3 } from 'three';
import { expect, test } from 'vitest';
import { formBase } from '@/core/form/samples';
import { coarseTriangles } from './coarse';
import { type Form, makeForm } from './form';

/** How far some triangles of a form are from a place, metres, and from its colour where they come nearest to it. */
function offBy(form: Form, triangles: Uint32Array, v: number): { metres: number; colour: number } {
  const p = new Vector3().fromArray(form.positions, v * 3);
  const [on, shares] = [new Vector3(), new Vector3()];
  let best = { metres: Number.POSITIVE_INFINITY, colour: 0 };
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [...triangles.subarray(t, t + 3)];
    const [a, b, c] = corners.map((k) => new Vector3().fromArray(form.positions, k * 3));
    const triangle = new Triangle(a, b, c);
    const metres = triangle.closestPointToPoint(p, on).distanceTo(p);
    if (metres >= best.metres || !triangle.getBarycoord(on, shares)) continue;
    const off = [0, 1, 2].map((k) =>
      Math.abs(corners.reduce((sum, q, j) => sum + shares.getComponent(j) * form.colors[q * 3 + k], -form.colors[v * 3 + k])),
    );
    best = { metres, colour: Math.max(...off) };
  }
  return best;
}

test('about a third of the triangles, on the same vertices, near the form of any size and coloured as it is; eyeballs apart', async () => {
  const m = makeForm(formBase(), 'M');
  const coarse = await coarseTriangles(m);
  expect(coarse.indices.length).toBeLessThan(m.indices.length * 0.37);
  expect(coarse.indices.length).toBeGreaterThan(m.indices.length * 0.25);
  expect(coarse.groups.map((g) => g.name)).toEqual(['form', 'eyes']);
  expect(coarse.groups[1].start + coarse.groups[1].count).toBe(coarse.indices.length);
  const eye = m.regions.names.indexOf('eye');
  for (let i = 0; i < coarse.indices.length; i++) expect(m.regions.ids[coarse.indices[i]] === eye).toBe(i >= coarse.groups[1].start);
  const l = makeForm(formBase(), 'L');
  const off = Array.from({ length: 60 }, (_, i) => offBy(l, coarse.indices, i * 97));
  for (const { metres } of off) expect(metres).toBeLessThan(0.0025);
  // without a weight of colours one in ten is off by more
  const colours = off.map((o) => o.colour).sort((a, b) => b - a);
  expect(colours[6]).toBeLessThan(0.03);
});
