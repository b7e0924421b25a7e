/** Where one yard ends and another begins, for ids that exist; what ends with time; what there may be at most. */
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { libraryFinish } from '@/core/finish';
import { boxGlb } from '@/core/intake/samples';
import { copyFinishRow, PIECE_SCHEMA, settings } from '@/core/piece';
import { pennantPng } from '../../demo/media';
import { type Answer, closeTestDatabase, signedIn, testDatabase, type Visitor } from '../support/http';

afterAll(closeTestDatabase);

const DAY = 86_400_000;
const told = ({ status, body }: Answer) => [status, body.error?.code];

let owner: Visitor;
let piece: string;
let sha: string;
beforeAll(async () => {
  owner = await signedIn();
  piece = await owner.newPiece();
  sha = (await owner.upload(piece, [['box.glb', await boxGlb([0.03, 0.02, 0.01])]])).body.items[0].item.original;
});

describe('what is another yard’s, through one’s own piece', () => {
  let stranger: Visitor;
  let theirs: string;
  beforeAll(async () => {
    stranger = await signedIn();
    theirs = await stranger.newPiece();
  });
  const target = () => ({ stock: 's', original: sha, model: sha, name: 'box.glb', kind: null });
  const steps = [{ id: 'a', on: true, step: 'prune', settings: {} }];

  test('its files are not there: not to fetch, to draw, to prepare, nor for a job', async () => {
    for (const path of [`assets/${sha}`, `assets/${sha}/drawn`]) {
      expect((await owner.get(`/api/pieces/${piece}/${path}`)).status).toBe(200);
      expect(told(await stranger.get(`/api/pieces/${theirs}/${path}`))).toEqual([404, 'http/not-found']);
    }
    const { stock: _, kind: __, ...file } = target();
    expect((await stranger.post(`/api/pieces/${theirs}/prepare`, { ...file, steps })).status).toBe(404);
    const { body } = await stranger.post(`/api/pieces/${theirs}/jobs`, { job: 'measure', target: target(), steps });
    if (body.error) return;
    // a job that was taken ends without a result
    for (let i = 0; i < 600; i++) {
      const job = (await stranger.get(`/api/pieces/${theirs}/jobs`)).body.find((j: { id: string }) => j.id === body.id);
      if (job.state === 'failed') return expect([job.error.code, job.result]).toEqual(['http/not-found', null]);
      expect(['queued', 'running']).toContain(job.state);
      await new Promise((r) => setTimeout(r, 100));
    }
    throw new Error('The job never ended.');
  });

  test('its files go out in no package, whatever way their names came into a document', async () => {
    const mine = (await stranger.upload(theirs, [['ring.glb', await boxGlb([0.02, 0.02, 0.02])]])).body.items[0].item;
    const document = (await stranger.get(`/api/pieces/${theirs}`)).body.document;
    const linked = (picture: string) => ({
      ...document,
      stock: { s: { ...mine, id: 's' } },
      recipes: {
        s: {
          id: 's',
          result: mine.model,
          steps: [{ id: 'a', on: true, step: 'relink', settings: { links: [{ wanted: 'x.png', picture, name: 'x.png' }] } }],
        },
      },
    });
    const bundle = async (picture: string) => {
      await testDatabase()('pieces')
        .where({ id: theirs })
        .update({ document: JSON.stringify(linked(picture)) });
      return stranger.get(`/api/pieces/${theirs}/packages/bundle`);
    };
    expect(told(await bundle(sha))).toEqual([422, 'stock/unknown']);
    expect((await bundle(mine.original)).status).toBe(200);
    await testDatabase()('pieces')
      .where({ id: theirs })
      .update({ document: JSON.stringify(document) });
  });

  test('its uploads are not taken', async () => {
    const upload = await owner.send(await boxGlb());
    const take = (v: Visitor, p: string) =>
      v.post(`/api/pieces/${p}/assets`, { uploads: [{ id: upload.replace(/^.*\//, ''), name: 'box.glb' }] });
    expect(told(await take(stranger, theirs))).toEqual([404, 'http/not-found']);
    expect((await take(owner, piece)).status).toBe(201);
  });

  test('its jobs are neither stopped nor begun again', async () => {
    const job = (await owner.post(`/api/pieces/${piece}/jobs`, { job: 'measure', target: target(), steps: [] })).body.id;
    expect(job).toMatch(/./);
    for (const method of ['DELETE', 'POST'])
      expect(told(await stranger.call(method, `/api/pieces/${theirs}/jobs/${job}`))).toEqual([404, 'http/not-found']);
    expect((await owner.call('DELETE', `/api/pieces/${piece}/jobs/${job}`)).status).toBe(200);
  });

  test('its finishes stay, and are taken out by their own yard; pictures of another yard are taken along by nobody', async () => {
    const clip = copyFinishRow({ stock: {}, recipes: {} }, libraryFinish('brass', 'a'));
    const kept = await owner.post(`/api/yards/${owner.yard}/finishes`, { name: 'Mine', clip });
    const { id } = kept.body.find((r: { name: string }) => r.name === 'Mine');
    expect(told(await stranger.call('DELETE', `/api/yards/${stranger.yard}/finishes/${id}`))).toEqual([404, 'http/not-found']);
    expect((await owner.get(`/api/yards/${owner.yard}/finishes`)).body).toEqual([{ id, name: 'Mine', clip }]);
    const { body } = await owner.upload(piece, [['sail.png', await pennantPng()]]);
    const picture = { ...body.items[0].item, id: 'pic' };
    const base = { stock: 'pic', uv: 0 as const, offset: [0, 0] as [number, number], repeat: [1, 1] as [number, number], turnDeg: 0 };
    const finish = { ...clip.finish, maps: { ...clip.finish.maps, base } };
    const withPicture = { name: 'Sail', clip: { ...clip, finish, stock: [picture] } };
    expect(told(await stranger.post(`/api/yards/${stranger.yard}/finishes`, withPicture))).toEqual([422, 'stock/unknown']);
    expect((await owner.post(`/api/yards/${owner.yard}/finishes`, withPicture)).body).toHaveLength(2);
    // a map whose picture is not beside it is none
    const bare = { name: 'Bare', clip: { ...withPicture.clip, stock: [] } };
    expect((await owner.post(`/api/yards/${owner.yard}/finishes`, bare)).status).toBe(400);
    expect((await owner.call('DELETE', `/api/yards/${owner.yard}/finishes/${id}`)).body).toHaveLength(1);
  });

  test('its recipes stay, and are taken out by their own yard', async () => {
    const kept = await owner.post(`/api/yards/${owner.yard}/recipes`, { name: 'Mine', steps: [{ step: 'prune', settings: {} }] });
    const { id } = kept.body.find((r: { name: string }) => r.name === 'Mine');
    expect(told(await stranger.call('DELETE', `/api/yards/${stranger.yard}/recipes/${id}`))).toEqual([404, 'http/not-found']);
    expect((await owner.get(`/api/yards/${owner.yard}/recipes`)).body).toHaveLength(1);
    expect((await owner.call('DELETE', `/api/yards/${owner.yard}/recipes/${id}`)).body).toEqual([]);
  });
});

describe('what ends with time', () => {
  test('a session, to the second', async () => {
    const v = await signedIn();
    const sessions = testDatabase()('sessions').whereIn('account_id', testDatabase()('accounts').where({ email: v.email }).select('id'));
    await sessions.clone().update({ expires_at: new Date(Date.now() + 30_000) });
    expect((await v.get('/api/yards')).status).toBe(200);
    await sessions.clone().update({ expires_at: new Date(Date.now() - 1000) });
    expect((await v.get('/api/yards')).status).toBe(401);
  });

  test('a deleted piece can be had back for 30 days', async () => {
    const old = await owner.newPiece();
    await owner.call('DELETE', `/api/pieces/${old}`);
    const deleted = (days: number) =>
      testDatabase()('pieces')
        .where({ id: old })
        .update({ deleted_at: new Date(Date.now() - days * DAY) });
    await deleted(30.1);
    expect(told(await owner.post(`/api/pieces/${old}/restore`))).toEqual([410, 'piece/gone']);
    await deleted(29.9);
    expect((await owner.post(`/api/pieces/${old}/restore`)).status).toBe(200);
  });
});

describe('what there may be at most', () => {
  test('jobs of a piece that wait', async () => {
    const busy = await owner.newPiece();
    const ask = () =>
      owner.post(`/api/pieces/${busy}/jobs`, {
        job: 'measure',
        target: { stock: 's', original: sha, model: sha, name: 'box.glb', kind: null },
        steps: [],
      });
    const row = (n: number) => ({
      id: `${busy.slice(0, 20)}${String(n).padStart(6, '0')}`,
      yard_id: owner.yard,
      piece_id: busy,
      state: 'running',
      request: '{}',
      created_at: new Date(),
    });
    await testDatabase()('jobs').insert(Array.from({ length: 20 }, (_, n) => row(n)));
    expect(told(await ask())).toEqual([429, 'job/too-many']);
    await testDatabase()('jobs')
      .where({ id: row(0).id })
      .delete();
    expect((await ask()).body.id).toMatch(/./);
    await testDatabase()('jobs').where({ piece_id: busy }).delete();
  });

  test('recipes of a yard', async () => {
    const v = await signedIn();
    const steps = [{ step: 'prune', settings: {} }];
    const row = (n: number) => ({
      id: `${v.yard.slice(0, 20)}${String(n).padStart(6, '0')}`,
      yard_id: v.yard,
      name: `Recipe ${n}`,
      steps: JSON.stringify(steps),
      created_at: new Date(),
    });
    await testDatabase()('recipes').insert(Array.from({ length: 199 }, (_, n) => row(n)));
    const keep = (name: string) => v.post(`/api/yards/${v.yard}/recipes`, { name, steps });
    expect((await keep('The last')).body).toHaveLength(200);
    expect(told(await keep('One more'))).toEqual([422, 'recipe/too-many']);
    // one of a name that is there is written over
    expect((await keep('The last')).body).toHaveLength(200);
  });

  test('finishes of a yard', async () => {
    const v = await signedIn();
    const clip = copyFinishRow({ stock: {}, recipes: {} }, libraryFinish('brass', 'a'));
    const row = (n: number) => ({
      id: `${v.yard.slice(0, 20)}${String(n).padStart(6, '0')}`,
      yard_id: v.yard,
      name: `Finish ${n}`,
      clip: JSON.stringify(clip),
      created_at: new Date(),
    });
    await testDatabase()('finishes').insert(Array.from({ length: 199 }, (_, n) => row(n)));
    const keep = (name: string) => v.post(`/api/yards/${v.yard}/finishes`, { name, clip });
    expect((await keep('The last')).body).toHaveLength(200);
    expect(told(await keep('One more'))).toEqual([422, 'finish/too-many']);
    expect((await keep('The last')).body).toHaveLength(200);
  });

  test('the size of a request, a cover, an upload', async () => {
    const save = (name: string, pad: number) =>
      owner.post(`/api/pieces/${piece}/edits`, {
        saveId: 'large',
        baseRevision: 9,
        schema: PIECE_SCHEMA,
        edits: [settings({ name })],
        pad: 'x'.repeat(pad),
      });
    expect(told(await save('Large', 8_000_001))).toEqual([413, 'http/too-large']);
    expect((await save('Large', 7_000_000)).status).not.toBe(413);
    const cover = (bytes: number) => owner.call('PUT', `/api/pieces/${piece}/cover?revision=0`, new Uint8Array(bytes));
    expect(told(await cover(4_000_001))).toEqual([413, 'cover/too-large']);
    expect(told(await cover(4_000_000))).toEqual([422, 'cover/unreadable']);
    const begin = await owner.tus('POST', '/api/uploads', { 'upload-length': String(2 ** 40) });
    expect(begin.status).toBe(413);
  });

  test('an older cover never takes the place of a newer one', async () => {
    const p = await owner.newPiece();
    const edit = (n: number) =>
      owner.post(`/api/pieces/${p}/edits`, {
        saveId: `c${n}`,
        baseRevision: n,
        schema: PIECE_SCHEMA,
        edits: [settings({ name: `Cover ${n}` })],
      });
    for (let n = 0; n < 2; n++) expect((await edit(n)).status).toBe(200);
    const put = async (colour: string, revision: number) => {
      const png = await sharp({ create: { width: 8, height: 8, channels: 3, background: colour } })
        .png()
        .toBuffer();
      expect((await owner.call('PUT', `/api/pieces/${p}/cover?revision=${revision}`, new Uint8Array(png))).status).toBe(200);
      return [
        ...(
          await sharp((await owner.get(`/api/pieces/${p}/cover`)).body)
            .raw()
            .toBuffer()
        ).subarray(0, 3),
        // it is kept as a WebP, which changes colours a little
      ].map((x) => Math.round(x / 51) * 51);
    };
    expect(await put('#ff0000', 1)).toEqual([255, 0, 0]);
    expect(await put('#00ff00', 0)).toEqual([255, 0, 0]);
    expect(await put('#0000ff', 2)).toEqual([0, 0, 255]);
    // no cover shows a revision that is not there
    expect((await owner.call('PUT', `/api/pieces/${p}/cover?revision=3`, new Uint8Array(8))).status).toBe(400);
  });
});

describe('what a yard may take of the server', () => {
  test('files: what does not fit any more is refused with the figures, and brought in once there is room', async () => {
    const v = await signedIn();
    const home = await v.newPiece();
    const glb = await boxGlb([0.01, 0.02, 0.03]);
    const { item } = (await v.upload(home, [['box.glb', glb]])).body.items[0];
    const db = testDatabase();
    const large = 'f'.repeat(64);
    const [{ facts }] = await db('assets').where({ yard_id: v.yard }).select('facts');
    await db('blobs').insert({ sha256: large, bytes: 50e9 - glb.length - 100, last_named_at: new Date() });
    await db('assets').insert({ yard_id: v.yard, original: large, model: item.model, facts, created_at: new Date() });
    const bundle = (await v.get(`/api/pieces/${home}/packages/bundle`)).body as Uint8Array;
    const next = await boxGlb([0.02, 0.02, 0.02]);
    const refused = [await v.upload(home, [['next.glb', next]]), await v.call('POST', `/api/yards/${v.yard}/bundles`, bundle)];
    for (const r of refused) expect(told(r)).toEqual([413, 'yard/full']);
    expect(refused[0].body.error.message).toMatch(/^The yard holds 50\.0 GB of 50\.0 GB; there is no room for \d\.\d kB more\./);
    // another yard is not concerned
    expect((await owner.upload(piece, [['next.glb', next]])).status).toBe(201);
    await db('assets').where({ yard_id: v.yard, original: large }).delete();
    await db('blobs').where({ sha256: large }).delete();
    expect((await v.upload(home, [['next.glb', next]])).status).toBe(201);
  });

  test('files on their way, by what they said they are', async () => {
    const v = await signedIn();
    const begun: string[] = [];
    const begin = () => v.tus('POST', '/api/uploads', { 'upload-length': '400000000' });
    for (let i = 0; i < 25; i++) begun.push((await begin()).headers.get('location') as string);
    expect(told(await begin())).toEqual([429, 'upload/too-many']);
    expect((await v.tus('DELETE', begun[0])).status).toBe(204);
    expect((await begin()).status).toBe(201);
    const other = await signedIn();
    expect((await other.tus('POST', '/api/uploads', { 'upload-length': '400000000' })).status).toBe(201);
  });

  test('jobs that wait, over all its pieces', async () => {
    const [one, two] = [await owner.newPiece(), await owner.newPiece()];
    const row = (n: number) => ({
      id: `${two.slice(0, 20)}y${String(n).padStart(5, '0')}`,
      yard_id: owner.yard,
      piece_id: two,
      state: 'running',
      request: '{}',
      created_at: new Date(),
    });
    const ask = () =>
      owner.post(`/api/pieces/${one}/jobs`, {
        job: 'measure',
        target: { stock: 's', original: sha, model: sha, name: 'box.glb', kind: null },
        steps: [],
      });
    const jobs = () => testDatabase()('jobs').where({ yard_id: owner.yard });
    await jobs().delete();
    await testDatabase()('jobs').insert(Array.from({ length: 100 }, (_, i) => row(i)));
    expect(told(await ask())).toEqual([429, 'job/too-many']);
    await jobs()
      .where({ id: row(0).id })
      .delete();
    expect((await ask()).status).toBe(202);
    await jobs().delete();
  });
});

test('a piece that cannot be read is one that says so; the others of its yard are there', async () => {
  const v = await signedIn();
  const [good, torn, later] = [await v.newPiece('Good'), await v.newPiece('Torn'), await v.newPiece('Later')];
  const keep = (id: string, document: string) => testDatabase()('pieces').where({ id }).update({ document });
  await keep(torn, '{"schema": 4, "set');
  await keep(later, JSON.stringify({ schema: PIECE_SCHEMA + 1 }));
  const { status, body } = await v.get(`/api/yards/${v.yard}/pieces`);
  expect(status).toBe(200);
  const by = Object.fromEntries(body.map((p: { id: string }) => [p.id, p]));
  expect(by[good].name).toBe('Good');
  expect([by[torn].unreadable, by[later].unreadable]).toEqual([
    expect.stringContaining('is damaged'),
    expect.stringContaining('reads up to'),
  ]);
  for (const id of [torn, later])
    for (const path of ['', '/weight', '/packages/bundle']) expect((await v.get(`/api/pieces/${id}${path}`)).status).toBe(422);
  const weights = (await v.get(`/api/yards/${v.yard}/weights`)).body;
  expect([weights[good], weights[torn].why]).toEqual([{ revision: 0, bytes: 0 }, expect.stringContaining('is damaged')]);
  expect(
    told(
      await v.post(`/api/pieces/${torn}/edits`, { saveId: 'x', baseRevision: 0, schema: PIECE_SCHEMA, edits: [settings({ name: 'x' })] }),
    )[0],
  ).toBe(422);
});
