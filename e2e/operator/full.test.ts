/** A site on a small disk: files are refused while there is still room for what is saved; with none at all it says so and lives on. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { open, rm, statfs } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { boxGlb } from '@/core/intake/samples';
import { PIECE_SCHEMA, settings } from '@/core/piece';
import { createAccount } from '@/server/accounts';
import { openDatabase } from '@/server/db';
import { createYard } from '@/server/yards';
import { PASSWORD } from '../support/http';
import { startTestSite, type TestSite } from '../support/site';

const MB = 1_000_000;
const disk = mkdtempSync(join(tmpdir(), 'scaphos-small-'));
/** Only the system's owner may make a disk. */
const made = (() => {
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=420m', 'tmpfs', disk], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
})();

describe.skipIf(!made)('a small disk', () => {
  let site: TestSite;
  let cookie = '';
  let yard = '';
  let piece = '';
  let revision = 0;
  const free = async () => {
    const { bavail, bsize } = await statfs(disk);
    return bavail * bsize;
  };
  const call = async (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) => {
    const raw = body instanceof Uint8Array;
    const answer = await fetch(site.url + path, {
      method,
      headers: { origin: site.url, cookie, ...(raw || body === undefined ? {} : { 'content-type': 'application/json' }), ...headers },
      body: body === undefined ? undefined : raw ? (body as BodyInit) : JSON.stringify(body),
    });
    const json = (answer.headers.get('content-type') ?? '').includes('json');
    return { status: answer.status, headers: answer.headers, body: json ? await answer.json() : null };
  };
  const save = () =>
    call('POST', `/api/pieces/${piece}/edits`, {
      saveId: `s${revision}`,
      baseRevision: revision,
      schema: PIECE_SCHEMA,
      edits: [settings({ name: `Name ${revision}` })],
    });
  const send = (bytes: Uint8Array) =>
    call('POST', '/api/uploads', bytes, {
      'tus-resumable': '1.0.0',
      'upload-length': String(bytes.length),
      'content-type': 'application/offset+octet-stream',
    });
  /** Something else takes room until so much is left. */
  const fillTo = async (left: number) => {
    const file = await open(join(disk, 'others'), 'a');
    for (const block = Buffer.alloc(MB); (await free()) - MB > left; ) await file.write(block);
    const rest = (await free()) - left;
    if (rest > 0) await file.write(Buffer.alloc(rest)).catch(() => undefined);
    await file.close();
  };

  beforeAll(async () => {
    site = await startTestSite({ SCAPHOS_RESERVE_MB: '100' }, disk);
    const db = openDatabase(site.dbUrl);
    const account = await createAccount(db, { email: 'small@example.test', name: 'Small', password: PASSWORD });
    yard = await createYard(db, 'Small yard', account.id);
    await db.destroy();
    const entered = await call('POST', '/api/session', { email: 'small@example.test', password: PASSWORD });
    cookie = entered.headers
      .getSetCookie()
      .map((c) => c.split(';')[0])
      .join('; ');
    piece = (await call('POST', `/api/yards/${yard}/pieces`, { name: 'Small' })).body.id;
  });
  afterAll(async () => {
    await site?.stop();
    execFileSync('umount', [disk], { stdio: 'ignore' });
    rmSync(disk, { recursive: true, force: true });
  });

  test('what is kept for saves is taken by no file; saves go on', async () => {
    expect((await send(await boxGlb())).status).toBe(201);
    await fillTo(101 * MB);
    const large = await send(new Uint8Array(3 * MB));
    expect([large.status, large.body.error.code]).toEqual([507, 'http/full']);
    expect(large.body.error.message).toMatch(/has 10\d(\.\d)? MB left, and 100(\.0)? MB are kept for what you save/);
    const bundle = await call('POST', `/api/yards/${yard}/bundles`, new Uint8Array(3 * MB));
    expect([bundle.status, bundle.body.error.code]).toEqual([507, 'http/full']);
    // what fits is taken
    expect((await send(await boxGlb())).status).toBe(201);
    await fillTo(60 * MB);
    for (let i = 0; i < 30; i++) {
      expect((await save()).body).toEqual({ revision: revision + 1 });
      revision++;
    }
  });

  test('with nothing left it answers and lives; what was acknowledged is there when there is room again, and work goes on', async () => {
    await fillTo(0);
    const kept: number[] = [];
    for (let i = 0; i < 20; i++) {
      const answer = await save();
      if (answer.status === 200) {
        revision++;
        kept.push(revision);
      } else expect([answer.status, answer.body.error.code]).toEqual([507, 'http/full']);
    }
    expect((await send(await boxGlb())).body.error.code).toBe('http/full');
    expect((await call('GET', '/api/yards')).body).toHaveLength(1);
    await rm(join(disk, 'others'));
    const now = (await call('GET', `/api/pieces/${piece}`)).body;
    expect([now.revision, now.document.settings.name]).toEqual([revision, `Name ${revision - 1}`]);
    expect((await save()).status).toBe(200);
    expect((await send(await boxGlb())).status).toBe(201);
    expect(kept.length).toBeLessThanOrEqual(20);
  });
});
