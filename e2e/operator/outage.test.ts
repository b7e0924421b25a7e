/** A site of its own, before there is an account, restarted half way through an upload, and without its database. In this order. */
import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { createAccount } from '@/server/accounts';
import { openDatabase } from '@/server/db';
import { createYard } from '@/server/yards';
import { bellWav } from '../../demo/media';
import { PASSWORD } from '../support/http';
import { startTestSite, type TestSite } from '../support/site';

describe('a site of its own', () => {
  let site: TestSite;
  beforeAll(async () => {
    site = await startTestSite();
  });
  afterAll(() => site.stop());

  test('asks for its first account; its pages carry a policy without unsafe-eval', async () => {
    const page = await fetch(`${site.url}/sign-in`);
    const policy = page.headers.get('content-security-policy') ?? '';
    expect(policy).toMatch(/script-src 'self' 'nonce-[^']+'/);
    expect(policy).toContain("'wasm-unsafe-eval'");
    expect(policy).not.toMatch(/'unsafe-eval'/);
    // with no account yet, the first visit makes one
    expect(await page.text()).toContain('Make the first account and its yard');
    expect((await fetch(`${site.url}/api/health`)).status).toBe(200);
    // outside demo mode there is no demo door
    const demo = await fetch(`${site.url}/api/session/demo`, { method: 'POST', headers: { origin: site.url } });
    expect(demo.status).toBe(404);
  });

  test('restarted half way through an upload it still has what was sent; the rest follows', async () => {
    const bell = bellWav();
    const db = openDatabase(site.dbUrl);
    const account = await createAccount(db, { email: 'restart@example.test', name: 'Restart', password: PASSWORD });
    const yard = await createYard(db, 'Restart yard', account.id);
    await db.destroy();
    const head = (more: Record<string, string> = {}) => ({ origin: site.url, cookie: session, 'tus-resumable': '1.0.0', ...more });
    const signIn = await fetch(`${site.url}/api/session`, {
      method: 'POST',
      headers: { origin: site.url, 'content-type': 'application/json' },
      body: JSON.stringify({ email: 'restart@example.test', password: PASSWORD }),
    });
    const session = signIn.headers
      .getSetCookie()
      .find((c) => c.startsWith('scaphos_session='))
      ?.split(';')[0] as string;
    const json = (path: string, body: unknown) =>
      fetch(site.url + path, { method: 'POST', headers: head({ 'content-type': 'application/json' }), body: JSON.stringify(body) });
    const id = (await (await json(`/api/yards/${yard}/pieces`, { name: 'Restart' })).json()).id;
    const made = await fetch(`${site.url}/api/uploads`, { method: 'POST', headers: head({ 'upload-length': String(bell.length) }) });
    const at = `${site.url}${made.headers.get('location')}`;
    const patch = (from: number, to: number) =>
      fetch(at, {
        method: 'PATCH',
        headers: head({ 'upload-offset': String(from), 'content-type': 'application/offset+octet-stream' }),
        body: bell.slice(from, to) as Uint8Array<ArrayBuffer>,
      });
    await patch(0, 100_000);
    await site.down();
    await expect(fetch(`${site.url}/api/health`)).rejects.toThrow();
    await site.up();
    const asked = await fetch(at, { method: 'HEAD', headers: head() });
    expect(asked.headers.get('upload-offset')).toBe('100000');
    await patch(100_000, bell.length);
    const taken = await json(`/api/pieces/${id}/assets`, {
      uploads: [{ id: at.replace(/^.*\//, ''), name: 'bell.wav', sha256: createHash('sha256').update(bell).digest('hex') }],
    });
    expect(taken.status).toBe(201);
  });

  test('says so when the database is away', async () => {
    await site.stopDatabase();
    const health = await fetch(`${site.url}/api/health`);
    expect(health.status).toBe(503);
    expect((await health.json()).ok).toBe(false);
    const yards = await fetch(`${site.url}/api/yards`, { headers: { cookie: 'scaphos_session=x' } });
    expect([yards.status, (await yards.json()).error.code]).toEqual([503, 'http/database']);
  });
});
