/** What a prepared model keeps, whatever was asked of it: ours, and files nobody here made. */
import { existsSync, readFileSync } from 'node:fs';
import { type Document, WebIO } from '@gltf-transform/core';
import { MeshoptDecoder } from 'meshoptimizer';
import { expect, describe as group, it, vi } from 'vitest';
import { spectaclesGlb } from '../../../demo/models/spectacles';
import { bentTube, draco, errorsOf, namesOf, painted, run } from '../../../e2e/support/preparing';
import { drawn, inTurn } from '../../../e2e/support/sweep';
import { sha256Hex } from '../../worker/node/codecs';
import { readGltf, readModel } from '../intake';
import { poseAt, posedPrimitives } from '../model/pose';
import type { StepDraft } from '../piece/recipe';
import { NearestTree, nearest } from './measure/nearest';
import { readShape, shapeBox } from './measure/shape';
import { packDocument, packingOf } from './pack';

vi.setConfig({ testTimeout: 240_000 });

/** How far vertices of one model lie at most from the other's surface, both posed at a clip time, mm. */
function posedGap(before: Document, after: Document, clip: number, t: number): number {
  const posed = (d: Document) => {
    const model = readModel(d);
    return posedPrimitives(model, poseAt(model, clip, t)).map(({ positions, mesh, primitive }) => ({
      positions,
      triangles: model.meshes[mesh].primitives[primitive].triangles,
    }));
  };
  const surfaces = posed(before).map((p) => new NearestTree(p.positions, p.triangles));
  const at = nearest();
  let most = 0;
  for (const p of posed(after))
    for (let i = 0; i < p.positions.length; i += 3) {
      let least = Number.POSITIVE_INFINITY;
      for (const s of surfaces) {
        s.ask(p.positions[i], p.positions[i + 1], p.positions[i + 2], at);
        least = Math.min(least, at.distance);
      }
      most = Math.max(most, least);
    }
  return most * 1000;
}

/** As a search ends, without the search. */
const lighter = (ratio: number): StepDraft[] => [
  { step: 'prune', settings: {} },
  { step: 'simplify', settings: { ratio, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
  { step: 'quantise', settings: { positionBits: 12, normalBits: 8, uvBits: 10 } },
  { step: 'compress', settings: { method: 'draco' } },
];

group('what a prepared model keeps', () => {
  it.runIf(inTurn('skins, clips, morph targets and materials'))(
    'skins, clips, morph targets and materials by name, its box, and where its vertices are while it moves',
    async () => {
      const source = bentTube();
      expect(await errorsOf(await new WebIO().writeBinary(source))).toEqual([]);
      const made = await run(source, lighter(0.4));
      expect(made.after.triangles).toBeLessThan(readShape(source).triangles.length / 3);
      expect(await errorsOf(made.packed)).toEqual([]);
      const [a, b] = [source.getRoot(), made.document.getRoot()];
      expect(namesOf(b.listSkins())).toEqual(namesOf(a.listSkins()));
      expect(namesOf(b.listAnimations())).toEqual(namesOf(a.listAnimations()));
      expect(namesOf(b.listMaterials())).toEqual(namesOf(a.listMaterials()));
      expect(b.listMeshes()[0].getExtras()).toEqual({ targetNames: ['bulge'] });
      expect(b.listMeshes()[0].listPrimitives()[0].listTargets()).toHaveLength(1);
      const [before, after] = [shapeBox(readShape(source)), shapeBox(readShape(made.document))];
      const maxMm = (made.error?.maxMm as number) + 0.05;
      expect(before.min.distanceTo(after.min) * 1000).toBeLessThan(maxMm * Math.sqrt(3));
      expect(before.max.distanceTo(after.max) * 1000).toBeLessThan(maxMm * Math.sqrt(3));
      for (const [t, most] of [
        [0.2, maxMm],
        [0.5, maxMm],
        [0.8, maxMm],
        // it bends most at the end, a little further than where the measure looks last
        [0.99, maxMm * 1.5],
      ]) {
        expect(posedGap(source, made.document, 0, t)).toBeLessThan(most);
        expect(posedGap(made.document, source, 0, t)).toBeLessThan(most);
      }
    },
  );
  it.runIf(inTurn('spectacles of the demo: valid'))(
    'spectacles of the demo: valid, every mesh with triangles, every material',
    async () => {
      const { document } = await readGltf(await spectaclesGlb(), {});
      const made = await run(document, lighter(0.3));
      expect(await errorsOf(made.packed)).toEqual([]);
      expect(namesOf(made.document.getRoot().listMaterials()).sort()).toEqual(namesOf(document.getRoot().listMaterials()).sort());
      for (const m of made.document.getRoot().listMeshes())
        for (const p of m.listPrimitives()) expect(p.getIndices()?.getCount() ?? 0).toBeGreaterThan(2);
    },
  );
  const outside = [
    '/usr/share/assimp/models/glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
    '/usr/share/assimp/models/glTF2/BoxTextured-glTF-Binary/BoxTextured.glb',
  ].filter(existsSync);
  it.each(drawn(outside))('%s: lighter with meshopt, with Draco, and with neither; valid each time', async (path) => {
    const { document } = await readGltf(new Uint8Array(readFileSync(path)), { draco: draco.decoder, meshopt: MeshoptDecoder });
    const sizes: number[] = [];
    for (const method of ['none', 'meshopt', 'draco'] as const) {
      const made = await run(document, [
        { step: 'prune', settings: {} },
        { step: 'quantise', settings: { positionBits: 14, normalBits: 8, uvBits: 12 } },
        ...(method === 'none' ? [] : [{ step: 'compress' as const, settings: { method } }]),
      ]);
      sizes.push(made.packed.byteLength);
      expect(await errorsOf(made.packed)).toEqual([]);
      expect(made.error?.ssimWorst).toBeGreaterThan(0.97);
    }
    // a file of a few kilobytes pays more for the names of the extension than it saves
    expect(sizes[1]).toBeLessThanOrEqual(sizes[0] + 800);
    expect(sizes[2]).toBeLessThan(sizes[0]);
  });
  it.runIf(inTurn('a second run of a recipe'))('a second run of a recipe gives the same file, bit by bit', async () => {
    const document = await painted();
    const steps: StepDraft[] = [
      { step: 'prune', settings: {} },
      { step: 'simplify', settings: { ratio: null, errorMm: 0.5, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
      { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 128, format: 'webp', quality: 80 }], textures: [] } },
    ];
    const [a, b] = [await run(document, steps), await run(document, steps)];
    expect(sha256Hex(b.packed)).toBe(sha256Hex(a.packed));
  });
  it.runIf(inTurn('run again on its own result'))(
    'run again on its own result, what is settled changes nothing: the same weight, the same places',
    async () => {
      const once: StepDraft[] = [
        { step: 'pivot', settings: { to: 'base', pointM: [0, 0, 0] } },
        { step: 'mend', settings: { ops: ['weld', 'degenerate', 'duplicates'] } },
        { step: 'merge', settings: { materials: true, meshes: true } },
        { step: 'prune', settings: {} },
        { step: 'bones', settings: { dropUnused: true, fourInfluences: true, limit: null } },
        { step: 'clips', settings: { resample: true, dropConstant: true } },
        { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 128, format: 'png', quality: 100 }], textures: [] } },
        { step: 'reorder', settings: {} },
      ];
      for (const source of [await painted(), bentTube()]) {
        const first = await run(source, once);
        const second = await run(first.document, once);
        const { bytes, ...weight } = second.after;
        expect({ ...weight, bytes }).toEqual({ ...first.after, bytes });
        expect(Math.abs(bytes / first.after.bytes - 1)).toBeLessThan(0.002);
        expect(second.error).toMatchObject({ meanMm: expect.closeTo(0, 5), silhouette: 0 });
        expect(second.error?.ssimWorst).toBeGreaterThan(0.99999);
      }
    },
  );
  it('packing by steps gives what packing at once gives', async () => {
    const steps: StepDraft[] = [
      { step: 'reorder', settings: {} },
      { step: 'quantise', settings: { positionBits: 12, normalBits: 8, uvBits: 10 } },
      { step: 'quantise', settings: { positionBits: 11, normalBits: 8, uvBits: 10 } },
      { step: 'compress', settings: { method: 'meshopt' } },
    ];
    const source = bentTube();
    const made = await run(source, steps);
    expect(sha256Hex(made.packed)).toBe(sha256Hex(await packDocument(source, packingOf(steps), draco)));
    expect(new Set(made.steps.map((s) => s.bytes)).size).toBeGreaterThan(2);
  });
});
