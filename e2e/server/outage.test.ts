import { describe, expect, test } from 'vitest';
import { startTestSite } from '../support/site';

describe('a site of its own', () => {
  test('says so when the database is away, and its pages carry a policy without unsafe-eval', async () => {
    const site = await startTestSite();
    try {
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
      await site.stopDatabase();
      const health = await fetch(`${site.url}/api/health`);
      expect(health.status).toBe(503);
      expect((await health.json()).ok).toBe(false);
      const yards = await fetch(`${site.url}/api/yards`, { headers: { cookie: 'scaphos_session=x' } });
      expect([yards.status, (await yards.json()).error.code]).toEqual([503, 'http/database']);
    } finally {
      await site.stop();
    }
  });
});
