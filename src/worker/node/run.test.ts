import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { boxGlb } from '@/core/intake/samples';
import { intake, JobError } from './index';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-run-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const file = async () => {
  const path = join(dir, 'box.glb');
  writeFileSync(path, await boxGlb());
  return { files: [{ name: 'box.glb', path }] };
};
const failure = async (work: Promise<unknown>) => {
  const error = await work.catch((e: unknown) => e);
  expect(error).toBeInstanceOf(JobError);
  return error as JobError;
};

describe.skipIf(!existsSync('dist/worker/job.js'))('a disposable process', () => {
  test('writes the original and the drawn file under their hashes; the same file here', async () => {
    const out = join(dir, 'out');
    const done = await intake({ ...(await file()), outDir: out });
    const [item] = done.items;
    expect(item.model).toBe(item.original);
    expect(readdirSync(out)).toEqual([item.original]);
  });
  test('is stopped at its time limit and says so', async () => {
    expect((await failure(intake(await file(), { timeoutMs: 1 }))).code).toBe('job/too-long');
  });
  test('is stopped when asked', async () => {
    const stop = new AbortController();
    const work = failure(intake(await file(), { signal: stop.signal }));
    stop.abort();
    expect((await work).code).toBe('job/stopped');
  });
  test('hands a refusal over with its code, and keeps its stack to itself', async () => {
    const path = join(dir, 'empty.glb');
    writeFileSync(path, '');
    const error = await failure(intake({ files: [{ name: 'empty.glb', path }] }));
    expect([error.code, error.detail]).toEqual(['file/empty', undefined]);
  });
  test('a memory limit ends the job’s process, not ours', async () => {
    const path = join(dir, 'wide.gltf');
    writeFileSync(
      path,
      JSON.stringify({
        asset: { version: '2.0' },
        nodes: Array.from({ length: 90_000 }, (_, i) => ({ name: `node ${i} ${'x'.repeat(200)}` })),
      }),
    );
    const error = await failure(intake({ files: [{ name: 'wide.gltf', path }] }, { memoryMb: 20 }));
    expect(['job/memory', 'file/unreadable']).toContain(error.code);
  });
});
