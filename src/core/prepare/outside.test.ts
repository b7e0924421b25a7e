/** Every step on files nobody here made (Debian's assimp-testmodels): what comes out is valid, and what it was. */

import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Document } from '@gltf-transform/core';
import { afterAll, expect, describe as group, it } from 'vitest';
import { errorsOf, namesOf, run } from '../../../e2e/support/preparing';
import { drawn } from '../../../e2e/support/sweep';
import { readGlb } from '../../worker/node/codecs';
import { runIntake } from '../../worker/node/intake';
import type { StepDraft } from '../piece/recipe';
import { readShape, shapeBox } from './measure/shape';
import { weighDocument } from './weigh';

const MODELS = '/usr/share/assimp/models';
const dir = mkdtempSync(join(tmpdir(), 'scaphos-outside-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

/** As Stock keeps it: one plain GLB. */
async function bring(file: string): Promise<() => Promise<Document>> {
  const path = join(MODELS, file);
  const { items } = await runIntake({ files: [{ name: file.slice(file.lastIndexOf('/') + 1), path }], fromDisk: true, outDir: dir });
  const glb = new Uint8Array(readFileSync(join(dir, items[0].model as string)));
  return () => readGlb(glb.slice());
}

const simplify: StepDraft = {
  step: 'simplify',
  settings: { ratio: 0.5, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] },
};
const mend: StepDraft = {
  step: 'mend',
  settings: { ops: ['not-finite', 'degenerate', 'duplicates', 'flipped', 'normals', 'tangents', 'weld', 'unused', 'weights'] },
};
const quantise: StepDraft = { step: 'quantise', settings: { positionBits: 14, normalBits: 8, uvBits: 12 } };
const compress = (method: 'meshopt' | 'draco'): StepDraft => ({ step: 'compress', settings: { method } });
/** All that may be done to a model without taking a part of it out. */
const whole: StepDraft[] = [
  mend,
  { step: 'texture', settings: { ops: ['resize', 'drop-alpha', 'merge', 'pack'], maxEdge: 256 } },
  { step: 'merge', settings: { materials: true, meshes: false } },
  { step: 'prune', settings: {} },
  simplify,
  { step: 'atlas', settings: { maxEdge: 512 } },
  {
    step: 'pictures',
    settings: {
      roles: (['color', 'normal', 'data'] as const).map((role) => ({ role, maxEdge: 128, format: 'webp', quality: 70 })),
      textures: [],
    },
  },
  { step: 'clips', settings: { resample: true, dropConstant: true } },
  { step: 'bones', settings: { dropUnused: true, fourInfluences: true, limit: null } },
  { step: 'reorder', settings: {} },
  quantise,
];

const allFinite = (document: Document) =>
  document
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives())
    .flatMap((p) => p.listAttributes())
    .every((a) => (a.getArray() as Float32Array | null)?.every((x) => Number.isFinite(x)));

// UVs of three numbers; normals of any length; weights that sum to 1.4; pivots mirrored; a skin; texture transforms; a picture within
const files = [
  'OBJ/regr01.obj',
  'OBJ/spider.obj',
  'FBX/animation_with_skeleton.fbx',
  'FBX/cubes_with_mirroring_and_pivot.fbx',
  'glTF2/simple_skin/simple_skin.gltf',
  'glTF2/textureTransform/TextureTransformTest.gltf',
  'FBX/embedded_ascii/box_embedded_texture_fragmented.fbx',
].filter((f) => existsSync(join(MODELS, f)));

group('files nobody here made', () => {
  it.each(drawn(files))('%s: through every step it stays valid, where it was, and by its names', async (file) => {
    const read = await bring(file);
    const source = await read();
    const before = shapeBox(readShape(source));
    const sizeMm = before.min.distanceTo(before.max) * 1000;
    const names = {
      clips: namesOf(source.getRoot().listAnimations()),
      skins: source.getRoot().listSkins().length,
      materials: new Set(namesOf(source.getRoot().listMaterials())),
    };
    const { triangles } = weighDocument(source, 0);
    for (const method of drawn(['meshopt', 'draco'] as const, file.length)) {
      const made = await run(await read(), [...whole, compress(method)]);
      expect(await errorsOf(made.packed)).toEqual([]);
      expect(allFinite(made.document)).toBe(true);
      const root = made.document.getRoot();
      expect(namesOf(root.listAnimations())).toEqual(names.clips);
      expect(root.listSkins().length).toBe(names.skins);
      for (const name of namesOf(root.listMaterials())) expect(names.materials).toContain(name);
      for (const p of root.listMeshes().flatMap((m) => m.listPrimitives()))
        expect(p.getIndices()?.getCount() ?? p.getAttribute('POSITION')?.getCount()).toBeGreaterThanOrEqual(3);
      expect(made.after.triangles).toBeLessThanOrEqual(triangles);
      const after = shapeBox(readShape(made.document));
      const most = Math.sqrt(3) * (made.error?.maxMm as number) + sizeMm * 2e-4;
      expect(before.min.distanceTo(after.min) * 1000).toBeLessThanOrEqual(most);
      expect(before.max.distanceTo(after.max) * 1000).toBeLessThanOrEqual(most);
    }
  });
  it.each(drawn(files, 1))('%s: packed alone it shows next to nothing', async (file) => {
    const read = await bring(file);
    for (const method of ['meshopt', 'draco'] as const) {
      const made = await run(await read(), [quantise, compress(method)]);
      const box = shapeBox(readShape(made.document));
      const sizeMm = box.min.distanceTo(box.max) * 1000;
      // two steps of the numbers of places, whatever the size
      expect(made.error?.meanMm).toBeLessThan((sizeMm * 2) / 2 ** 14);
      expect(made.error?.ssimWorst).toBeGreaterThan(0.99);
    }
  });
  it.skipIf(!existsSync(join(MODELS, 'OBJ/regr01.obj')))('UVs of three numbers come in as two, and simplifying keeps them', async () => {
    const read = await bring('OBJ/regr01.obj');
    const sizes = (d: Document) =>
      new Set(
        d
          .getRoot()
          .listMeshes()
          .flatMap((m) => m.listPrimitives())
          .flatMap((p) => p.getAttribute('TEXCOORD_0')?.getType() ?? []),
      );
    const source = await read();
    expect(sizes(source)).toEqual(new Set(['VEC2']));
    const made = await run(source, [simplify]);
    expect(sizes(made.document)).toEqual(new Set(['VEC2']));
    expect(allFinite(made.document)).toBe(true);
  });
  it.skipIf(!existsSync(join(MODELS, 'PLY/pond.0.ply')))(
    'a cloud that lost bytes on its way (69 line ends made one byte of two) is refused, not read as numbers without end',
    async () => {
      await expect(bring('PLY/pond.0.ply').then((read) => read())).rejects.toMatchObject({ code: 'ply/truncated' });
    },
  );
});
