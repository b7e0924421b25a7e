/**
 * What was read of files is kept for a while: whoever drops the same files again, in another piece or yard, has them at once. Kept for
 * one account alone, lest how long an answer takes tells others what came in here.
 */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { link, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import { FileFacts } from '@/core/intake';
import { Sha256 } from '@/core/piece';
import { type IntakeDone, type IntakeFile, jobCommand } from '@/worker/node';
import { blobPath } from './blobs';
import { cacheFile } from './cache';
import { newId } from './ids';

const Kept = z.object({
  done: z.object({
    items: z.array(z.object({ name: z.string(), facts: FileFacts, original: Sha256.nullable(), model: Sha256.nullable() })),
  }),
  /** Files that lay in the folder. */
  blobs: z.array(Sha256),
});

export async function hashFile(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

const held = globalThis as { scaphosReader?: Promise<string> };
/** Changes whenever the program that reads does. */
const reader = () => {
  held.scaphosReader ??= hashFile(join(dirname(jobCommand().file), 'code.cjs'));
  return held.scaphosReader;
};

/** A file to read, and the SHA-256 of its bytes. */
export type HashedFile = IntakeFile & { sha256: string };

async function keyOf(accountId: string, files: readonly HashedFile[]): Promise<string> {
  const told = files.map(({ name, sha256 }) => [name, sha256]);
  return createHash('sha256')
    .update(JSON.stringify([await reader(), accountId, told]))
    .digest('hex');
}

/** The same in the folder as when they were read; null where a blob has gone since. */
async function again(path: string, outDir: string): Promise<IntakeDone | null> {
  const kept = await readFile(path, 'utf8').then(
    (t) => Kept.safeParse(JSON.parse(t)).data,
    () => undefined,
  );
  if (!kept) return null;
  await mkdir(outDir, { recursive: true });
  try {
    for (const sha of kept.blobs) await link(blobPath(sha), join(outDir, sha));
  } catch {
    // a reader could not write into a folder of ours
    await rm(outDir, { recursive: true, force: true });
    return null;
  }
  return kept.done;
}

/** Files read into a folder by `read`, or found as they were read before. What fails is not kept. */
export async function readOnce(
  accountId: string,
  files: readonly HashedFile[],
  outDir: string,
  read: () => Promise<IntakeDone>,
): Promise<IntakeDone> {
  const path = cacheFile('read', `${await keyOf(accountId, files)}.json`);
  const known = await again(path, outDir);
  if (known) return known;
  const done = await read();
  const blobs = await readdir(outDir);
  const temp = `${path}.${newId()}`;
  await mkdir(dirname(path), { recursive: true });
  await writeFile(temp, JSON.stringify({ done, blobs }));
  await rename(temp, path);
  return done;
}
