import { createHash } from 'node:crypto';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import type { PictureFacts } from '@/core/intake';
import { blobPath } from '@/server/blobs';
import { hashFile, readOnce } from '@/server/readonce';
import type { IntakeDone } from '@/worker/node';
import { BRASS, picture } from '../support/faulty';
import { closeTestDatabase, signedIn } from '../support/http';

let dir: string;
let file: string;
let done: IntakeDone;
const sha = createHash('sha256').update('brass').digest('hex');
let folders = 0;
const folder = () => join(dir, `out-${folders++}`);

beforeAll(async () => {
  dir = await mkdtemp(join(tmpdir(), 'scaphos-once-'));
  vi.stubEnv('SCAPHOS_DATA', dir);
  file = join(dir, 'upload');
  await writeFile(file, 'brass');
  await mkdir(join(blobPath(sha), '..'), { recursive: true });
  await writeFile(blobPath(sha), 'brass');
});
afterAll(async () => {
  vi.unstubAllEnvs();
  await rm(dir, { recursive: true, force: true });
  await closeTestDatabase();
});

/** A reader that counts how often it is asked. */
const reader = (out: string) =>
  vi.fn(async () => {
    await mkdir(out);
    await writeFile(join(out, sha), 'brass');
    return done;
  });
const ask = async (account: string, name = 'brass.png') => {
  const out = folder();
  const read = reader(out);
  const answer = await readOnce(account, [{ name, path: file, sha256: await hashFile(file) }], out, read);
  expect(answer).toEqual(done);
  expect(await readdir(out)).toEqual([sha]);
  expect(await readFile(join(out, sha), 'utf8')).toBe('brass');
  return read.mock.calls.length;
};

test('the same file of the same account is read once, by another name, another account or other bytes again', async () => {
  const v = await signedIn();
  const { items } = (await v.upload(await v.newPiece('Once'), [['brass.png', await picture(8, 8, BRASS)]])).body;
  done = { items: [{ name: 'brass.png', facts: items[0].asset.facts as PictureFacts, original: sha, model: sha }] };
  expect(await ask('a')).toBe(1);
  expect(await ask('a')).toBe(0);
  expect(await ask('b')).toBe(1);
  expect(await ask('a', 'other.png')).toBe(1);
  await writeFile(file, 'other bytes');
  expect(await ask('a')).toBe(1);
  await writeFile(file, 'brass');
  expect(await ask('a')).toBe(0);
});

test('what failed is asked again, and what has gone from the store is read anew into a clean folder', async () => {
  const fails = async () => {
    throw new Error('the disk is full');
  };
  await expect(readOnce('c', [{ name: 'brass.png', path: file, sha256: await hashFile(file) }], folder(), fails)).rejects.toThrow('disk');
  expect(await ask('c')).toBe(1);
  expect(await ask('c')).toBe(0);
  await rm(blobPath(sha));
  expect(await ask('c')).toBe(1);
});

test('dropped again in another piece a file is there with all that was read of it', async () => {
  const v = await signedIn();
  const bytes = await picture(9, 9, BRASS);
  const [one, two] = [await v.newPiece('One'), await v.newPiece('Two')];
  const first = (await v.upload(one, [['plate.png', bytes]])).body;
  const second = (await v.upload(two, [['plate.png', bytes]])).body;
  expect(second.items[0].asset).toEqual(first.items[0].asset);
  expect(Buffer.compare((await v.get(`/api/pieces/${two}/assets/${second.items[0].item.original}`)).body, Buffer.from(bytes))).toBe(0);
});
