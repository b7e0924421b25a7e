import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { claimDataDir } from './data';
import { isAlive } from './process';

let dir: string;
let started: ChildProcess[];
beforeEach(async () => {
  dir = await mkdtemp(join(tmpdir(), 'scaphos-claim-'));
  started = [];
});
afterEach(async () => {
  for (const child of started) child.kill('SIGKILL');
  await rm(dir, { recursive: true, force: true });
});

/** Something that runs with a word of a database server's command line. */
async function runs(word: string): Promise<number> {
  const child = spawn(process.execPath, ['-e', 'process.stdout.write("up"); setInterval(() => undefined, 1000)', '--', word]);
  started.push(child);
  await new Promise((up) => child.stdout?.once('data', up));
  return child.pid as number;
}

test('a database that a killed start left behind before it was written down is ended; that of another folder is not', async () => {
  const orphan = await runs(`--datadir=${join(dir, 'db')}`);
  const making = await runs(`--datadir=${join(dir, 'db.half-ab12CD')}`);
  const others = await runs(`--datadir=${join(dir, 'db2')}`);
  const claim = await claimDataDir(dir);
  try {
    await expect.poll(() => [orphan, making].map(isAlive), { timeout: 20_000 }).toEqual([false, false]);
    expect(isAlive(others)).toBe(true);
  } finally {
    await claim.release();
  }
});
