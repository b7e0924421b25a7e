/** Files that ask for more than they are: none takes what a small file may not, or what is another's; each is refused in words. */
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { boundsOf } from '@/server/readers';
import { intake, JobError } from '@/worker/node';
import { hostileKinds } from '../support/hostile';
import { HOSTILE } from '../support/hostile/refused';
import { drawn } from '../support/sweep';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-hostile-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

async function read(name: string, bytes: Uint8Array, outDir?: string) {
  const path = join(dir, name);
  writeFileSync(path, bytes);
  const files = [{ name, path }];
  const said = await intake({ files, outDir }, await boundsOf(files)).catch((e: unknown) => e);
  rmSync(path);
  return said;
}

test.each(drawn(HOSTILE, 52).map((h) => [h.name, h] as const))('%s', async (name, { make, code }) => {
  const said = await read(name, make());
  if (said instanceof Error) expect(said).toBeInstanceOf(JobError);
  expect(said instanceof JobError ? said.code : null).toBe(code);
});

describe('of every kind there is', () => {
  const SECRET = 'the-ferry-leaves-at-dusk';
  const lure = join(dir, 'lure');
  let asked = 0;
  const listening = createServer((_, answer) => {
    asked++;
    answer.end(SECRET);
  });
  const lures = { path: lure, url: '' };
  beforeAll(async () => {
    writeFileSync(lure, SECRET);
    await new Promise<void>((r) => listening.listen(0, '127.0.0.1', r));
    lures.url = `http://127.0.0.1:${(listening.address() as AddressInfo).port}`;
  });
  afterAll(() => listening.close());
  /** Drawings and films that are cut off by the clock of small files; no model is. */
  const CUT_OFF = new Set(['uses.svg', 'path-of-4-mb.svg', 'unended.webm']);

  const names = drawn(
    hostileKinds(lures).map(([name]) => name),
    53,
  );
  test.each(names)('%s', async (name) => {
    const make = hostileKinds(lures).find(([n]) => n === name)?.[1];
    if (!make) throw new Error(`no kind ${name}`);
    const out = join(dir, 'out');
    const said = await read(name, make(), out);
    if (said instanceof Error) expect(said).toBeInstanceOf(JobError);
    const code = said instanceof JobError ? said.code : 'read';
    // neither its memory nor its patience ran out, and the reader did not break
    expect(['job/memory', 'job/killed', 'file/unreadable', ...(CUT_OFF.has(name) ? [] : ['job/too-long'])]).not.toContain(code);
    const kept = existsSync(out) ? readdirSync(out).map((f) => readFileSync(join(out, f), 'latin1')) : [];
    for (const text of [...kept, JSON.stringify(said), String(said)]) {
      expect(text.includes(SECRET)).toBe(false);
      // what a process is told at its start
      expect(/SCAPHOS_TEST|npm_config_/.test(text)).toBe(false);
    }
    expect(existsSync(`${lure}.taken`)).toBe(false);
    expect(asked).toBe(0);
    rmSync(out, { recursive: true, force: true });
  });
});
