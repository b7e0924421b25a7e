/** Packages and their weight: built in a process, kept on disk under the hash of what went in. */
import { createHash } from 'node:crypto';
import { mkdir, readdir, rename, stat, unlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { blobsOf, packageContents } from '@/core/deliver';
import type { Piece } from '@/core/piece';
import { JobError, pack } from '@/worker/node';
import { blobPath } from './blobs';
import { cacheDir } from './config';
import { HttpError } from './errors';
import { newId } from './ids';

/** Changes whenever the packagers do. */
const PACKAGER = 3;
const CACHE_DAYS = 7;

export type PackageKind = 'glb' | 'bundle';

const cachePath = (kind: PackageKind, piece: Piece) => {
  // profile and form do not go into the GLB: changing them must not build it again
  const input = kind === 'glb' ? { ...piece, profile: null, form: null } : piece;
  const key = createHash('sha256')
    .update(JSON.stringify([PACKAGER, kind, input]))
    .digest('hex');
  return join(cacheDir(), 'packages', `${key}.${kind}`);
};

const underWay = new Map<string, Promise<string>>();

async function build(kind: PackageKind, piece: Piece, path: string): Promise<string> {
  await mkdir(join(cacheDir(), 'packages'), { recursive: true });
  const blobPaths = Object.fromEntries(blobsOf(piece).map((sha) => [sha, blobPath(sha)]));
  const bytes = await pack({ kind, piece, blobPaths }).catch((error: unknown) => {
    if (error instanceof JobError) throw new HttpError(422, error.code, error.message);
    throw error;
  });
  const temp = `${path}.${newId()}`;
  await writeFile(temp, bytes);
  await rename(temp, path); // whole or not at all
  return path;
}

/** The package's file. @throws {HttpError} 422 nothing to deliver. */
export async function packageFile(kind: PackageKind, piece: Piece): Promise<string> {
  const path = cachePath(kind, piece);
  if (await stat(path).catch(() => null)) return path;
  const job = underWay.get(path) ?? build(kind, piece, path).finally(() => underWay.delete(path));
  underWay.set(path, job);
  return job;
}

/** Bytes of the GLB as it would be built now; 0 where nothing hangs. */
export async function weighPiece(piece: Piece): Promise<number> {
  if (packageContents(piece).parts.length === 0) return 0;
  return (await stat(await packageFile('glb', piece))).size;
}

/** A plain file name from the name people gave. */
export function packageName(kind: PackageKind, piece: Piece): string {
  const base =
    piece.name
      .normalize('NFKD')
      .replace(/[^\w]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase()
      .slice(0, 60) || 'piece';
  return kind === 'glb' ? `${base}.glb` : `${base}.scaphos.zip`;
}

/** Drops packages, and answers of searches, nobody asked for in a week. */
export async function sweepPackages(now = Date.now()): Promise<void> {
  for (const dir of ['packages', 'solved'].map((name) => join(cacheDir(), name)))
    for (const name of await readdir(dir).catch(() => [])) {
      const found = await stat(join(dir, name)).catch(() => null);
      if (found && now - found.atimeMs > CACHE_DAYS * 86_400_000) await unlink(join(dir, name)).catch(() => undefined);
    }
}
