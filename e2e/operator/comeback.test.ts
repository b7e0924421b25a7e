/** A Scaphos as an operator runs it: what ends of itself comes back, a stop is soon over, a folder has one at a time. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { commandOf, freePort, isAlive, sleep } from '@/cli/process';
import { PIECE_SCHEMA, settings } from '@/core/piece';
import { pennantPng } from '../../demo/media';
import { inTurn } from '../support/sweep';

let dir: string;
let port: number;
let program: ChildProcess;
let said = '';
const HANG_MS = 120_000;

/** The program with these words, on a data folder. */
const scaphos = (words: string[], data = dir) =>
  spawn(process.execPath, ['dist/cli/main.js', ...words], {
    env: { ...process.env, SCAPHOS_DATA: data, SCAPHOS_ROOT: process.cwd(), SCAPHOS_LOG: 'error' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
async function asked(words: string[], data = dir): Promise<{ code: number | null; out: string }> {
  const child = scaphos(words, data);
  let out = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (d) => {
      out += d;
    });
  return { code: await ended(child), out };
}
function begin(p = port, data = dir): ChildProcess {
  const child = scaphos(['start', '--port', String(p)], data);
  for (const out of [child.stdout, child.stderr])
    out?.on('data', (d) => {
      said += d;
    });
  return child;
}
const ended = (child: ChildProcess) =>
  new Promise<number | null>((r) => (child.exitCode === null ? child.once('exit', r) : r(child.exitCode)));
const url = (path: string) => `http://127.0.0.1:${port}${path}`;
const healthy = () =>
  fetch(url('/api/health')).then(
    (r) => r.ok,
    () => false,
  );
async function until(what: () => boolean | Promise<boolean>): Promise<void> {
  for (const end = Date.now() + HANG_MS; Date.now() < end; await sleep(50)) {
    // what is asked for may not be there yet
    const is = await Promise.resolve()
      .then(what)
      .catch(() => false);
    if (is) return;
  }
  throw new Error(`never: ${what}\n${said.slice(-2000)}`);
}
const running = () => JSON.parse(readFileSync(join(dir, 'running.json'), 'utf8')) as { pid: number; children: number[] };
const childLike = (pattern: RegExp) => running().children.find((pid) => pattern.test(commandOf(pid)));

beforeAll(async () => {
  // the program as it is now, if the source is newer
  execFileSync('./scaphos', ['--help']);
  dir = await mkdtemp(join(tmpdir(), 'scaphos-comeback-'));
  // a first start that was cut while it made its database
  await mkdir(join(dir, 'db.half', 'mysql'), { recursive: true });
  await mkdir(join(dir, 'db'), { recursive: true });
  port = await freePort();
  program = begin();
  await until(async () => running().children.length === 2 && (await healthy()));
});
afterAll(async () => {
  program.kill('SIGTERM');
  await ended(program);
  await rm(dir, { recursive: true, force: true });
});

describe('while it runs', () => {
  test('another for the same folder is refused, and the first goes on as if nothing were', async () => {
    const before = running();
    const second = begin(await freePort());
    expect(await ended(second)).toBe(75);
    expect(said).toContain(`in use by a running Scaphos (process ${program.pid})`);
    expect(running()).toEqual(before);
    expect(await healthy()).toBe(true);
  });

  test.each([
    ['the application', /next/],
    ['the database', /mariadbd/],
  ])('%s comes back when it is killed', async (_, pattern) => {
    const old = childLike(pattern) as number;
    process.kill(old, 'SIGKILL');
    await until(async () => (childLike(pattern) ?? old) !== old && (await healthy()));
    expect(isAlive(old)).toBe(false);
    expect(program.exitCode).toBeNull();
  });
});

test('accounts are seen to beside it', async () => {
  const enter = async (password: string) => {
    const body = JSON.stringify({ email: 'second@example.test', password });
    const r = await fetch(url('/api/session'), { method: 'POST', headers: { 'content-type': 'application/json', origin: url('') }, body });
    return {
      status: r.status,
      cookie: r.headers
        .getSetCookie()
        .map((c) => c.split(';')[0])
        .join('; '),
    };
  };
  const seen = async (cookie: string) => (await fetch(url('/api/yards'), { headers: { cookie } })).status;
  const who = ['--email', 'second@example.test'];
  expect(await asked(['account', 'add', ...who, '--password', 'first long password'])).toMatchObject({ code: 0 });
  const first = await enter('first long password');
  expect(await seen(first.cookie)).toBe(200);
  expect((await asked(['account', 'list'])).out).toMatch(/^second@example.test\tsecond\tsince \d{4}-\d\d-\d\d\t1 sessions$/m);
  expect((await asked(['account', 'password', ...who, '--password', 'short'])).code).toBe(64);
  expect((await asked(['account', 'password', '--email', 'nobody@example.test', '--password', 'next long password'])).code).toBe(64);
  expect(await seen(first.cookie)).toBe(200);
  expect((await asked(['account', 'password', ...who, '--password', 'next long password'])).code).toBe(0);
  expect(await seen(first.cookie)).toBe(401);
  expect((await enter('first long password')).status).toBe(401);
  const next = await enter('next long password');
  expect(await seen(next.cookie)).toBe(200);
  expect((await asked(['session', 'end', ...who])).out).toContain('1 session of second@example.test ended');
  expect(await seen(next.cookie)).toBe(401);
  expect((await asked(['account', 'sing'])).code).toBe(64);
});

test.runIf(inTurn('a copy made while somebody saves'))(
  'a copy made while somebody saves is a state that some instant had, and becomes a Scaphos again',
  async () => {
    const login = await fetch(url('/api/session'), {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: url('') },
      body: JSON.stringify({ email: 'second@example.test', password: 'next long password' }),
    });
    const cookie = login.headers
      .getSetCookie()
      .map((c) => c.split(';')[0])
      .join('; ');
    const at = (p: number) => async (method: string, path: string, body?: unknown) =>
      (
        await fetch(`http://127.0.0.1:${p}${path}`, {
          method,
          headers: { cookie, origin: `http://127.0.0.1:${p}`, 'content-type': 'application/json' },
          body: JSON.stringify(body),
        })
      ).json();
    const call = at(port);
    const [yard] = await call('GET', '/api/yards');
    const { id } = await call('POST', `/api/yards/${yard.id}/pieces`, { name: 'Saved' });
    const picture = await pennantPng();
    const upload = await fetch(url('/api/uploads'), {
      method: 'POST',
      headers: {
        cookie,
        origin: url(''),
        'tus-resumable': '1.0.0',
        'upload-length': String(picture.length),
        'content-type': 'application/offset+octet-stream',
      },
      body: picture as Uint8Array<ArrayBuffer>,
    });
    const uploaded = { id: (upload.headers.get('location') as string).replace(/^.*\//, ''), name: 'pennant.png' };
    const { items } = await call('POST', `/api/pieces/${id}/assets`, { uploads: [uploaded] });
    let [revision, stop] = [0, false];
    const save = async () => {
      const edits = [settings({ name: `Revision ${revision + 1}` })];
      revision = (
        await call('POST', `/api/pieces/${id}/edits`, { saveId: `s${revision}`, baseRevision: revision, schema: PIECE_SCHEMA, edits })
      ).revision;
    };
    await save();
    const saving = (async () => {
      while (!stop) await save();
    })();
    const copy = join(dir, '..', `${basename(dir)}-copy`);
    const again = join(dir, '..', `${basename(dir)}-again`);
    const torn = join(dir, '..', `${basename(dir)}-torn`);
    try {
      const before = revision;
      expect(await asked(['backup', copy])).toMatchObject({ code: 0 });
      stop = true;
      await saving;
      expect(revision).toBeGreaterThan(before);
      // a second one copies what is new alone
      expect((await asked(['backup', copy])).out).toContain(' 0 of them are new');
      expect((await asked(['verify'])).out).toContain('all are whole');
      expect((await asked(['restore', copy])).code).toBe(73);
      expect(await asked(['restore', copy], again)).toMatchObject({ code: 0, out: expect.stringContaining('all are whole') });
      const other = await freePort();
      const restored = begin(other, again);
      await until(() => fetch(`http://127.0.0.1:${other}/api/health`).then((r) => r.ok));
      const piece = await at(other)('GET', `/api/pieces/${id}`);
      expect(piece.revision).toBeGreaterThanOrEqual(before);
      expect(piece.document.settings.name).toBe(`Revision ${piece.revision}`);
      const file = await fetch(`http://127.0.0.1:${other}/api/pieces/${id}/assets/${items[0].item.original}`, { headers: { cookie } });
      expect(new Uint8Array(await file.arrayBuffer())).toEqual(new Uint8Array(picture));
      restored.kill('SIGTERM');
      expect(await ended(restored)).toBe(0);
      // what is missing, cut or altered is told
      const { original } = items[0].item;
      const blob = join(again, 'blobs', original.slice(0, 2), original);
      await writeFile(blob, new Uint8Array([...picture.slice(0, -1), picture[picture.length - 1] ^ 1]));
      expect(await asked(['verify'], again)).toMatchObject({ code: 1, out: expect.stringContaining(`${original} is altered`) });
      await rm(blob);
      expect(await asked(['verify'], again)).toMatchObject({ code: 1, out: expect.stringContaining(`${original} is not there`) });
      // a copy that cannot be put back leaves no half of a database
      await writeFile(join(copy, 'database.sql'), 'CREATE TABLE half (a INT); no sql;');
      expect((await asked(['restore', copy], torn)).code).toBe(70);
      expect(existsSync(join(torn, 'db'))).toBe(false);
    } finally {
      stop = true;
      for (const folder of [copy, again, torn]) await rm(folder, { recursive: true, force: true });
    }
    const { out } = await asked(['audit', '--json', '--since', '2026-01-01']);
    const rows = out.split('\n').flatMap((l) => (l.startsWith('{') ? [JSON.parse(l)] : []));
    const here = rows.filter((r) => r.from === 'command line').map((r) => [r.what, r.subject]);
    expect(here).toContainEqual(['account/made', 'second@example.test']);
    expect(here).toContainEqual(['account/password', 'second@example.test']);
    expect((await asked(['audit', '--since', 'soon'])).code).toBe(64);
  },
);

test('stopped, it is gone with all that it started, though somebody listens; killed, the next one clears up after it', async () => {
  const entered = await fetch(url('/api/session'), {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: url('') },
    body: JSON.stringify({ email: 'second@example.test', password: 'next long password' }),
  });
  expect(entered.status).toBe(200);
  const cookie = entered.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ');
  const call = async (method: string, path: string, body?: unknown) =>
    (
      await fetch(url(path), {
        method,
        headers: { cookie, origin: url(''), 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).json();
  const [yard] = await call('GET', '/api/yards');
  const piece = await call('POST', `/api/yards/${yard.id}/pieces`, { name: 'Heard' });
  const stream = await fetch(url(`/api/pieces/${piece.id}/jobs/events`), { headers: { cookie } });
  const reader = (stream.body as ReadableStream<Uint8Array>).getReader();
  await reader.read();
  const { children } = running();
  program.kill('SIGTERM');
  for (let next = await reader.read(); !next.done; next = await reader.read());
  expect(await ended(program)).toBe(0);
  for (const pid of children) expect(isAlive(pid)).toBe(false);
  expect(existsSync(join(dir, 'running.json'))).toBe(false);

  await mkdir(join(dir, 'tmp', 'left-behind'), { recursive: true });
  // a process of somebody else's, whose number a note of long ago holds
  const stranger = spawn('sleep', ['600'], { stdio: 'ignore' });
  program = begin();
  await until(async () => running().children.length === 2 && (await healthy()));
  const left = running().children;
  program.kill('SIGKILL');
  await ended(program);
  await writeFile(join(dir, 'running.json'), JSON.stringify({ pid: 1, children: [...left, stranger.pid] }));
  expect(left.every(isAlive)).toBe(true);
  program = begin();
  await until(async () => running().pid === program.pid && (await healthy()));
  expect(left.some(isAlive)).toBe(false);
  expect(isAlive(stranger.pid as number)).toBe(true);
  stranger.kill();
  expect(existsSync(join(dir, 'tmp', 'left-behind'))).toBe(false);
  // what was made before it was killed is there
  const kept = ((await call('GET', `/api/yards/${yard.id}/pieces`)) as { name: string }[]).map((p) => p.name);
  expect(kept).toContain('Heard');
});
