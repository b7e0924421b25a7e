import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { zipSync } from 'fflate';
import { validateBytes } from 'gltf-validator';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { add, createModelPart, type Edit, PIECE_SCHEMA, type Piece, settings } from '@/core/piece';
import { spectaclesGlb } from '../../demo/models/spectacles';
import { BRASS, CUBE_OBJ, createThing, picture } from '../support/faulty';
import { closeTestDatabase, signedIn, testDatabase, type Visitor } from '../support/http';

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

  test('facts kept in an older shape are read anew, once', async () => {
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

  test('whoever is told that the piece moved on, while files are read for the answer, holds nobody else up', async () => {
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
  });
});

describe('recipes', () => {
  test('a recipe gives a model of its own; the original stays; the piece draws and delivers the mended one', async () => {
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
    const again = (await v.post(`/api/pieces/${id}/prepare`, { original: item.original, model: item.model, name: item.name, steps })).body;
    expect(again.asset.model).toBe(done.asset.model);
    const saved = await v.post(`/api/pieces/${id}/edits`, {
      saveId: 'r',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [
        add('stock', { id: 's', ...item }),
        add('recipes', { id: 's', steps: steps as never, result: done.asset.model }),
        add('parts', createModelPart('p', 's', 'Spectacles')),
      ],
    });
    expect(saved.status).toBe(200);
    const glb = (await v.get(`/api/pieces/${id}/packages/glb`)).body;
    const bounds = (await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb)).getRoot().listMeshes()[0].listPrimitives()[0];
    expect(Math.abs(bounds.getAttribute('POSITION')?.getMax([])[0] ?? 9)).toBeLessThan(0.2);
    // it travels: the bundle carries original, recipe and result
    const bundle = (await v.get(`/api/pieces/${id}/packages/bundle`)).body;
    const other = await signedIn();
    const moved = (await other.call('POST', `/api/yards/${other.yard}/bundles`, bundle)).body.id;
    const there = (await other.get(`/api/pieces/${moved}`)).body;
    expect((there.document as Piece).recipes.s).toEqual({ id: 's', steps, result: done.asset.model });
    expect(there.assets.some((a: { model: string; facts: unknown }) => a.model === done.asset.model && a.facts)).toBe(true);
  });

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
