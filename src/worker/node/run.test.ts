import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { boxGlb } from '@/core/intake/samples';
import { intake, JobError } from './index';
import { jobFlags } from './run';

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

describe.skipIf(!existsSync('dist/worker/job.cjs'))('a disposable process', () => {
  test('writes the original and the drawn file under their hashes; the same file here', async () => {
    const out = join(dir, 'out');
    const done = await intake({ ...(await file()), outDir: out });
    const [item] = done.items;
    expect(item.model).toBe(item.original);
    expect(readdirSync(out)).toEqual([item.original]);
  });
  test('starts from code that was compiled for its flags before, and V8 takes it', async () => {
    await intake(await file());
    const found = readdirSync('dist/worker').filter((f) => f.endsWith('.cache') && f.includes('size-4096-'));
    expect(found).toHaveLength(1);
    const taken = `const { readFileSync: read } = require('fs');
      const script = new (require('vm').Script)(require('module').wrap(read('dist/worker/code.cjs', 'utf8')),
        { filename: 'code.cjs', cachedData: read('dist/worker/${found[0]}') });
      process.stdout.write(String(script.cachedDataRejected))`;
    expect(execFileSync(process.execPath, [...jobFlags(), '-e', taken], { encoding: 'utf8' })).toBe('false');
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
  /** Much to read, nothing wrong with it. */
  const wide = () => {
    const path = join(dir, 'wide.gltf');
    const nodes = Array.from({ length: 90_000 }, (_, i) => ({ name: `node ${i} ${'x'.repeat(200)}` }));
    writeFileSync(path, JSON.stringify({ asset: { version: '2.0' }, nodes }));
    return { files: [{ name: 'wide.gltf', path }] };
  };
  test('a memory limit ends the job’s process, not ours', async () => {
    expect(['job/memory', 'file/unreadable']).toContain((await failure(intake(wide(), { memoryMb: 20 }))).code);
    expect((await failure(intake(wide(), { residentMb: 90 }))).code).toBe('job/memory');
  });
  test('a bound on processor time ends it, however long it is waited for', async () => {
    expect((await failure(intake(wide(), { cpuS: 0.3 }))).code).toBe('job/too-long');
  });
  test('one that is ended from outside does not say that the file is broken', async () => {
    const work = failure(intake(wide()));
    const told = (pid: string, what: string) => {
      try {
        return readFileSync(`/proc/${pid}/${what}`, 'utf8');
      } catch {
        return '';
      }
    };
    const ours = (pid: string) => told(pid, 'status').includes(`PPid:\t${process.pid}\n`) && told(pid, 'cmdline').includes('job.cjs');
    const children = readdirSync('/proc').filter((pid) => /^\d+$/.test(pid) && ours(pid));
    expect(children).toHaveLength(1);
    process.kill(Number(children[0]), 'SIGKILL');
    expect((await work).code).toBe('job/killed');
  });
});
