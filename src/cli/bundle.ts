/** Bundles on disk, for the commands that work on a piece: unpacked into a folder of their own, packed again. */
import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blobsOf } from '@/core/deliver';
import type { Piece } from '@/core/piece';
import { JobError, pack, unpack } from '@/worker/node';
import { CliFailure } from './failure';

export interface OpenBundle {
  piece: Piece;
  /** File of a blob. */
  blob: (sha: string) => string;
  dir: string;
}

/** Opens a bundle, calls `work` with it, and takes away what was unpacked. @throws {CliFailure} exit 2 where it cannot be read */
export async function withBundle<T>(path: string | null, empty: Piece | null, work: (open: OpenBundle) => Promise<T>): Promise<T> {
  const dir = await mkdtemp(join(tmpdir(), 'scaphos-piece-'));
  try {
    const blob = (sha: string) => join(dir, sha);
    if (path === null) return await work({ piece: empty as Piece, blob, dir });
    if (!(await stat(path).catch(() => null))?.isFile()) throw new CliFailure(`There is no file ${path}.`, 2);
    const { piece } = await unpack({ path, outDir: dir }).catch((error: unknown) => {
      if (error instanceof JobError) throw new CliFailure(`${path}: ${error.message}`, 2);
      throw error;
    });
    return await work({ piece, blob, dir });
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

export async function writeBundle(piece: Piece, { blob }: Pick<OpenBundle, 'blob'>, out: string): Promise<void> {
  const made = await pack({ kind: 'bundle', piece, blobPaths: Object.fromEntries(blobsOf(piece).map((sha) => [sha, blob(sha)])) });
  await writeFile(out, made);
}

/** JSON from a file. @throws {CliFailure} not there, or no JSON */
export async function readJsonFile(path: string, what: string): Promise<unknown> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new CliFailure(`There is no ${what} ${path}.`, 64);
  });
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new CliFailure(`${path} is not JSON: ${(error as Error).message}`, 64);
  }
}
