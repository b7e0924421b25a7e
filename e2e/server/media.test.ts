import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { buildFormBase, formObj, makeForm } from '@/core/form';
import { add, createModelPart, PIECE_SCHEMA, type Piece } from '@/core/piece';
import { collectBlobs } from '@/server/blobs';
import { bellWav, flameZip, pennantPng, skyHdr, walkBvh } from '../../demo/media';
import { closeTestDatabase, signedIn, testDatabase, type Visitor } from '../support/http';
import { inTurn } from '../support/sweep';

let v: Visitor;
const dir = mkdtempSync(join(tmpdir(), 'scaphos-media-'));
beforeAll(async () => {
  v = await signedIn();
});
afterAll(async () => {
  rmSync(dir, { recursive: true, force: true });
  await closeTestDatabase();
});
const bytes = (s: string) => new TextEncoder().encode(s);
const OWN = { author: 'Ines Marsh', source: '', licence: 'own-work' };
const bring = async (piece: string, name: string, b: Uint8Array) => (await v.upload(piece, [[name, b]])).body.items[0];
const edit = (piece: string, baseRevision: number, ...edits: unknown[]) =>
  v.post(`/api/pieces/${piece}/edits`, { saveId: `s${baseRevision}`, baseRevision, schema: PIECE_SCHEMA, edits });
const step = (s: string, settings: unknown) => ({ id: s, on: true, step: s, settings });

describe('what came in', () => {
  test('every kind is taken, with its facts; its bytes come back as they were', async () => {
    const id = await v.newPiece();
    for (const [name, b, kind] of [
      ['flame.zip', await flameZip(6, 24), 'sequence'],
      ['pennant.png', await pennantPng(96), 'picture'],
      ['bell.wav', bellWav(), 'sound'],
      ['dawn.hdr', skyHdr('quay-at-dawn', 64), 'environment'],
      ['walk.bvh', bytes(walkBvh()), 'motion'],
    ] as const) {
      const { item, asset } = await bring(id, name, b);
      expect([item.kind, asset.facts.kind, item.name]).toEqual([kind, kind, name]);
      const back = await v.get(`/api/pieces/${id}/assets/${item.original}`);
      expect(Buffer.compare(back.body, b)).toBe(0);
      expect((await v.get(`/api/pieces/${id}/assets/${item.model}`)).status).toBe(200);
    }
  });
  test('numbered frames dropped without a zip are one sequence, named after their folder', async () => {
    const id = await v.newPiece();
    const frame = new Uint8Array(
      await sharp({ create: { width: 8, height: 8, channels: 4, background: '#f00' } })
        .png()
        .toBuffer(),
    );
    const { body } = await v.upload(
      id,
      [1, 2, 10, 3].map((n): [string, Uint8Array] => [`glow/${n}.png`, frame]),
    );
    expect(body.items).toHaveLength(1);
    expect(body.items[0].item).toMatchObject({ kind: 'sequence', name: 'glow.zip' });
    expect(body.items[0].asset.facts.gaps).toEqual([4, 5, 6, 7, 8, 9]);
  });
  test('a stretch of a film or sound is served as one; a drawing is never served as a page', async () => {
    const id = await v.newPiece();
    const { item } = await bring(id, 'bell.wav', bellWav());
    const part = await v.call('GET', `/api/pieces/${id}/assets/${item.original}`, undefined, { range: 'bytes=10-19' });
    expect([part.status, part.headers.get('content-range'), part.headers.get('content-type')]).toEqual([
      206,
      `bytes 10-19/${item.bytes}`,
      'audio/wav',
    ]);
    expect(Buffer.compare(part.body, bellWav().slice(10, 20))).toBe(0);
    expect((await v.call('GET', `/api/pieces/${id}/assets/${item.original}`, undefined, { range: 'bytes=-5' })).body.length).toBe(5);
    expect((await v.call('GET', `/api/pieces/${id}/assets/${item.original}`, undefined, { range: 'bytes=99999999-' })).status).toBe(416);
    const svg = bytes('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><script>1</script><rect width="9" height="9"/></svg>');
    const drawn = await bring(id, 'a.svg', svg);
    expect((await v.get(`/api/pieces/${id}/assets/${drawn.item.original}`)).headers.get('content-type')).toBe('application/octet-stream');
    expect((await v.get(`/api/pieces/${id}/assets/${drawn.asset.facts.sha}`)).headers.get('content-type')).toBe('image/png');
  });
  test('what harms is refused with a code and a sentence', async () => {
    const id = await v.newPiece();
    const lie = bytes('#?RADIANCE\n\n-Y 60000 +X 60000\n');
    const answer = await v.upload(id, [['x.hdr', lie]]);
    expect([answer.status, answer.body.error.code]).toEqual([422, 'environment/too-large']);
    const named = await v.upload(id, [['x.wav', bytes('hello')]]);
    expect([named.status, named.body.error.code]).toEqual([422, 'file/wrong-name']);
  });
});

describe('a picture and a sequence hang', () => {
  test('prepared, hung, delivered as a valid GLB, taken to another yard, and kept while they are named', async () => {
    const id = await v.newPiece('Hung');
    const picture = await bring(id, 'pennant.png', await pennantPng(128));
    const sequence = await bring(id, 'flame.zip', await flameZip(5, 24));
    const steps = [step('alpha', { ops: ['bleed'] }), step('plane', { widthMm: 90 })];
    const ask = { original: picture.item.original, model: picture.item.model, name: 'pennant.png' };
    const done = (await v.post(`/api/pieces/${id}/prepare`, { ...ask, steps })).body;
    expect(done.asset.facts).toMatchObject({ kind: 'picture', sizeMm: [90, 90], type: 'image/png' });
    const wrong = await v.post(`/api/pieces/${id}/prepare`, { ...ask, steps: [step('mend', { ops: ['weld'] })] });
    expect([wrong.status, wrong.body.error.code]).toEqual([422, 'recipe/kind']);
    const outside = await v.post(`/api/pieces/${id}/prepare`, { ...ask, steps: [step('crop', { x: 0, y: 0, width: 900, height: 9 })] });
    expect([outside.status, outside.body.error.code]).toEqual([422, 'picture/crop']);
    const saved = await edit(
      id,
      0,
      add('stock', { id: 'a', ...picture.item, credit: OWN }),
      add('stock', { id: 'b', ...sequence.item, credit: OWN }),
      add('recipes', { id: 'a', steps: steps as never, result: done.asset.model }),
      add('parts', createModelPart('p', 'a', 'Pennant')),
      add('parts', createModelPart('q', 'b', 'Flame')),
    );
    expect(saved.status).toBe(200);
    const glb = (await v.get(`/api/pieces/${id}/packages/glb`)).body;
    expect((await validateBytes(glb)).issues.numErrors).toBe(0);
    const root = (await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb)).getRoot();
    expect(root.listAnimations()[0].listChannels()).toHaveLength(5);
    const width = root
      .listNodes()
      .find((n) => n.getName() === 'Pennant')
      ?.listChildren()[0]
      .getMesh()
      ?.listPrimitives()[0]
      .getAttribute('POSITION');
    expect(width?.getMax([])[0]).toBeCloseTo(0.045, 6);
    const bundle = (await v.get(`/api/pieces/${id}/packages/bundle`)).body;
    const other = await signedIn();
    const moved = (await other.call('POST', `/api/yards/${other.yard}/bundles`, bundle)).body.id;
    const there = (await other.get(`/api/pieces/${moved}`)).body;
    expect((there.document as Piece).stock).toEqual((await v.get(`/api/pieces/${id}`)).body.document.stock);
    expect(there.assets.filter((a: { facts: unknown }) => a.facts).length).toBeGreaterThanOrEqual(3);
    const again = (await other.get(`/api/pieces/${moved}/packages/glb`)).body;
    expect(Buffer.compare(again, glb)).toBe(0);
    // what only the facts name stays as long as the piece
    await collectBlobs(testDatabase(), new Date(Date.now() + 40 * 86_400_000));
    for (const sha of [done.asset.facts.sha, sequence.asset.facts.sheet.sha])
      expect((await v.get(`/api/pieces/${id}/assets/${sha}`)).status).toBe(200);
  });
  test('what cannot hang is refused; a recipe is only for its kind', async () => {
    const id = await v.newPiece();
    const { item } = await bring(id, 'bell.wav', bellWav());
    const hung = await edit(id, 0, add('stock', { id: 'a', ...item }), add('parts', createModelPart('p', 'a', 'Bell')));
    expect([hung.status, hung.body.error.code]).toEqual([422, 'edit/kind']);
  });
  test('a sound is trimmed by its fix and keeps its format', async () => {
    const id = await v.newPiece();
    const { item, asset } = await bring(id, 'bell.wav', bellWav());
    const { step: s, settings } = asset.facts.findings[0].fix;
    const { asset: after } = (
      await v.post(`/api/pieces/${id}/prepare`, {
        original: item.original,
        model: item.model,
        name: 'bell.wav',
        steps: [step(s, settings)],
      })
    ).body;
    expect(after.facts).toMatchObject({ kind: 'sound', format: 'wav', findings: [] });
    expect((await v.get(`/api/pieces/${id}/assets/${after.model}`)).headers.get('content-type')).toBe('audio/wav');
  });
  test.runIf(inTurn('a repainted picture takes its'))(
    'a repainted picture takes its texture’s place in the model, and says so where there is none',
    async () => {
      const id = await v.newPiece();
      const glb = await (await import('../../demo/models/spectacles')).spectaclesGlb();
      const model = await bring(id, 's.glb', glb);
      const [texture] = model.asset.facts.textures;
      const painted = new Uint8Array(
        await sharp({ create: { width: 64, height: 32, channels: 3, background: '#123456' } })
          .png()
          .toBuffer(),
      );
      const picture = await bring(id, `${texture.name}.png`, painted);
      const link = (name: string) =>
        step('repaint', { links: [{ texture: name, was: null, picture: picture.asset.facts.sha, name: picture.item.name }] });
      const ask = { original: model.item.original, model: model.item.model, name: 's.glb' };
      const { asset, unmatched } = (await v.post(`/api/pieces/${id}/prepare`, { ...ask, steps: [link(texture.name)] })).body;
      expect(unmatched).toEqual([]);
      expect(asset.facts.textures[0]).toMatchObject({ name: texture.name, width: 64, height: 32 });
      expect((await v.post(`/api/pieces/${id}/prepare`, { ...ask, steps: [link('no such')] })).body.unmatched[0]).toContain('no such');
    },
  );
});

describe('the form goes out and comes back', () => {
  test('as OBJ in centimetres with z up: found, put back, taken out', async () => {
    const id = await v.newPiece();
    const form = makeForm(buildFormBase(), 'M');
    // as another program writes it: centimetres, z up
    const moved = formObj(form, 'M').replace(
      /^v (\S+) (\S+) (\S+)$/gm,
      (_, x, y, z) => `v ${(x * 100).toFixed(5)} ${(-z * 100).toFixed(5)} ${(y * 100).toFixed(5)}`,
    );
    const brim = 'o brim\nv -10 -9 12\nv 10 -9 12\nv 10 9 12\nv -10 9 12\n';
    const n = form.positions.length / 3;
    const obj = `${moved}${brim}f ${n + 1} ${n + 2} ${n + 3}\nf ${n + 1} ${n + 3} ${n + 4}\n`;
    const { item, asset } = await bring(id, 'brim.obj', bytes(obj));
    expect(asset.facts.form).toMatchObject({ size: 'M', factor: 0.01, turnDeg: { yaw: 0, pitch: -90, roll: 0 }, mirrored: false });
    const { turnDeg, factor, shiftM } = asset.facts.form;
    const steps = [step('transform', { factor, turnDeg, shiftM, apply: false }), step('mend', { ops: ['the-form'] })];
    const done = (await v.post(`/api/pieces/${id}/prepare`, { original: item.original, model: item.model, name: 'brim.obj', steps })).body
      .asset.facts;
    expect(done.form).toBeNull();
    expect(done.triangles).toBe(2);
    [-0.1, 0.12, -0.09, 0.1, 0.12, 0.09].forEach((x, i) => {
      expect(Math.abs(done.boxM[i] - x)).toBeLessThan(1e-5);
    });
  });
});
