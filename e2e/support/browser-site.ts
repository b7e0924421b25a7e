/** Playwright's global set-up: `./scaphos demo` as a user would start it, on a folder and a port of its own. */
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { EFFORT } from './sweep';

const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

export default async function setup(): Promise<() => Promise<void>> {
  // a site that is already there can be tested instead
  if (process.env.SCAPHOS_E2E_URL) return async () => undefined;
  const data = mkdtempSync(join(tmpdir(), 'scaphos-e2e-'));
  const port = await freePort();
  const child = spawn('./scaphos', ['demo', '--port', String(port)], {
    env: { ...process.env, SCAPHOS_DATA: data, SCAPHOS_LOG: 'error', SCAPHOS_EFFORT: EFFORT },
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const url = `http://127.0.0.1:${port}`;
  const until = Date.now() + 300_000;
  for (;;) {
    const up = await fetch(`${url}/api/health`).then(
      (r) => r.ok,
      () => false,
    );
    if (up) break;
    if (child.exitCode !== null || Date.now() > until) throw new Error('./scaphos demo did not come up');
    await new Promise((r) => setTimeout(r, 300));
  }
  process.env.SCAPHOS_E2E_URL = url;
  return async () => {
    child.kill('SIGINT');
    await new Promise((r) => child.on('exit', r));
    if (existsSync(data)) rmSync(data, { recursive: true, force: true });
  };
}
