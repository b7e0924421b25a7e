/** Who is let in, by which name, for how long; what a stranger may send. */
import { readdirSync, statfsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { type ClientRequest, type IncomingMessage, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { emptyDemoDir, markDemo, readDemoMark } from '@/cli/data';
import { claimForDemo } from '@/cli/serve';
import { boxGlb } from '@/core/intake/samples';
import { countAccounts, createAccount, sweepSessions } from '@/server/accounts';
import { readAudit } from '@/server/audit';
import { type Knex, migrateUp, openDatabase } from '@/server/db';
import { changePassword, setUpFirst } from '@/server/setup';
import { rememberDevice, signIn } from '@/server/signin';
import { closeTestDatabase, PASSWORD, signedIn, siteUrl, testDatabase, Visitor } from '../support/http';

afterAll(closeTestDatabase);

const MINUTE = 60_000;
const enter = (v: Visitor, email: string, password = PASSWORD) => v.post('/api/session', { email, password });

describe('signing in', () => {
  let serial = 0;
  const newAccount = async (name = 'tries') => {
    const email = `${name}-${process.pid}-${serial++}@example.test`;
    await createAccount(testDatabase(), { email, name: 'Tries', password: PASSWORD });
    return email;
  };

  test('of many tries at once no more than ten are checked, however the address is spelled', async () => {
    const email = await newAccount();
    const spellings = [email, email.toUpperCase(), email.replace('tries', 'tríes'), ` ${email.replace('e', 'é')} `];
    const answers = await Promise.all(Array.from({ length: 40 }, (_, i) => enter(new Visitor('t'), spellings[i % 4], 'not this one')));
    const told = Object.fromEntries(
      [...new Set(answers.map((a) => a.status))].map((s) => [s, answers.filter((a) => a.status === s).length]),
    );
    expect(told).toEqual({ 401: 10, 429: 30 });
    expect((await enter(new Visitor('t'), email)).status).toBe(429);
  });

  test('an address that nobody has is counted alike', async () => {
    const answers = [];
    for (let i = 0; i < 11; i++)
      answers.push((await enter(new Visitor('t'), i % 2 ? 'nobody.é@example.test' : 'nobody.e@example.test')).status);
    expect(answers).toEqual([...Array(10).fill(401), 429]);
  });

  test('a stranger’s wrong tries do not lock out who has signed in from this browser before', async () => {
    const email = await newAccount();
    const owner = new Visitor(email);
    expect((await enter(owner, email)).status).toBe(200);
    await owner.call('DELETE', '/api/session');
    for (let i = 0; i < 11; i++) await enter(new Visitor('t'), email, 'not this one');
    expect((await enter(new Visitor('t'), email)).status).toBe(429);
    expect((await enter(owner, email)).status).toBe(200);
    // it is known for its own account only, and its own wrong tries count
    const other = await newAccount();
    for (let i = 0; i < 10; i++) await enter(new Visitor('t'), other, 'not this one');
    expect((await enter(owner, other)).status).toBe(429);
    const tries = [];
    for (let i = 0; i < 11; i++) tries.push((await enter(owner, email, 'not this one')).status);
    expect(tries).toEqual([...Array(10).fill(401), 429]);
  });

  test('wrong tries count for a quarter of an hour each, and no longer once one was right', async () => {
    const email = await newAccount();
    const at = (ms: number, password = 'not this one') =>
      signIn(testDatabase(), { email, password }, ms).then(
        () => 'in',
        (e: Error) => e.message,
      );
    for (let i = 0; i < 10; i++) expect(await at(i * MINUTE)).toMatch('do not belong together');
    expect(await at(10 * MINUTE, PASSWORD)).toMatch('Wait 5 minutes');
    expect(await at(15 * MINUTE - 1, PASSWORD)).toMatch('Wait 1 minute ');
    // the first has gone: one more may be had
    expect(await at(15 * MINUTE)).toMatch('do not belong together');
    expect(await at(15 * MINUTE + 1)).toMatch('There were 10 wrong tries.');
    expect(await at(16 * MINUTE, PASSWORD)).toBe('in');
    for (let i = 0; i < 10; i++) expect(await at(16 * MINUTE + i)).toMatch('do not belong together');
  });
});

describe('before there is an account', () => {
  let db: Knex;
  const url = () => (process.env.SCAPHOS_DB_URL as string).replace(/\/scaphos$/, '/scaphos_first');
  beforeAll(async () => {
    await testDatabase().raw('CREATE DATABASE scaphos_first CHARACTER SET utf8mb4');
    db = openDatabase(url());
    await migrateUp(db);
  });
  afterAll(async () => {
    await db.destroy();
    await testDatabase().raw('DROP DATABASE scaphos_first');
  });

  test('a folder is the demo’s where no one has worked in it yet, and stays it', async () => {
    const dir = await mkdtemp(join(tmpdir(), 'scaphos-demo-'));
    try {
      await expect(claimForDemo(process.env.SCAPHOS_DB_URL as string, dir)).rejects.toThrow('holds work that no demo made');
      expect(await readDemoMark(dir)).toBeNull();
      expect(await claimForDemo(url(), dir)).toEqual({ seeded: false });
      expect(await readDemoMark(dir)).toEqual({ seeded: false });
    } finally {
      await rm(dir, { recursive: true });
    }
  });

  test('five that ask for the first one at once make one', async () => {
    const ask = (n: number) => setUpFirst(db, { email: `first-${n}@example.test`, name: 'First', password: PASSWORD, yard: 'Yard' });
    const done = await Promise.allSettled([1, 2, 3, 4, 5].map(ask));
    expect(done.filter((d) => d.status === 'fulfilled')).toHaveLength(1);
    expect(await countAccounts(db)).toBe(1);
  });
});

test('starting over empties a demo’s folder, its half uploads too, and no other', async () => {
  const dir = await mkdtemp(join(tmpdir(), 'scaphos-demo-'));
  try {
    const fill = async () => {
      for (const name of ['db', 'blobs', 'uploads']) await mkdir(join(dir, name), { recursive: true });
      await writeFile(join(dir, 'of-mine.txt'), '');
    };
    await fill();
    await expect(emptyDemoDir(dir)).rejects.toThrow('may be somebody’s work');
    expect((await readdir(dir)).sort()).toEqual(['blobs', 'db', 'of-mine.txt', 'uploads']);
    await markDemo(dir, true);
    await emptyDemoDir(dir);
    expect(await readdir(dir)).toEqual(['of-mine.txt']);
    await emptyDemoDir(dir);
  } finally {
    await rm(dir, { recursive: true });
  }
});

/** A request whose headers are all one's own. */
function raw(method: string, path: string, headers: Record<string, string>, send: (r: ClientRequest) => void = (r) => r.end()) {
  return new Promise<{ status: number; body: string; response: IncomingMessage }>((resolve, reject) => {
    const r = request(siteUrl() + path, { method, headers }, (response) => {
      let body = '';
      response.on('data', (d) => {
        body += d;
      });
      response.on('end', () => resolve({ status: response.statusCode as number, body, response }));
    });
    r.on('error', reject);
    send(r);
  });
}

describe('by its name', () => {
  test('only what it is started under is answered, pages and routes', async () => {
    const { host } = new URL(siteUrl());
    for (const path of ['/sign-in', '/api/yards']) {
      expect((await raw('GET', path, { host: 'evil.example' })).status).toBe(421);
      expect((await raw('GET', path, { host: `localhost:${new URL(siteUrl()).port}` })).status).not.toBe(421);
      // without a public address no proxy stands in front
      expect((await raw('GET', path, { host, 'x-forwarded-host': 'evil.example' })).status).not.toBe(421);
    }
    const headers = { host, 'x-forwarded-host': 'evil.example', origin: 'http://evil.example', 'content-type': 'application/json' };
    expect((await raw('POST', '/api/session', headers)).status).toBe(403);
  });
});

describe('what is signed out', () => {
  let v: Visitor;
  let piece: string;
  let path: string;
  beforeAll(async () => {
    v = await signedIn();
    piece = await v.newPiece();
    const { item } = (await v.upload(piece, [['box.glb', await boxGlb()]])).body.items[0];
    path = `/api/pieces/${piece}/assets/${item.original}`;
  });

  test('sees no file that its browser kept', async () => {
    const first = await v.get(path);
    expect(first.headers.get('cache-control')).toBe('private, no-cache');
    const kept = { 'if-none-match': first.headers.get('etag') as string };
    for (const address of [path, `${path}/drawn`]) {
      const tag = (await v.get(address)).headers.get('etag') as string;
      expect((await v.call('GET', address, undefined, { 'if-none-match': `"other", W/${tag}` })).status).toBe(304);
    }
    const stranger = await signedIn();
    expect((await stranger.call('GET', path, undefined, kept)).status).toBe(404);
    const left = new Visitor(v.email);
    await enter(left, v.email);
    expect((await left.call('GET', path, undefined, kept)).status).toBe(304);
    const out = await left.call('DELETE', '/api/session');
    expect(out.headers.get('clear-site-data')).toBe('"cache"');
    expect((await left.call('GET', path, undefined, kept)).status).toBe(401);
  });

  test('hears no more of its jobs', async () => {
    const left = new Visitor(v.email);
    await enter(left, v.email);
    const stream = await fetch(`${siteUrl()}/api/pieces/${piece}/jobs/events`, { headers: left.headers() });
    const reader = (stream.body as ReadableStream<Uint8Array>).getReader();
    expect(new TextDecoder().decode((await reader.read()).value)).toContain('told');
    await left.call('DELETE', '/api/session');
    // ends; whoever is still signed in goes on hearing
    for (let next = await reader.read(); !next.done; next = await reader.read());
    const goesOn = await fetch(`${siteUrl()}/api/pieces/${piece}/jobs/events`, { headers: v.headers() });
    expect(goesOn.status).toBe(200);
    await goesOn.body?.cancel();
  });

  test('a question for a file’s headers leaves no file open', async () => {
    const open = () => readdirSync(`/proc/${process.env.SCAPHOS_TEST_PID}/fd`).length;
    await v.call('HEAD', path);
    const before = open();
    for (let i = 0; i < 60; i++) expect((await v.call('HEAD', path)).status).toBe(200);
    expect(open() - before).toBeLessThan(30);
  });
});

describe('what is sent', () => {
  const piecemeal = (bytes: number, done: { sent: number }) => (r: ClientRequest) => {
    const chunk = Buffer.alloc(64 * 1024, '[');
    const more = () => {
      while (done.sent < bytes) {
        done.sent += chunk.length;
        if (!r.write(chunk)) return void r.once('drain', more);
      }
      r.end();
    };
    more();
  };
  test.each([
    ['a stranger', '/api/session', 'application/json', false],
    ['a cover', '/cover?revision=0', 'image/png', true],
  ])('by %s is cut as soon as it is too long, whatever was declared', async (_, path, type, signed) => {
    const v = await signedIn();
    const address = signed ? `/api/pieces/${await v.newPiece()}${path}` : path;
    const headers = { ...v.headers(), 'content-type': type, 'transfer-encoding': 'chunked' };
    const done = { sent: 0 };
    const answer = await raw(signed ? 'PUT' : 'POST', address, headers, piecemeal(300e6, done)).catch((e: Error) => e);
    if (!(answer instanceof Error)) expect(answer.status).toBe(413);
    // what lies in the sockets’ buffers was sent too
    expect(done.sent).toBeLessThan(40e6);
  });
});

test('whoever runs it hears how it is: room, queue, readers, the state of the database', async () => {
  const v = await signedIn();
  const piece = await v.newPiece();
  const { body: before } = await v.get('/api/health');
  expect(before).toMatchObject({ ok: true, schema: '007-finishes', jobs: { queued: expect.any(Number), running: expect.any(Number) } });
  // what the machine itself says of the disk that its data lie on
  const disk = statfsSync(tmpdir());
  const freeMb = (disk.bavail * disk.bsize) / 1e6;
  expect(before.freeMb).toBeGreaterThan(freeMb * 0.8);
  expect(before.freeMb).toBeLessThan(freeMb * 1.25);
  const row = { yard_id: v.yard, piece_id: piece, request: '{}', created_at: new Date() };
  await testDatabase()('jobs').insert(
    [1, 2, 3].map((n) => ({ ...row, id: `${piece.slice(0, 20)}-${n}`, state: n > 1 ? 'running' : 'stopped' })),
  );
  const { body: after } = await v.get('/api/health');
  expect(after.jobs.running - before.jobs.running).toBe(2);
  await testDatabase()('jobs').where({ piece_id: piece }).delete();
});

test('what has run out is forgotten: sessions to the second, browsers after a year', async () => {
  const [v, email] = [await signedIn(), `swept-${process.pid}@example.test`];
  const { id } = await createAccount(testDatabase(), { email, name: 'Swept', password: PASSWORD });
  const now = new Date();
  const ago = (ms: number) => new Date(now.getTime() - ms);
  const row = (n: number) => ({ token_hash: String(n).repeat(64), account_id: id });
  await testDatabase()('sessions').insert([
    { ...row(1), expires_at: ago(1_000) },
    { ...row(2), expires_at: ago(-1_000) },
  ]);
  await testDatabase()('devices').insert([
    { ...row(3), created_at: ago(366 * 86_400_000) },
    { ...row(4), created_at: ago(364 * 86_400_000) },
  ]);
  await sweepSessions(testDatabase(), now);
  const left = async (table: string) =>
    (await testDatabase()(table).where({ account_id: id }).pluck('token_hash')).map((t: string) => t[0]);
  expect([await left('sessions'), await left('devices')]).toEqual([['2'], ['4']]);
  expect((await v.get('/api/yards')).status).toBe(200);
});

test('another password forgets the browsers of its account, and nobody else’s', async () => {
  const [v, other] = [await signedIn(), await signedIn()];
  const idOf = async (email: string): Promise<string> => (await testDatabase()('accounts').where({ email }).first('id')).id;
  const [mine, theirs] = [await idOf(v.email), await idOf(other.email)];
  await rememberDevice(testDatabase(), mine);
  await rememberDevice(testDatabase(), theirs);
  const count = async (id: string) => Number((await testDatabase()('devices').where({ account_id: id }).count({ n: '*' }))[0].n);
  const before = await count(theirs);
  await changePassword(testDatabase(), mine, 'another lantern altogether');
  expect([await count(mine), await count(theirs)]).toEqual([0, before]);
  expect([(await v.get('/api/yards')).status, (await other.get('/api/yards')).status]).toEqual([401, 200]);
  expect((await enter(new Visitor('t'), v.email)).status).toBe(401);
  expect((await enter(new Visitor('t'), v.email, 'another lantern altogether')).status).toBe(200);
});

test('who did what is written down for good: when, in which yard, and from where, whatever the caller says of itself', async () => {
  const v = await signedIn();
  const [{ id: me }] = await testDatabase()('accounts').where({ email: v.email }).select('id');
  const began = new Date(Date.now() - 60_000);
  await v.call('POST', '/api/session', { email: v.email, password: 'not this one' }, { 'x-forwarded-for': '203.0.113.7' });
  await v.call('POST', '/api/session', { email: v.email, password: PASSWORD }, { 'x-forwarded-for': '203.0.113.7' });
  const piece = await v.newPiece('Kept in mind');
  expect((await v.get(`/api/pieces/${piece}/packages/bundle`)).status).toBe(200);
  await v.call('DELETE', `/api/pieces/${piece}`);
  await v.post(`/api/pieces/${piece}/restore`);
  const [recipe] = (await v.post(`/api/yards/${v.yard}/recipes`, { name: 'Gone', steps: [{ step: 'prune', settings: {} }] })).body;
  await v.call('DELETE', `/api/yards/${v.yard}/recipes/${recipe.id}`);
  await v.call('DELETE', '/api/session');
  const rows = (await readAudit(testDatabase(), began)).filter((r) => r.account === v.email || r.subject === v.email);
  const here = '127.0.0.1';
  expect(rows.map(({ at: _, ...r }) => r)).toEqual([
    { what: 'session/open', account: v.email, yard: null, subject: null, from: here },
    { what: 'session/refused', account: null, yard: null, subject: v.email, from: here },
    { what: 'session/open', account: v.email, yard: null, subject: null, from: here },
    { what: 'export/bundle', account: v.email, yard: v.yard, subject: `Kept in mind, revision 0 (${piece})`, from: here },
    { what: 'piece/deleted', account: v.email, yard: v.yard, subject: piece, from: here },
    { what: 'piece/restored', account: v.email, yard: v.yard, subject: piece, from: here },
    { what: 'recipe/deleted', account: v.email, yard: v.yard, subject: recipe.id, from: here },
    { what: 'session/closed', account: v.email, yard: null, subject: null, from: here },
  ]);
  for (const r of rows) expect(Math.abs(Date.parse(r.at) - Date.now())).toBeLessThan(600_000);
  const own = () => testDatabase()('audit').where({ account_id: me });
  await expect(own().update({ what: 'nothing' })).rejects.toThrow('kept for good');
  await expect(own().delete()).rejects.toThrow('kept for good');
  expect(await own()).toHaveLength(7);
});
