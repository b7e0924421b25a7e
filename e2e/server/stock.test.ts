import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { zipSync } from 'fflate';
import { validateBytes } from 'gltf-validator';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { licenceBlockers } from '@/core/deliver';
import { bvhDocument, readBvh } from '@/core/intake';
import { add, createModelPart, type Edit, PIECE_SCHEMA, type Piece, settings } from '@/core/piece';
import type { Vec } from '@/core/rig';
import { patchDocument } from '@/core/rig/weights/patch';
import { listAssets } from '@/server/assets';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { BRASS, CUBE_OBJ, createThing, picture } from '../support/faulty';
import { closeTestDatabase, signedIn, testDatabase, type Visitor } from '../support/http';
import { bentTube } from '../support/preparing';
import { inTurn } from '../support/sweep';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-stock-'));
let v: Visitor;
let piece: string;
beforeAll(async () => {
  v = await signedIn();
  piece = await v.newPiece('Stock');
});
afterAll(async () => {
  rmSync(dir, { recursive: true, force: true });
  await closeTestDatabase();
});

const MTL = 'newmtl brass\nKd 1 1 1\nmap_Kd C:\\work\\brass_BaseColor.png\n';
const text = (s: string) => new TextEncoder().encode(s);

describe('what comes in', () => {
  test('an OBJ with its MTL and a picture in another folder is one textured model; what it cannot carry is said', async () => {
    const zip = zipSync({
      'model/cube.obj': text(CUBE_OBJ),
      'model/cube.mtl': text(MTL),
      'textures/brass_BaseColor.png': await picture(32, 32, BRASS),
    });
    const [{ item, asset }] = (await v.upload(piece, [['cube.zip', zip]])).body.items;
    expect(asset.facts).toMatchObject({ format: 'obj', triangles: 12, materials: 1, missing: [], sizeMm: [2000, 2000, 2000] });
    expect(asset.facts.textures).toMatchObject([{ width: 32, height: 32, type: 'image/png' }]);
    expect(asset.facts.cannotCarry).toContain('no bones');
    const original = (await v.get(`/api/pieces/${piece}/assets/${item.original}`)).body;
    expect(Buffer.compare(original, zip)).toBe(0);
    const glb = (await v.get(`/api/pieces/${piece}/assets/${item.model}`)).body;
    expect((await validateBytes(glb)).issues.messages.filter((m) => m.severity === 0)).toEqual([]);
  });

  test('a zip of pictures brings in each picture; a picture is served as one', async () => {
    const zip = zipSync({ 'a/one.png': await picture(8, 8, BRASS), 'b/two.png': await picture(9, 9, BRASS), 'notes.txt': text('x') });
    const { items } = (await v.upload(piece, [['maps.zip', zip]])).body;
    expect(items.map((i: { item: { kind: string; name: string } }) => [i.item.kind, i.item.name])).toEqual([
      ['picture', 'one.png'],
      ['picture', 'two.png'],
    ]);
    const got = await v.get(`/api/pieces/${piece}/assets/${items[0].item.original}`);
    expect(got.headers.get('content-type')).toBe('image/png');
  });

  test('the same model in two formats in one zip is read from the one that carries more', async () => {
    const thing = await createThing();
    const glb = await new WebIO().writeBinary(thing.document);
    const { items } = (await v.upload(piece, [['both.zip', zipSync({ 'cube.obj': text(CUBE_OBJ), 'cube.glb': glb })]])).body;
    expect(items[0].asset.facts.format).toBe('glb');
  });

  test.runIf(inTurn('a file is called as it came'))('a file is called as it came, its name cut to what a card holds', async () => {
    const glb = await spectaclesGlb();
    const long = `${'n'.repeat(200)}.glb`;
    const names: [string, string][] = [
      ['  drifting  kelp.glb ', 'drifting  kelp.glb'],
      [long, long.slice(-120)],
      // what is left after the cut begins with no blank
      [`a  ${'b'.repeat(114)}.glb`, `${'b'.repeat(114)}.glb`],
    ];
    for (const [given, kept] of names) expect((await v.upload(piece, [[given, glb]])).body.items[0].item.name).toBe(kept);
  });

  test('facts of an older shape whose file can be read no more are not known', async () => {
    const other = await signedIn();
    // in another yard, so that nobody else's facts are touched; its bytes are none that there are
    await testDatabase()('assets').insert({
      yard_id: other.yard,
      original: 'e'.repeat(64),
      model: 'e'.repeat(64),
      facts: JSON.stringify({ format: 'glb', bytes: 7, readable: true, findings: [] }),
      created_at: new Date(),
    });
    expect(await listAssets(testDatabase(), other.yard)).toEqual([{ original: 'e'.repeat(64), model: 'e'.repeat(64), facts: null }]);
  });

  test.runIf(inTurn('facts kept in an older shape'))('facts kept in an older shape are read anew, once', async () => {
    const { item } = (await v.upload(piece, [['s.glb', await spectaclesGlb()]])).body.items[0];
    await v.post(`/api/pieces/${piece}/edits`, {
      saveId: 'old',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [add('stock', { id: 'old', ...item })],
    });
    await testDatabase()('assets')
      .where({ yard_id: v.yard, original: item.original })
      .update({ facts: JSON.stringify({ format: 'glb', bytes: 7, readable: true, findings: [] }) });
    const { assets } = (await v.get(`/api/pieces/${piece}`)).body;
    expect(assets[0].facts).toMatchObject({ format: 'glb', bytes: 7, triangles: 7904 });
    const row = await testDatabase()('assets').where({ yard_id: v.yard, original: item.original }).first('facts');
    expect(JSON.parse(row.facts).placing.eyewear.units.factor).toBe(0.01);
  });

  test.runIf(inTurn('whoever is told that the piece moved on'))(
    'whoever is told that the piece moved on, while files are read for the answer, holds nobody else up',
    async () => {
      const id = await v.newPiece('Held up');
      const { item } = (await v.upload(id, [['s.glb', await spectaclesGlb()]])).body.items[0];
      const save = (saveId: string, baseRevision: number, edit: Edit) =>
        v.post(`/api/pieces/${id}/edits`, { saveId, baseRevision, schema: PIECE_SCHEMA, edits: [edit] });
      expect((await save('first', 0, add('stock', { id: 's', ...item }))).status).toBe(200);
      await testDatabase()('assets')
        .where({ yard_id: v.yard, original: item.original })
        .update({ facts: JSON.stringify({ format: 'glb', bytes: 7, readable: true, findings: [] }) });
      const order: number[] = [];
      await Promise.all([
        save('late', 0, settings({ name: 'Late' })).then((a) => order.push(a.status)),
        save('next', 1, settings({ name: 'Next' })).then((a) => order.push(a.status)),
      ]);
      expect(order).toEqual([200, 409]);
    },
  );
});

/** A model whose recipe was run, hung in the piece. */
async function keepMade(id: string, item: object, steps: readonly object[], result: string, ...also: Edit[]): Promise<void> {
  const edits = [
    add('stock', { id: 's', ...item } as never),
    ...also,
    add('recipes', { id: 's', steps: steps as never, result }),
    add('parts', createModelPart('p', 's', 'What was made')),
  ];
  const saved = await v.post(`/api/pieces/${id}/edits`, { saveId: 'r', baseRevision: 0, schema: PIECE_SCHEMA, edits });
  expect(saved.status).toBe(200);
}
/** The piece in another yard, by its bundle. */
async function carried(id: string) {
  const bundle = (await v.get(`/api/pieces/${id}/packages/bundle`)).body;
  const other = await signedIn();
  const moved: string = (await other.call('POST', `/api/yards/${other.yard}/bundles`, bundle)).body.id;
  const there: { document: Piece; assets: { model: string; facts: unknown }[] } = (await other.get(`/api/pieces/${moved}`)).body;
  return { other, moved, there };
}

describe('recipes', () => {
  test.runIf(inTurn('in another yard a prepared OBJ'))(
    'in another yard a prepared OBJ says all it said here, what only its file could tell too',
    async () => {
      const id = await v.newPiece('An OBJ');
      const obj = 'mtllib gone.mtl\nusemtl red\no a\nv 0 0 0\nv 0.1 0 0\nv 0 0.2 0\nv 0 0 0.3\nf 1 2 3\nf 1 3 4\nf 1 4 2\nf 2 4 3\n';
      const { item } = (await v.upload(id, [['spar.obj', new TextEncoder().encode(obj)]])).body.items[0];
      const steps = [
        {
          id: 'a',
          on: true,
          step: 'transform',
          settings: { factor: 2, turnDeg: { yaw: 0, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: true },
        },
      ];
      const done = (await v.post(`/api/pieces/${id}/prepare`, { original: item.original, model: item.model, name: item.name, steps })).body;
      await keepMade(id, item, steps, done.asset.model);
      const { there } = await carried(id);
      const here: typeof there = (await v.get(`/api/pieces/${id}`)).body;
      const facts = (of: typeof there) => of.assets.find((a) => a.model === done.asset.model)?.facts as Record<string, unknown>;
      expect(facts(there)).toEqual(facts(here));
      expect(facts(there).cannotCarry).toMatch(/no bones/);
    },
  );

  test.runIf(inTurn('what is used as another file'))(
    'what is used as another file than a reader makes of it today is carried as it is used, with its own facts',
    async () => {
      const id = await v.newPiece('Used as it was');
      const [read] = (await v.upload(id, [['cube.obj', text(CUBE_OBJ)]])).body.items;
      const [other] = (await v.upload(id, [['s.glb', await spectaclesGlb()]])).body.items;
      const { original } = read.item;
      const { model } = other.item;
      // as a reader of another day had made it
      const [{ yard_id }] = await testDatabase()('assets').where({ original, model: read.item.model }).select('yard_id');
      const facts = JSON.stringify({ ...read.asset.facts, triangles: other.asset.facts.triangles });
      await testDatabase()('assets').insert({ yard_id, original, model, facts, created_at: new Date() });
      const edits = [add('stock', { ...read.item, id: 's', model }), add('parts', createModelPart('p', 's', 'Cube'))];
      expect((await v.post(`/api/pieces/${id}/edits`, { saveId: 'r', baseRevision: 0, schema: PIECE_SCHEMA, edits })).status).toBe(200);
      const { there } = await carried(id);
      const of = (there.assets.find((a) => a.model === model)?.facts ?? {}) as Record<string, unknown>;
      // its shape is told of the file that is drawn, what only an OBJ could tell of the OBJ
      expect(of.triangles).toBe(other.asset.facts.triangles);
      expect(of.sizeMm).toEqual(other.asset.facts.sizeMm);
      expect(of.cannotCarry).toEqual(read.asset.facts.cannotCarry);
      expect(read.asset.facts.triangles).not.toBe(other.asset.facts.triangles);
    },
  );

  test.runIf(inTurn('a recipe gives a model of its own'))(
    'a recipe gives a model of its own; the original stays; the piece draws and delivers the mended one',
    async () => {
      const id = await v.newPiece('Mended');
      const { item } = (await v.upload(id, [['s.glb', await spectaclesGlb()]])).body.items[0];
      const steps = [
        {
          id: 'a',
          on: true,
          step: 'transform',
          settings: { factor: 0.01, turnDeg: { yaw: 180, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: false },
        },
      ];
      const done = (await v.post(`/api/pieces/${id}/prepare`, { original: item.original, model: item.model, name: item.name, steps })).body;
      expect(done.asset.facts.sizeMm[0]).toBeCloseTo(146.3, 0);
      expect(done.asset.facts.placing.eyewear).toMatchObject({ units: { factor: 1 }, orientation: { yawDeg: 0 } });
      const again = (await v.post(`/api/pieces/${id}/prepare`, { original: item.original, model: item.model, name: item.name, steps }))
        .body;
      expect(again.asset.model).toBe(done.asset.model);
      await keepMade(id, item, steps, done.asset.model);
      const glb = (await v.get(`/api/pieces/${id}/packages/glb`)).body;
      const bounds = (await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb)).getRoot().listMeshes()[0].listPrimitives()[0];
      expect(Math.abs(bounds.getAttribute('POSITION')?.getMax([])[0] ?? 9)).toBeLessThan(0.2);
      // it travels: the bundle carries original, recipe and result
      const { there } = await carried(id);
      expect(there.document.recipes.s).toEqual({ id: 's', steps, result: done.asset.model });
      expect(there.assets.some((a) => a.model === done.asset.model && a.facts)).toBe(true);
    },
  );

  test.runIf(inTurn('a captured motion on a model'))(
    'a captured motion on a model’s own bones: made here, barred by its licence, and along in the bundle',
    async () => {
      const id = await v.newPiece('Moved');
      const bvh = readFileSync('/usr/share/assimp/models/BVH/01_03.bvh');
      // a figure whose bones are the capture’s: a skeleton that file has, with a sole to draw
      const figure = bvhDocument(readBvh(bvh.toString()), 'stranger', 0.056);
      const root = figure.getRoot();
      for (const a of root.listAnimations()) a.dispose();
      const skin = figure.createSkin();
      for (const n of root.listNodes()) skin.addJoint(n);
      const buffer = root.listBuffers()[0];
      const sole = figure
        .createPrimitive()
        .setAttribute(
          'POSITION',
          figure
            .createAccessor()
            .setType('VEC3')
            .setArray(new Float32Array([-0.1, -1, 0, 0.1, -1, 0, 0, -1, 0.1]))
            .setBuffer(buffer),
        )
        .setAttribute('JOINTS_0', figure.createAccessor().setType('VEC4').setArray(new Uint8Array(12)).setBuffer(buffer))
        .setAttribute(
          'WEIGHTS_0',
          figure
            .createAccessor()
            .setType('VEC4')
            .setArray(Float32Array.from({ length: 12 }, (_, i) => (i % 4 ? 0 : 1)))
            .setBuffer(buffer),
        );
      root.listScenes()[0].addChild(figure.createNode('drawn').setMesh(figure.createMesh().addPrimitive(sole)).setSkin(skin));
      const glb = await new WebIO().writeBinary(figure);
      const { item } = (await v.upload(id, [['stranger.glb', glb]])).body.items[0];
      const { item: motion } = (await v.upload(id, [['steps.bvh', new Uint8Array(bvh)]])).body.items[0];
      const taken = { motion: motion.model, name: 'steps.bvh', clip: null, speed: 1, energy: 1, inPlace: true, blend: 12, standing: true };
      const steps = [{ id: 'a', on: true, step: 'retarget', settings: { clips: [taken] } }];
      const asked = { original: item.original, model: item.model, name: item.name, steps };
      const done = (await v.post(`/api/pieces/${id}/prepare`, asked)).body;
      expect(done.asset.facts.clips).toMatchObject([{ name: 'steps' }]);
      await keepMade(id, item, steps, done.asset.model, add('stock', { id: 'm', ...motion }));
      // whose motion it is counts as the model's does
      const { document } = (await v.get(`/api/pieces/${id}`)).body as { document: Piece };
      expect(
        licenceBlockers(document)
          .map((b) => b.stockId)
          .sort(),
      ).toEqual(['m', 's']);
      const { other, moved, there } = await carried(id);
      expect(there.document.recipes.s).toEqual({ id: 's', steps, result: done.asset.model });
      const again = await other.post(`/api/pieces/${moved}/prepare`, {
        ...asked,
        steps: [{ ...steps[0], settings: { clips: [{ ...taken, speed: 2 }] } }],
      });
      expect(again.body.asset.facts.clips[0].seconds).toBeCloseTo(done.asset.facts.clips[0].seconds / 2, 1);
      // what another yard has is not to be had by its hash
      const stranger = await signedIn();
      const own = await stranger.newPiece('Nothing here');
      const theirs = (await stranger.upload(own, [['stranger.glb', glb]])).body.items[0].item;
      const taking = await stranger.post(`/api/pieces/${own}/prepare`, { ...asked, original: theirs.original, model: theirs.model });
      expect(taking.status).toBe(404);
    },
  );

  test.runIf(inTurn('painted weights are laid on again'))(
    'painted weights are laid on again, also where a bundle was carried to',
    async () => {
      const id = await v.newPiece('Painted');
      const { item } = (await v.upload(id, [['strand.glb', await new WebIO().writeBinary(bentTube(12, 16))]])).body.items[0];
      // what a brush left: the upper end follows the first bone alone
      const bones = Array.from({ length: 4 }, (_, i) => ({ name: `bone ${i}`, head: [0, i * 0.05, 0] as Vec }));
      const corners: Vec[] = Array.from({ length: 3 }, (_, i) => [
        0.02 * Math.sin((i * Math.PI) / 6),
        0.2,
        0.02 * Math.cos((i * Math.PI) / 6),
      ]);
      const patch = patchDocument({
        positions: Float32Array.from(corners.flat()),
        triangles: Uint32Array.from([0, 1, 2]),
        bones,
        joints: new Uint16Array(12),
        shares: Float32Array.from({ length: 12 }, (_, i) => (i % 4 ? 0 : 1)),
      });
      const sent = (await v.upload(id, [['weights.glb', await new WebIO().writeBinary(patch)]])).body.items[0].item;
      const steps = [{ id: 'a', on: true, step: 'weights', settings: { taken: [{ weights: sent.model, name: 'weights.glb' }] } }];
      const asked = { original: item.original, model: item.model, name: item.name, steps };
      const done = (await v.post(`/api/pieces/${id}/prepare`, asked)).body;
      expect(done.unmatched).toEqual([]);
      expect(done.asset.model).not.toBe(item.model);
      await keepMade(id, item, steps, done.asset.model);
      const { other, moved } = await carried(id);
      const again = await other.post(`/api/pieces/${moved}/prepare`, asked);
      expect(again.body.asset.model).toBe(done.asset.model);
      // of another yard's the hash alone is nothing
      const gone = { ...steps[0], settings: { taken: [{ weights: 'a'.repeat(64), name: 'weights.glb' }] } };
      expect((await v.post(`/api/pieces/${id}/prepare`, { ...asked, steps: [gone] })).status).toBe(404);
    },
  );

  test('a result that nobody made here is refused; a recipe that leaves nothing is refused', async () => {
    const id = await v.newPiece('Forged');
    const { item } = (await v.upload(id, [['s.glb', await spectaclesGlb()]])).body.items[0];
    const forged = await v.post(`/api/pieces/${id}/edits`, {
      saveId: 'f',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [
        add('stock', { id: 's', ...item }),
        add('recipes', {
          id: 's',
          ...{ steps: [{ id: 'a', on: true, step: 'mend', settings: { ops: ['weld'] } }], result: 'f'.repeat(64) },
        }),
      ],
    });
    expect([forged.status, forged.body.error.code]).toEqual([422, 'stock/unknown']);
    const missing = await v.post(`/api/pieces/${id}/prepare`, {
      original: item.original,
      model: item.model,
      name: item.name,
      steps: [{ id: 'a', on: true, step: 'relink', settings: { links: [{ wanted: 'x', picture: 'e'.repeat(64), name: 'x' }] } }],
    });
    expect(missing.status).toBe(404);
  });
});
