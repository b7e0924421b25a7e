/** The budget solver, on models whose surface is known. */
import { expect, describe as group, it, vi } from 'vitest';
import { bentTube, errorsOf, painted, run, search, tools } from '../../../../e2e/support/preparing';
import { inTurn, SEED, WHOLE } from '../../../../e2e/support/sweep';
import { brokenLimits, unmetWords } from '../limits';
import { makeReference } from '../measure/error';
import { readShape, shapeBox } from '../measure/shape';
import { addSurface, blob, rippledTorus, sphere, surfaceDocument } from '../samples';
import { NO_LIMITS } from '../terms';
import { solve } from './solve';

vi.setConfig({ testTimeout: 240_000 });

/** A search takes ten seconds: every commit makes half of these, a sweep all. */
const half = (which: 0 | 1) => it.runIf(WHOLE || SEED % 2 === which);

group('the budget solver', () => {
  it('meets a limit, tells a front nothing on it beats, and its recipe gives the bytes and the error it told', async () => {
    const document = await painted(20, 64, 0.012);
    const s = await search(document, { bytes: 4_000, textureEdge: 32 });
    expect(s.met).toBe(true);
    for (let i = 1; i < s.front.length; i++) {
      expect(s.front[i].bytes).toBeGreaterThan(s.front[i - 1].bytes);
      if (i !== s.chosen) expect(s.front[i].e).toBeLessThan(Math.max(...s.front.slice(0, i).map((p) => p.e)));
    }
    const point = s.front[s.chosen];
    expect(point.bytes).toBeLessThanOrEqual(4_000);
    const made = await run(document, point.steps);
    expect(made.packed.byteLength).toBeLessThanOrEqual(4_000);
    expect(Math.abs(made.packed.byteLength / point.bytes - 1)).toBeLessThan(0.02);
    expect(made.e).toBeCloseTo(point.e, 3);
    expect(made.after.textureEdge).toBeLessThanOrEqual(32);
    expect(await errorsOf(made.packed)).toEqual([]);
    // what is not over the limit by much is not far from what could be had with all of it
    const dearer = s.front.filter((p) => p.bytes > 4_000).at(0);
    if (dearer) expect(dearer.e).toBeLessThanOrEqual(point.e);
  });
  half(0)('finds the same again', async () => {
    const source = () => surfaceDocument('torus', rippledTorus(0.012, 0.004, 5), 8, 5);
    expect(await search(source(), { bytes: 1_000 })).toEqual(await search(source(), { bytes: 1_000 }));
  });
  // long even on a small shape: one commit in ten, and every sweep
  it.runIf(WHOLE || SEED % 10 === 0)(
    'a brute-force grid over triangles and bits finds no point that beats a point of the front in E by more than 3 % for no more bytes',
    async () => {
      const [across, down] = WHOLE ? [48, 24] : [20, 10];
      const source = () => surfaceDocument('torus', rippledTorus(0.06, 0.02, 7), across, down);
      const s = await search(source(), { bytes: WHOLE ? 5_000 : 1_500 }, 'full');
      const grid: { e: number; bytes: number }[] = [];
      for (const ratio of WHOLE ? [0.3, 0.5, 0.7, 0.9] : [0.5, 0.8])
        for (const positionBits of WHOLE ? [8, 9, 10, 11] : [8, 9, 10]) {
          const made = await run(source(), [
            { step: 'prune', settings: {} },
            { step: 'simplify', settings: { ratio, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
            { step: 'reorder', settings: {} },
            { step: 'quantise', settings: { positionBits, normalBits: 7, uvBits: 10 } },
            { step: 'compress', settings: { method: 'draco' } },
          ]);
          grid.push({ e: made.e as number, bytes: made.packed.byteLength });
        }
      for (const p of s.front) {
        const best = Math.min(...grid.filter((g) => g.bytes <= p.bytes).map((g) => g.e));
        expect(p.e).toBeLessThanOrEqual(best * 1.03);
      }
      expect(s.front.length).toBeGreaterThan(8);
    },
    // it takes minutes where the machine is shared
    900_000,
  );
  it.runIf(inTurn('a limit that cannot be met'))(
    'a limit that cannot be met says what would have to give, and gives the nearest',
    async () => {
      const s = await search(surfaceDocument('ball', sphere(0.01), 8, 5), { bytes: 300 });
      expect(s.met).toBe(false);
      expect(s.unmet.join()).toMatch(/lightest found.*would have to give/);
      expect(s.front[s.chosen].bytes).toBe(Math.min(...s.front.map((p) => p.bytes)));
    },
  );
  it.runIf(inTurn('many small parts'))('many small parts are joined where the limit asks for it, and only there', async () => {
    const beads = () => {
      const document = surfaceDocument('bead 0', sphere(0.003), 6, 3);
      const material = document.getRoot().listMaterials()[0];
      for (let i = 1; i < 6; i++)
        addSurface(document, `bead ${i}`, sphere(0.003 + i * 5e-5), 6, 3, material, [0.01 * (i % 4), 0.01 * Math.floor(i / 4), 0]);
      return document;
    };
    const roomy = await search(beads(), { bytes: 40_000 });
    expect(roomy.front.flatMap((p) => p.steps).some((s) => s.step === 'merge')).toBe(false);
    const tight = await search(beads(), { bytes: 1_800 });
    expect(tight.met).toBe(true);
    expect(tight.front[tight.chosen].steps.map((s) => s.step)).toContain('merge');
    const made = await run(beads(), tight.front[tight.chosen].steps);
    expect(made.packed.byteLength).toBeLessThanOrEqual(1_800);
    expect(made.e).toBeCloseTo(tight.front[tight.chosen].e, 3);
    for (let i = 1; i < tight.front.length; i++) expect(tight.front[i].bytes).toBeGreaterThan(tight.front[i - 1].bytes);
  });
  it('a limit of triangles alone is kept, of several kinds all are', async () => {
    const s = await search(surfaceDocument('blob', blob(0.05), 10, 6), { triangles: 70, bytes: 60_000 });
    expect(s.met).toBe(true);
    expect(s.front[s.chosen].triangles).toBeLessThanOrEqual(70);
  });
  half(0)('merged bones show in the motion: that is told, and shapes are not let go for it', async () => {
    const source = bentTube(10, 14);
    const s = await search(source, { bones: 2, bytes: 9_000 });
    const point = s.front[s.chosen];
    expect(s.met).toBe(true);
    expect(point.e).toBeGreaterThan(3);
    expect(point.error.meanMm).toBeLessThan(0.2);
    expect(point.error.ssimWorst).toBeGreaterThan(0.98);
    const made = await run(source, point.steps);
    expect(made.after.bones).toBe(2);
    expect((made.error?.maxMm as number) / point.error.maxMm).toBeGreaterThan(0.85);
    expect((made.error?.maxMm as number) / point.error.maxMm).toBeLessThan(1.15);
  });
  it('what tells of progress can stop it', async () => {
    const document = surfaceDocument('ball', sphere(0.1), 32, 16);
    const ref = makeReference(readShape(document), [], 0.5);
    const t = tools();
    const stop = () => {
      throw new Error('stopped');
    };
    await expect(solve(document, ref, async () => [], NO_LIMITS, 0.5, { ...t, progress: stop, recipe: t })).rejects.toThrow('stopped');
  });
  it.runIf(inTurn('places that are no numbers'))(
    'places that are no numbers are left out of every measure, and do not stop the search',
    async () => {
      const d = surfaceDocument('ball', sphere(0.03), 12, 6);
      const p = d.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('POSITION');
      p?.setElement(20, [Number.NaN, 0, 0]).setElement(45, [Number.POSITIVE_INFINITY, 0, 0]);
      expect(shapeBox(readShape(d)).max.x).toBeCloseTo(0.03, 3);
      const s = await search(d, { bytes: 2_000 });
      for (const point of s.front) expect(Number.isFinite(point.e)).toBe(true);
      expect(Math.min(...s.front.map((point) => point.e))).toBeLessThan(1);
    },
  );
});

group('limits', () => {
  it('are told one by one, with what would have to give', () => {
    const w = {
      bytes: 900_000,
      triangles: 10,
      vertices: 1,
      textureBytes: 1,
      bones: 60,
      materials: 2,
      textureEdge: 2048,
      drawCalls: 3,
      deviceBytes: 9e6,
    };
    const limits = { ...NO_LIMITS, bytes: 500_000, bones: 50, textureEdge: 1024, triangles: 10 };
    expect(brokenLimits(w, limits)).toEqual(['bytes', 'textureEdge', 'bones']);
    expect(unmetWords(w, 100_000, limits)[0]).toMatch(
      /0\.9 MB, the limit is 0\.5 MB.*0\.1 MB of shapes.*0\.8 MB of pictures\. Fewer or smaller pictures/,
    );
    expect(brokenLimits(w, NO_LIMITS)).toEqual([]);
  });
});
