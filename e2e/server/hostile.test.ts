/** Files that ask for more than they are: none takes what a small file may not, and each is refused in words. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { boundsOf } from '@/server/readers';
import { intake, JobError } from '@/worker/node';
import { HOSTILE } from '../support/hostile';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-hostile-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

test.each(HOSTILE.map((h) => [h.name, h] as const))('%s', async (name, { make, code }) => {
  const path = join(dir, name);
  writeFileSync(path, make());
  const files = [{ name, path }];
  const said = await intake({ files }, await boundsOf(files)).then(
    () => null,
    (e: unknown) => e,
  );
  if (said !== null) expect(said).toBeInstanceOf(JobError);
  expect((said as JobError | null)?.code ?? null).toBe(code);
});
