import { expect, describe as group, it } from 'vitest';
import { bentTube } from '../../../e2e/support/preparing';
import { readGltf } from '../intake';
import { boxGlb } from '../intake/samples';
import type { SimplifySettings } from '../piece/recipe';
import { directedDistance, farthest, sampleShape, surfaceOf } from './measure/distance';
import { readShape } from './measure/shape';
import { addSurface, blob, plane, sphere, surfaceDocument } from './samples';
import { runSimplify } from './simplify';

const settings = { ratio: null, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] };
const count = (d: Parameters<typeof readShape>[0]) => readShape(d).triangles.length / 3;
const meanMm = (document: Parameters<typeof readShape>[0], before: ReturnType<typeof readShape>) => {
  const after = readShape(document);
  const there = directedDistance(sampleShape(before, 6_000, 1), surfaceOf(after)).meanM;
  return (1000 * (there + directedDistance(sampleShape(after, 6_000, 2), surfaceOf(before)).meanM)) / 2;
};

group('simplify', () => {
  it('a plane of 800 triangles is a handful without any error (Garland and Heckbert 1997: planes cost nothing)', async () => {
    const d = surfaceDocument('plane', plane(0.2), 20, 20);
    const before = readShape(d);
    await runSimplify(d, { ...settings, errorMm: 0.05 });
    expect(count(d)).toBeLessThan(8);
    expect(meanMm(d, before)).toBeLessThan(1e-4);
  });
  it('a cube keeps its twelve triangles and its corners', async () => {
    const { document } = await readGltf(await boxGlb([0.05, 0.05, 0.05]), {});
    await runSimplify(document, { ...settings, errorMm: 0.01 });
    expect(count(document)).toBe(12);
    expect(Math.max(...readShape(document).positions.map(Math.abs))).toBeCloseTo(0.05, 6);
  });
  it('of a ball, four times the triangles have about a quarter of the error (order 1/n: Gruber, Aspects of approximation of convex bodies, 1993)', async () => {
    const source = () => surfaceDocument('ball', sphere(0.1), 160, 80);
    const before = readShape(source());
    const errors: number[] = [];
    for (const ratio of [0.02, 0.08, 0.32]) {
      const d = source();
      await runSimplify(d, { ...settings, ratio });
      errors.push(meanMm(d, before) * count(d));
    }
    // error times triangles stays about the same
    for (const e of errors) expect(Math.abs(Math.log2(e / errors[0]))).toBeLessThan(1);
  });
  it('fitting to the original halves what a choice among its vertices leaves, and leaves no bias', async () => {
    const source = () => surfaceDocument('ball', sphere(0.1), 120, 60);
    const before = readShape(source());
    const volume = ({ positions: p, triangles: t }: ReturnType<typeof readShape>) => {
      let sum = 0;
      for (let i = 0; i < t.length; i += 3) {
        const [a, b, c] = [t[i] * 3, t[i + 1] * 3, t[i + 2] * 3];
        sum +=
          p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
          p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
          p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
      }
      return sum / 6;
    };
    const [plain, fitted] = [source(), source()];
    await runSimplify(plain, { ...settings, ratio: 0.03, refit: false });
    await runSimplify(fitted, { ...settings, ratio: 0.03 });
    expect(count(fitted)).toBe(count(plain));
    expect(meanMm(fitted, before)).toBeLessThan(meanMm(plain, before));
    expect(Math.abs(volume(readShape(fitted)) / volume(before) - 1)).toBeLessThan(0.004);
  });
  it('where two shapes of a mesh meet no gap opens', async () => {
    const d = surfaceDocument('left', (u, v) => [(u - 1) * 0.1, 0.02 * Math.sin(9 * (u - 1)) * Math.sin(8 * v), 0.1 * v], 30, 30);
    addSurface(d, 'right', (u, v) => [u * 0.1, 0.02 * Math.sin(9 * u) * Math.sin(8 * v), 0.1 * v], 30, 30);
    const [one, two] = d.getRoot().listMeshes();
    for (const p of two.listPrimitives()) {
      two.removePrimitive(p);
      one.addPrimitive(p);
    }
    await runSimplify(d, { ...settings, ratio: 0.1 });
    const s = readShape(d);
    const edge = (from: number, to: number) =>
      new Set(
        [...s.triangles.subarray(from, to)]
          .filter((v) => Math.abs(s.positions[v * 3]) < 1e-7)
          .map((v) => s.positions[v * 3 + 2].toFixed(6)),
      );
    const first = one.listPrimitives()[0].getIndices()?.getCount() as number;
    expect([...edge(0, first)].sort()).toEqual([...edge(first, s.triangles.length)].sort());
    expect(edge(0, first).size).toBe(31);
  });
  it('a mesh with a number of its own gets it, the others what the ratio says; every mesh keeps triangles', async () => {
    const d = surfaceDocument('one', sphere(0.05), 40, 20);
    addSurface(d, 'two', sphere(0.05), 40, 20, null, [0.2, 0, 0]);
    addSurface(d, 'tiny', sphere(0.001), 8, 4, null, [0.4, 0, 0]);
    await runSimplify(d, { ...settings, ratio: 0.25, meshes: [{ mesh: 'two', triangles: 900 }] });
    const of = (name: string) =>
      (d
        .getRoot()
        .listMeshes()
        .find((m) => m.getName() === name)
        ?.listPrimitives()[0]
        .getIndices()
        ?.getCount() as number) / 3;
    expect(Math.abs(of('one') - 380)).toBeLessThan(10);
    expect(Math.abs(of('two') - 900)).toBeLessThan(10);
    await runSimplify(d, { ...settings, errorMm: 1000 });
    for (const name of ['one', 'two', 'tiny']) expect(of(name)).toBeGreaterThan(0);
  });
  it('a dab of kept detail holds triangles where it lies', async () => {
    const near = async (detail: { atM: [number, number, number]; radiusM: number; weight: number }[]) => {
      const d = surfaceDocument('blob', blob(0.1), 120, 60);
      await runSimplify(d, { ...settings, ratio: 0.1, refit: false, detail });
      const s = readShape(d);
      let n = 0;
      for (const v of s.triangles) if (Math.hypot(s.positions[v * 3] - 0.1, s.positions[v * 3 + 1], s.positions[v * 3 + 2]) < 0.04) n++;
      return n / 3;
    };
    expect(await near([{ atM: [0.1, 0, 0], radiusM: 0.05, weight: 5 }])).toBeGreaterThan((await near([])) * 1.3);
  });
  it('a mesh that was chosen keeps more: so many times the share, or so many times less error', async () => {
    const both = async (change: Partial<SimplifySettings>) => {
      const document = surfaceDocument('fine', blob(0.1), 60, 30);
      addSurface(document, 'coarse', blob(0.1), 60, 30, null, [0.3, 0, 0]);
      await runSimplify(document, { ...settings, ...change });
      return document
        .getRoot()
        .listMeshes()
        .map((m) => (m.listPrimitives()[0].getIndices()?.getCount() ?? 0) / 3);
    };
    const [kept, other] = await both({ ratio: 0.2, keep: [{ mesh: 'fine', weight: 3 }] });
    expect(kept / other).toBeGreaterThan(2.8);
    expect(kept / other).toBeLessThan(3.2);
    const all = await both({ ratio: 0.5, keep: [{ mesh: 'fine', weight: 4 }] });
    expect(all[0]).toBeGreaterThan(all[1] * 1.9);
    const [near, far] = await both({ ratio: null, errorMm: 1, keep: [{ mesh: 'fine', weight: 4 }] });
    expect(near).toBeGreaterThan(far * 1.5);
  });
  it('one triangle stays one', async () => {
    const d = surfaceDocument('plane', plane(0.2), 1, 1);
    d.getRoot()
      .listMeshes()[0]
      .listPrimitives()[0]
      .setIndices(d.createAccessor().setArray(new Uint16Array([0, 1, 3])));
    await runSimplify(d, { ...settings, ratio: 0.01 });
    expect(count(d)).toBe(1);
  });
  it('what its clips bend is kept where it bends: half the error in the pose of what does not know its clips', async () => {
    /** Greatest distance from the vertices of the bent original to what was simplified and bent alike, mm. */
    const gap = async (knowsClips: boolean) => {
      const [source, simple] = [bentTube(), bentTube()];
      if (!knowsClips) for (const a of simple.getRoot().listAnimations()) a.dispose();
      await runSimplify(simple, { ...settings, ratio: 0.3 });
      const bent = [source, simple].map((d) => {
        for (const j of d.getRoot().listSkins()[0].listJoints()) j.setRotation([0, 0, Math.sin(0.15), Math.cos(0.15)]);
        for (const a of d.getRoot().listAnimations()) a.dispose();
        return readShape(d);
      });
      return { mm: farthest(bent[0].positions, surfaceOf(bent[1])) * 1000, triangles: bent[1].triangles.length / 3 };
    };
    const [knows, guesses] = [await gap(true), await gap(false)];
    expect(Math.abs(knows.triangles / guesses.triangles - 1)).toBeLessThan(0.02);
    expect(knows.mm).toBeLessThan(guesses.mm / 2);
  });
});
