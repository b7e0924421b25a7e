/** Packages and their weight: built in a process, kept on disk under the hash of what went in. */
import { createHash } from 'node:crypto';
import { stat } from 'node:fs/promises';
import { blobsOf, packageContents, rootsOf } from '@/core/deliver';
import type { Piece } from '@/core/piece';
import { pack } from '@/worker/node';
import { blobPath } from './blobs';
import { cached, cacheFile } from './cache';

/** Changes whenever the packagers do. */
const PACKAGER = 5;

export type PackageKind = 'glb' | 'bundle';

const cachePath = (kind: PackageKind, piece: Piece) => {
  // the profile does not go into the GLB, the form only where something hangs below the head: changing them must not build it again
  const below = rootsOf(piece, packageContents(piece).parts).some((root) => root !== 'Head');
  const input =
    kind === 'glb' ? { ...piece, settings: { ...piece.settings, profile: null, form: below ? piece.settings.form : null } } : piece;
  const key = createHash('sha256')
    .update(JSON.stringify([PACKAGER, kind, input]))
    .digest('hex');
  return cacheFile('packages', `${key}.${kind}`);
};

/** The package's file. @throws {HttpError} 422 nothing to deliver. */
export const packageFile = (kind: PackageKind, piece: Piece): Promise<string> =>
  cached(cachePath(kind, piece), () =>
    pack({ kind, piece, blobPaths: Object.fromEntries(blobsOf(piece).map((sha) => [sha, blobPath(sha)])) }),
  );

/** Bytes of the GLB as it would be built now; 0 where nothing hangs. */
export async function weighPiece(piece: Piece): Promise<number> {
  if (packageContents(piece).parts.length === 0) return 0;
  return (await stat(await packageFile('glb', piece))).size;
}

/** A plain file name from the name people gave. */
export function packageName(kind: PackageKind, piece: Piece): string {
  const base =
    piece.settings.name
      .normalize('NFKD')
      .replace(/[^\w]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase()
      .slice(0, 60) || 'piece';
  return kind === 'glb' ? `${base}.glb` : `${base}.scaphos.zip`;
}
