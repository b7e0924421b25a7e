/** Whoever reads strangers' files reaches little: seen from outside, in the processes themselves. */
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, readlinkSync, statSync } from 'node:fs';
import { afterAll, expect, test } from 'vitest';
import { boxGlb } from '@/core/intake/samples';
import { hostileKinds } from '../support/hostile';
import { closeTestDatabase, signedIn } from '../support/http';

afterAll(closeTestDatabase);

const site = () => Number(process.env.SCAPHOS_TEST_PID);
const status = (pid: number, key: string) => new RegExp(`^${key}:\\s+(.*)$`, 'm').exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
/** The site's own processes that have begun on a job. */
function readers(): number[] {
  const pids = readdirSync('/proc')
    .filter((n) => /^\d+$/.test(n))
    .map(Number);
  return pids.filter((pid) => {
    try {
      return status(pid, 'PPid') === String(site()) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').startsWith(`${process.execPath}\0`);
    } catch {
      return false;
    }
  });
}

test('no network, no rights, and as another user where the server is root; what they read is kept as the server’s own', async () => {
  const v = await signedIn();
  const { confined } = (await v.get('/api/health')).body;
  // as far as this machine allows it, asked apart
  const root = process.getuid?.() === 0;
  const can = (command: string, ...words: string[]) => spawnSync(command, [...words, 'true']).status === 0;
  expect(confined).toEqual({
    network: can('unshare', ...(root ? [] : ['--user', '--map-current-user']), '--net'),
    user: root && can('setpriv', '--reuid', '61184', '--clear-groups'),
  });
  const piece = await v.newPiece('Slow');
  const [name, make] = hostileKinds({ path: '/nowhere', url: 'http://127.0.0.1:9' }).find(([n]) => n === 'uses.svg') ?? [];
  if (!name || !make) throw new Error('no such kind');
  const reading = v.upload(piece, [[name, make()]]);
  await expect.poll(() => readers().length, { timeout: 60_000 }).toBeGreaterThan(0);
  const [pid] = readers();
  if (confined.network) expect(readlinkSync(`/proc/${pid}/ns/net`)).not.toBe(readlinkSync(`/proc/${site()}/ns/net`));
  if (confined.user) {
    expect(status(pid, 'CapEff')).toMatch(/^0+$/);
    expect(status(pid, 'NoNewPrivs')).toBe('1');
    expect(status(pid, 'Uid')?.split('\t')[0]).not.toBe('0');
  }
  expect((await reading).status).toBe(422);

  const { body } = await v.upload(piece, [['box.glb', await boxGlb()]]);
  const sha = body.items[0].item.original as string;
  const { uid, mode } = statSync(`${process.env.SCAPHOS_DATA}/blobs/${sha.slice(0, 2)}/${sha}`);
  expect(uid).toBe(process.getuid?.());
  // for nobody but the server, and for readers to look at
  expect(mode & 0o777).toBe(confined.user ? 0o640 : 0o600);
});
