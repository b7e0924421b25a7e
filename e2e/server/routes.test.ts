import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, onTestFinished, test } from 'vitest';
import { libraryFinish } from '@/core/finish';
import { boxGlb } from '@/core/intake/samples';
import { add, change, changePart, copyFinishRow, createModelPart, PIECE_SCHEMA, settings } from '@/core/piece';
import { pennantPng } from '../../demo/media';
import { type Answer, closeTestDatabase, PASSWORD, signedIn, siteUrl, testDatabase, Visitor } from '../support/http';
import { inTurn } from '../support/sweep';

afterAll(closeTestDatabase);

/** The routes of the build, as `METHODS path` would be too fine: one entry a path. */
const built: string[] = Object.values(
  JSON.parse(readFileSync('.next/app-path-routes-manifest.json', 'utf8')) as Record<string, string>,
).filter((r) => r.startsWith('/api/'));
/** Routes that belong to no yard. */
const OPEN = ['/api/health', '/api/session', '/api/session/demo', '/api/setup', '/api/yards'];

describe('every route is scoped to its yard', () => {
  let owner: Visitor;
  let stranger: Visitor;
  let piece: string;
  let sha: string;
  let upload: string;
  beforeAll(async () => {
    [owner, stranger] = [await signedIn(), await signedIn()];
    piece = await owner.newPiece();
    upload = await owner.send(new Uint8Array(4));
    sha = (await owner.upload(piece, [['box.glb', await boxGlb()]])).body.items[0].item.original;
  });

  const cases: Record<string, (v: Visitor) => Promise<Answer>[]> = {
    '/api/pieces/[piece]': (v) => {
      const read = v.get(`/api/pieces/${piece}`);
      return [read, read.then(() => v.call('DELETE', `/api/pieces/${piece}`))];
    },
    '/api/pieces/[piece]/assets': (v) => [
      v.post(`/api/pieces/${piece}/assets`, { uploads: [{ id: upload.replace(/^.*\//, ''), name: 'a.glb' }] }),
    ],
    '/api/pieces/[piece]/assets/[sha]': (v) => [v.get(`/api/pieces/${piece}/assets/${sha}`)],
    '/api/pieces/[piece]/assets/[sha]/drawn': (v) => [v.get(`/api/pieces/${piece}/assets/${sha}/drawn`)],
    '/api/pieces/[piece]/copy': (v) => [v.post(`/api/pieces/${piece}/copy`)],
    '/api/pieces/[piece]/cover': (v) => [
      v.get(`/api/pieces/${piece}/cover`),
      v.call('PUT', `/api/pieces/${piece}/cover?revision=0`, new Uint8Array(8)),
    ],
    '/api/pieces/[piece]/edits': (v) => [
      v.post(`/api/pieces/${piece}/edits`, { saveId: 'x', baseRevision: 0, schema: PIECE_SCHEMA, edits: [settings({ name: 'Stolen' })] }),
    ],
    '/api/pieces/[piece]/packages/[kind]': (v) => [
      v.get(`/api/pieces/${piece}/packages/glb`),
      v.get(`/api/pieces/${piece}/packages/bundle`),
    ],
    '/api/pieces/[piece]/prepare': (v) => [
      v.post(`/api/pieces/${piece}/prepare`, {
        original: sha,
        model: sha,
        name: 'box.glb',
        steps: [{ id: 'a', on: true, step: 'mend', settings: { ops: ['weld'] } }],
      }),
    ],
    '/api/pieces/[piece]/jobs': (v) => [
      v.get(`/api/pieces/${piece}/jobs`),
      v.post(`/api/pieces/${piece}/jobs`, {
        job: 'measure',
        target: { stock: 's', original: sha, model: sha, name: 'box.glb', kind: null },
        steps: [],
      }),
    ],
    '/api/pieces/[piece]/jobs/[job]': (v) => [v.call('DELETE', `/api/pieces/${piece}/jobs/x`), v.post(`/api/pieces/${piece}/jobs/x`)],
    '/api/pieces/[piece]/jobs/events': (v) => [v.get(`/api/pieces/${piece}/jobs/events`)],
    '/api/pieces/[piece]/restore': (v) => [v.post(`/api/pieces/${piece}/restore`)],
    '/api/pieces/[piece]/versions': (v) => [v.get(`/api/pieces/${piece}/versions`)],
    '/api/pieces/[piece]/versions/[revision]': (v) => [
      v.get(`/api/pieces/${piece}/versions/0`),
      v.call('PUT', `/api/pieces/${piece}/versions/0`, { name: 'Stolen' }),
      v.call('DELETE', `/api/pieces/${piece}/versions/0`),
    ],
    '/api/pieces/[piece]/weight': (v) => [v.get(`/api/pieces/${piece}/weight`)],
    '/api/uploads/[[...id]]': (v) => [
      v.tus('HEAD', upload),
      v.tus('PATCH', upload, { 'upload-offset': '0' }, new Uint8Array(4)),
      v.tus('DELETE', upload),
    ],
    '/api/yards/[yard]': (v) => [v.call('PUT', `/api/yards/${owner.yard}`, { name: 'Stolen' })],
    '/api/yards/[yard]/weights': (v) => [v.get(`/api/yards/${owner.yard}/weights`)],
    '/api/yards/[yard]/bundles': (v) => [v.call('POST', `/api/yards/${owner.yard}/bundles`, new Uint8Array(8))],
    '/api/yards/[yard]/recipes': (v) => [
      v.get(`/api/yards/${owner.yard}/recipes`),
      v.post(`/api/yards/${owner.yard}/recipes`, { name: 'Stolen', steps: [{ step: 'prune', settings: {} }] }),
    ],
    '/api/yards/[yard]/recipes/[recipe]': (v) => [v.call('DELETE', `/api/yards/${owner.yard}/recipes/x`)],
    '/api/yards/[yard]/finishes': (v) => [
      v.get(`/api/yards/${owner.yard}/finishes`),
      v.post(`/api/yards/${owner.yard}/finishes`, {
        name: 'Stolen',
        clip: copyFinishRow({ stock: {}, recipes: {} }, libraryFinish('brass', 'a')),
      }),
    ],
    '/api/yards/[yard]/finishes/[finish]': (v) => [v.call('DELETE', `/api/yards/${owner.yard}/finishes/x`)],
    '/api/yards/[yard]/pieces': (v) => [v.get(`/api/yards/${owner.yard}/pieces`), v.post(`/api/yards/${owner.yard}/pieces`, { name: 'x' })],
  };

  test('the build has a case for each of its routes', () => {
    expect(built.length).toBeGreaterThan(10);
    expect([...Object.keys(cases), ...OPEN].sort()).toEqual([...built].sort());
  });

  test.each(Object.keys(cases))('%s: another yard’s account gets 404, a stranger without account 401', async (route) => {
    for (const answer of await Promise.all(cases[route](stranger))) expect(answer.status).toBe(404);
    for (const answer of await Promise.all(cases[route](new Visitor('nobody')))) expect(answer.status).toBe(401);
  });

  test.runIf(inTurn('a member of the yard is let in everywhere'))(
    'a member of the yard is let in everywhere, for reading and for writing',
    async () => {
      const member = await signedIn();
      const { id } = await testDatabase()('accounts').where({ email: member.email }).first('id');
      const mine = [piece, sha, upload] as const;
      piece = await owner.newPiece();
      sha = (await owner.upload(piece, [['box.glb', await boxGlb()]])).body.items[0].item.original;
      onTestFinished(() => {
        [piece, sha, upload] = mine;
      });
      const refused: string[] = [];
      const ask = async () => {
        refused.length = 0;
        for (const [route, of] of Object.entries(cases)) {
          // a stream that does not end: below
          if (route.endsWith('/events')) continue;
          // what is asked for may be nowhere, or an account's own: the piece and the yard are found
          for (const { status, body } of await Promise.all(of(member)))
            if ([401, 403].includes(status) || /no such (piece|yard) here/.test(body?.error?.message)) refused.push(`${route}: ${status}`);
          // deleted by the tries themselves
          await owner.post(`/api/pieces/${piece}/restore`);
        }
      };
      await ask();
      expect(refused.length).toBeGreaterThan(15);
      await testDatabase()('members').insert({ yard_id: owner.yard, account_id: id });
      await ask();
      expect(refused).toEqual([]);
      const ending = new AbortController();
      const stream = await fetch(`${siteUrl()}/api/pieces/${piece}/jobs/events`, { headers: member.headers(), signal: ending.signal });
      expect(stream.status).toBe(200);
      ending.abort();
    },
  );

  test('and nothing was changed by the tries', async () => {
    const { body } = await owner.get(`/api/pieces/${piece}`);
    expect(body.document.settings.name).toBe('Test piece');
    expect(body.revision).toBe(0);
    expect((await owner.tus('HEAD', upload)).headers.get('upload-offset')).toBe('4');
  });

  test('a recipe cannot name another yard’s picture, whoever knows its hash: no bundle hands its bytes out', async () => {
    const secret = (await stranger.upload(await stranger.newPiece(), [['secret.png', await pennantPng(64)]])).body.items[0].item;
    const mine = await owner.newPiece();
    const box = (await owner.upload(mine, [['box.glb', await boxGlb()]])).body.items[0].item;
    const recipe = (picture: string) => ({
      id: 's',
      result: box.model,
      steps: [{ id: 'a', on: true, step: 'relink', settings: { links: [{ wanted: 'x.png', picture, name: 'x.png' }] } }],
    });
    const save = (saveId: string, picture: string) =>
      owner.post(`/api/pieces/${mine}/edits`, {
        saveId,
        baseRevision: 0,
        schema: PIECE_SCHEMA,
        edits: [add('stock', { id: 's', ...box }), { kind: 'add', table: 'recipes', row: recipe(picture) }],
      });
    const answer = await save('r1', secret.original);
    expect([answer.status, answer.body.error.code]).toEqual([422, 'stock/unknown']);
    const own = (await owner.upload(mine, [['own.png', await pennantPng(48)]])).body.items[0].item;
    expect((await save('r2', own.original)).status).toBe(200);
  });

  test('a file of one yard cannot be named into a piece of another', async () => {
    const theirs = await stranger.newPiece();
    const item = { id: 's', name: 'box.glb', kind: 'model', original: sha, model: sha, bytes: 1 };
    const answer = await stranger.post(`/api/pieces/${theirs}/edits`, {
      saveId: 'y',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [{ kind: 'add', table: 'stock', row: item }],
    });
    expect([answer.status, answer.body.error.code]).toEqual([422, 'stock/unknown']);
  });
});

describe('signing in', () => {
  test('unknown account and wrong password get the same words', async () => {
    const v = await signedIn();
    const wrong = await new Visitor('w').post('/api/session', { email: v.email, password: 'not this one' });
    const unknown = await new Visitor('u').post('/api/session', { email: `nobody-${v.email}`, password: 'not this one' });
    expect(wrong.status).toBe(401);
    expect(unknown.body).toEqual(wrong.body);
  });

  test('the cookie is httpOnly and lax; signing out ends the session on the server', async () => {
    const v = await signedIn();
    const answer = await v.post('/api/session', { email: v.email, password: PASSWORD });
    expect(answer.headers.get('set-cookie')).toMatch(/HttpOnly/i);
    expect(answer.headers.get('set-cookie')).toMatch(/SameSite=lax/i);
    expect(answer.headers.get('set-cookie')).not.toMatch(/Secure/i);
    // behind a proxy that speaks TLS to the browser it is for TLS alone
    const body = JSON.stringify({ email: v.email, password: PASSWORD });
    const headers = { 'content-type': 'application/json', origin: siteUrl(), 'x-forwarded-proto': 'https' };
    const behind = await fetch(`${siteUrl()}/api/session`, { method: 'POST', headers, body });
    expect([behind.status, behind.headers.get('set-cookie')]).toEqual([200, expect.stringMatching(/Secure/i)]);
    const cookie = (answer.headers.getSetCookie()[0] ?? '').split(';')[0];
    expect((await v.call('DELETE', '/api/session')).status).toBe(200);
    const again = await fetch(`${siteUrl()}/api/yards`, { headers: { cookie } });
    expect(again.status).toBe(401);
  });

  test('after ten wrong tries it asks to wait', async () => {
    const { email } = await signedIn();
    const v = new Visitor('r');
    const tries = [];
    for (let i = 0; i < 11; i++) tries.push((await v.post('/api/session', { email, password: `wrong ${i}` })).status);
    expect(tries).toEqual([...Array(10).fill(401), 429]);
    expect((await v.post('/api/session', { email, password: PASSWORD })).body.error.message).toMatch(/Wait \d+ minute/);
  });

  test('writes from another origin, or without one, are refused', async () => {
    const v = await signedIn();
    expect((await v.call('POST', '/api/yards', { name: 'x' }, { origin: 'https://elsewhere.example' })).status).toBe(403);
    const none = await fetch(`${siteUrl()}/api/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' });
    expect(none.status).toBe(403);
  });

  test('the first account cannot be made twice', async () => {
    const v = await signedIn();
    expect((await v.post('/api/setup', { name: 'A', email: 'a@b.example', password: PASSWORD, yard: 'Y' })).status).toBe(409);
  });
});

describe('saving', () => {
  test('the same save sent twice counts once; an older base is told what changed; nothing is overwritten', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    const save = (saveId: string, baseRevision: number, name: string) =>
      v.post(`/api/pieces/${piece}/edits`, { saveId, baseRevision, schema: PIECE_SCHEMA, edits: [settings({ name })] });
    expect((await save('one', 0, 'First')).body).toEqual({ revision: 1 });
    expect((await save('one', 0, 'First')).body).toEqual({ revision: 1 });
    expect((await save('one', 1, 'First')).body).toEqual({ revision: 1 });
    const late = await save('two', 0, 'Late');
    expect(late.status).toBe(409);
    expect(late.body.error.details).toMatchObject({ revision: 1, changed: ['settings:name'], document: { settings: { name: 'First' } } });
    expect((await v.get(`/api/pieces/${piece}`)).body).toMatchObject({ revision: 1, document: { settings: { name: 'First' } } });
  });

  test('the same save sent several times at once counts once, and each is told so', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    for (let n = 0; n < 5; n++) {
      const save = () =>
        v.post(`/api/pieces/${piece}/edits`, {
          saveId: `s${n}`,
          baseRevision: n,
          schema: PIECE_SCHEMA,
          edits: [settings({ name: `${n}` })],
        });
      for (const { body } of await Promise.all([save(), save(), save(), save()])) expect(body).toEqual({ revision: n + 1 });
    }
    expect((await v.get(`/api/pieces/${piece}`)).body).toMatchObject({ revision: 5, document: { settings: { name: '4' } } });
  });

  test('two saves at once on one base: one wins, the other is told', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    const both = await Promise.all(
      ['a', 'b'].map((n) =>
        v.post(`/api/pieces/${piece}/edits`, { saveId: n, baseRevision: 0, schema: PIECE_SCHEMA, edits: [settings({ name: n })] }),
      ),
    );
    expect(both.map((a) => a.status).sort()).toEqual([200, 409]);
  });

  test('an edit that does not fit, and junk, are refused whole', async () => {
    const v = await signedIn();
    const piece = await v.newPiece();
    const half = await v.post(`/api/pieces/${piece}/edits`, {
      saveId: 'h',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [settings({ name: 'Half' }), changePart('nope', { visible: true })],
    });
    expect([half.status, half.body.error.code]).toEqual([422, 'edit/missing']);
    for (const body of [
      {},
      { saveId: 'j', baseRevision: 0, schema: PIECE_SCHEMA, edits: [{ kind: 'explode' }] },
      { saveId: 'j', baseRevision: -1, schema: PIECE_SCHEMA, edits: [] },
      'text',
      null,
    ])
      expect((await v.post(`/api/pieces/${piece}/edits`, body)).status).toBe(400);
    expect((await v.get(`/api/pieces/${piece}`)).body.document.settings.name).toBe('Test piece');
  });
});

describe('pieces', () => {
  test('duplicate, delete, restore; a deleted piece is not to be had until then', async () => {
    const v = await signedIn();
    const piece = await v.newPiece('Lamp');
    const copy = (await v.post(`/api/pieces/${piece}/copy`)).body.id;
    expect((await v.get(`/api/pieces/${copy}`)).body.document.settings.name).toBe('Lamp, copy');
    expect((await v.call('DELETE', `/api/pieces/${piece}`)).status).toBe(200);
    expect((await v.get(`/api/pieces/${piece}`)).status).toBe(404);
    const listed = (await v.get(`/api/yards/${v.yard}/pieces`)).body.find((p: { id: string }) => p.id === piece);
    expect(listed.deletedAt).not.toBeNull();
    expect((await v.post(`/api/pieces/${piece}/restore`)).status).toBe(200);
    expect((await v.get(`/api/pieces/${piece}`)).status).toBe(200);
  });

  test('weight and packages of a piece: nothing hung weighs nothing and is refused; hung, the weight is the file’s size', async () => {
    const v = await signedIn();
    const piece = await v.newPiece('Box');
    expect((await v.get(`/api/pieces/${piece}/weight`)).body.bytes).toBe(0);
    expect((await v.get(`/api/pieces/${piece}/packages/glb`)).body.error.code).toBe('deliver/empty');
    const { item } = (await v.upload(piece, [['box.glb', await boxGlb()]])).body.items[0];
    await v.post(`/api/pieces/${piece}/edits`, {
      saveId: 's',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [add('stock', { id: 's', ...item }), add('parts', createModelPart('p', 's', 'Box'))],
    });
    // hung, but nobody has said whose it is
    expect((await v.get(`/api/pieces/${piece}/packages/glb`)).body.error.code).toBe('deliver/licence');
    const credit = { author: '', source: '', licence: 'own-work' };
    await v.post(`/api/pieces/${piece}/edits`, {
      saveId: 't',
      baseRevision: 1,
      schema: PIECE_SCHEMA,
      edits: [change('stock', 's', { credit: credit })],
    });
    const glb = await v.get(`/api/pieces/${piece}/packages/glb`);
    expect(glb.headers.get('content-disposition')).toContain('box.glb');
    expect((await v.get(`/api/pieces/${piece}/weight`)).body.bytes).toBe(glb.body.length);
    // of all pieces of the yard in one answer; what is not known yet is begun and told when one asks again
    const bare = await v.newPiece('Bare');
    const gone = await v.newPiece('Gone');
    await v.call('DELETE', `/api/pieces/${gone}`);
    await expect
      .poll(async () => (await v.get(`/api/yards/${v.yard}/weights`)).body, { timeout: 60_000 })
      .toEqual({ [piece]: { revision: 2, bytes: glb.body.length }, [bare]: { revision: 0, bytes: 0 } });
  });

  test('a yard is renamed by its members; pieces come with what a card shows, the one changed last first', async () => {
    const v = await signedIn();
    expect((await v.call('PUT', `/api/yards/${v.yard}`, { name: 'Slipway' })).status).toBe(200);
    expect((await v.get('/api/yards')).body.find((y: { id: string }) => y.id === v.yard).name).toBe('Slipway');
    expect((await v.call('PUT', `/api/yards/${v.yard}`, { name: '' })).status).toBe(400);
    const [first, second] = [await v.newPiece('First'), await v.newPiece('Second')];
    expect((await v.get(`/api/pieces/${first}`)).body.yard).toEqual({ id: v.yard, name: 'Slipway' });
    await v.post(`/api/pieces/${first}/edits`, {
      saveId: 'n',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [settings({ name: 'Again', profile: 'wide' })],
    });
    const listed = (await v.get(`/api/yards/${v.yard}/pieces`)).body as { id: string }[];
    expect(listed.filter((p) => p.id === first || p.id === second).map((p) => p.id)).toEqual([first, second]);
    expect(listed[0]).toMatchObject({ name: 'Again', profile: 'wide', reached: 'stock', deletedAt: null });
    expect(listed[0]).not.toHaveProperty('document');
  });

  test('health answers once the database does', async () => {
    expect((await new Visitor('h').get('/api/health')).body.ok).toBe(true);
  });
});
