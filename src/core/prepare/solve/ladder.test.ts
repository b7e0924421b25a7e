/** The parts of the search by themselves: what goes before it, its ladder of shapes, its front. */

import { expect, describe as group, it } from 'vitest';
import { bentTube, draco, painted } from '../../../../e2e/support/preparing';
import { inTurn } from '../../../../e2e/support/sweep';
import { makeReference, measureShape, measureViews } from '../measure/error';
import { readShape } from '../measure/shape';
import { addSurface, blob, sphere, surfaceDocument } from '../samples';
import { type Limits, NO_LIMITS } from '../terms';
import { pareto } from './found';
import { GeometrySource } from './geometry';
import { idleSteps } from './idle';
import { Ladder } from './ladder';

function ladderOf(across: number, limits: Partial<Limits> = {}) {
  const base = surfaceDocument('blob', blob(0.04), across, across / 2);
  const ref = makeReference(readShape(base), [], 0.5);
  const ladder = new Ladder({
    base,
    ref,
    textures: [],
    limits: { ...NO_LIMITS, bytes: 3_000, ...limits },
    distanceM: 0.5,
    draco,
    method: 'draco',
    edge: 0,
    pictureBytes: 0,
    progress: () => undefined,
    effort: 'quick',
  });
  return { base, ref, ladder };
}

group('the ladder of shapes', () => {
  it.runIf(inTurn('leads from the model as it came'))(
    'leads from the model as it came to what no one would take, simpler at every rung',
    async () => {
      const { ref, ladder } = ladderOf(14);
      await ladder.build();
      const all = [...ladder.known()];
      const first = await ladder.first();
      expect(first.errorMm).toBe(0);
      expect(first.triangles).toBe(ref.shape.triangles.length / 3);
      const rungs = new Map(all.map((g) => [g.errorMm, g.triangles]));
      const counts = [...rungs].sort((a, b) => a[0] - b[0]).map(([, n]) => n);
      expect(counts.length).toBeGreaterThan(8);
      // chance may put a few more into a rung that allows a little more
      for (let i = 1; i < counts.length; i++) expect(counts[i]).toBeLessThanOrEqual(counts[i - 1] * 1.03);
      expect(Math.max(...all.map((g) => ladder.predictedE(g)))).toBeGreaterThan(5);
      expect(Math.min(...all.map((g) => ladder.predictedE(g)))).toBeLessThan(0.2);
      // of each shape several counts of bits
      expect(new Set(all.map((g) => JSON.stringify(g.quantise))).size).toBeGreaterThan(10);
    },
  );
  it('what it tells of the model as it came is what measuring tells', async () => {
    const { ref, ladder } = ladderOf(12);
    const g = await ladder.first();
    ladder.lookWhole(g);
    const shape = measureShape(ref, g.shape);
    expect(g).toMatchObject({ meanMm: shape.meanMm, maxMm: shape.maxMm, normalDeg: shape.normalDeg });
    expect(ladder.viewLoss(g)).toBeCloseTo(1 - measureViews(ref, g.shape, []).ssimWorst, 12);
  });
  it('shapes over a limit of triangles are not allowed, and some within it are there', async () => {
    const { ladder } = ladderOf(12, { triangles: 60 });
    await ladder.build();
    const allowed = [...ladder.known()].filter((g) => ladder.allows(g));
    expect(allowed.length).toBeGreaterThan(0);
    expect(allowed.every((g) => g.triangles <= 60)).toBe(true);
    expect(ladder.allows(await ladder.first())).toBe(false);
  });
  it.runIf(inTurn('rungs beside another'))('rungs beside another are put between it and its neighbours', async () => {
    const { ladder } = ladderOf(12);
    await ladder.build();
    const errors = () => [...new Set([...ladder.known()].map((g) => g.errorMm))].sort((a, b) => a - b);
    const before = errors();
    const middle = [...ladder.known()].find((g) => g.errorMm === before[Math.floor(before.length / 2)]);
    if (!middle) throw new Error('no rung');
    await ladder.addBeside(middle);
    const added = errors().filter((e) => !before.includes(e));
    expect(added.length).toBeGreaterThan(0);
    const k = before.indexOf(middle.errorMm);
    for (const e of added) expect(e > before[k - 1] && e < before[k + 1]).toBe(true);
  });
});

group('a shape to choose from', () => {
  it('is what its bytes unpack to: fewer bits, fewer bytes and more error', async () => {
    const base = surfaceDocument('blob', blob(0.08), 32, 16);
    const ref = makeReference(readShape(base), [], 0.5);
    for (const method of ['draco', 'meshopt'] as const) {
      const source = new GeometrySource(base, ref, draco, method);
      const [fine, coarse] = [
        await source.option(0, { positionBits: 14, normalBits: 8, uvBits: 10 }),
        await source.option(0, { positionBits: 8, normalBits: 8, uvBits: 10 }),
      ];
      expect(coarse.bytes).toBeLessThan(fine.bytes);
      // half a step of 8 bits over the longest side, on average half of that along each axis
      const extent = 1000 * 0.16 * 1.2;
      expect(coarse.maxMm).toBeLessThan(((extent / 255) * Math.sqrt(3)) / 1.5);
      expect(coarse.meanMm).toBeGreaterThan(fine.meanMm * 10);
    }
  });
  it('knows what naming a picture format costs, to the byte', async () => {
    const document = await painted();
    const ref = makeReference(readShape(document), [], 0.5);
    const source = new GeometrySource(document, ref, draco, 'none');
    const costs = await source.naming(new Map([[0, 'webp']]));
    // "EXT_texture_webp" in two lists, and about the texture an object of its own
    expect(costs).toBeGreaterThan(80);
    expect(costs).toBeLessThan(200);
    expect(costs % 4).toBe(0);
    expect(await source.naming(new Map([[0, 'keep']]))).toBe(0);
  });
  it('leaves the document it was made of alone', async () => {
    const document = await painted();
    const picture = document.getRoot().listTextures()[0].getImage();
    const before = readShape(document);
    const source = new GeometrySource(document, makeReference(before, [], 0.5), draco, 'draco');
    const g = await source.option(2, { positionBits: 10, normalBits: 8, uvBits: 10 }, 4);
    expect(g.triangles).toBeLessThan(before.triangles.length / 3);
    expect(readShape(document)).toEqual(before);
    expect(document.getRoot().listTextures()[0].getImage()).toBe(picture);
  });
});

group('what nothing beats', () => {
  it('is what a search through all pairs finds', () => {
    let x = 12345;
    const next = () => {
      x = (x * 1103515245 + 12345) % 2147483648;
      return x / 2147483648;
    };
    for (const n of [0, 1, 2, 50, 400]) {
      const list = Array.from({ length: n }, () => ({ bytes: Math.floor(next() * 90), e: Math.floor(next() * 30) }));
      const front = pareto(list, (p) => p.bytes);
      const beaten = (p: { bytes: number; e: number }) =>
        list.some((q) => q.bytes <= p.bytes && q.e <= p.e && (q.bytes < p.bytes || q.e < p.e));
      const key = (p: { bytes: number; e: number }) => `${p.bytes} ${p.e}`;
      expect(new Set(front.map(key))).toEqual(new Set(list.filter((p) => !beaten(p)).map(key)));
      expect(new Set(front.map(key)).size).toBe(front.length);
      expect(front.map((p) => p.bytes)).toEqual(front.map((p) => p.bytes).sort((a, b) => a - b));
    }
  });
});

group('what goes before a search', () => {
  const kinds = (list: readonly { step: string }[]) => list.map((s) => s.step);
  it('is what the model has, and no more', async () => {
    expect(kinds(idleSteps(surfaceDocument('ball', sphere(0.1), 8, 4), NO_LIMITS))).toEqual(['prune']);
    expect(kinds(idleSteps(await painted(), NO_LIMITS))).toEqual(['texture', 'prune']);
    expect(kinds(idleSteps(bentTube(), NO_LIMITS))).toEqual(['prune', 'bones', 'clips']);
    const broken = surfaceDocument('ball', sphere(0.1), 8, 4);
    broken.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('POSITION')?.setElement(3, [Number.NaN, 0, 0]);
    expect(kinds(idleSteps(broken, NO_LIMITS))).toEqual(['mend', 'prune']);
    const astray = surfaceDocument('ball', sphere(0.1), 8, 4);
    astray.getRoot().listMeshes()[0].listPrimitives()[0].getIndices()?.setScalar(5, 9_999);
    expect(kinds(idleSteps(astray, NO_LIMITS))).toEqual(['mend', 'prune']);
  });
  it('joins materials and draw calls only where a limit asks for it', () => {
    const two = () => {
      const d = surfaceDocument('one', sphere(0.1), 8, 4);
      addSurface(d, 'two', sphere(0.1), 8, 4, d.createMaterial('other'), [1, 0, 0]);
      return d;
    };
    const merge = (limits: Partial<Limits>) => idleSteps(two(), { ...NO_LIMITS, ...limits }).find((s) => s.step === 'merge')?.settings;
    expect(merge({})).toBeUndefined();
    expect(merge({ materials: 2, drawCalls: 2 })).toBeUndefined();
    expect(merge({ materials: 1 })).toEqual({ materials: true, meshes: false });
    expect(merge({ drawCalls: 1 })).toEqual({ materials: true, meshes: true });
    const bones = idleSteps(bentTube(), { ...NO_LIMITS, bones: 2 }).find((s) => s.step === 'bones');
    expect(bones?.settings).toMatchObject({ limit: 2 });
  });
});
