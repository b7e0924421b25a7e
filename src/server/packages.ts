/** Packages and their weight: built in a process, kept on disk under the hash of what went in. */
import { createHash } from 'node:crypto';
import { stat } from 'node:fs/promises';
import type { YardWeights } from '@/api';
import { blobsOf, packageContents, rootsOf } from '@/core/deliver';
import { type Piece, shownBody } from '@/core/piece';
import { pack } from '@/worker/node';
import { blobPath } from './blobs';
import { cached, cacheFile } from './cache';
import { HttpError } from './errors';
import { turnsByKey } from './queue';

/** Changes whenever the packagers do. */
const PACKAGER = 6;

export type PackageKind = 'glb' | 'bundle';

const cachePath = (kind: PackageKind, piece: Piece) => {
  // the profile does not go into the GLB, the form only where something hangs below the head: changing them must not build it again
  const below = rootsOf(piece, packageContents(piece).parts).some((root) => root !== 'Head');
  const input =
    kind === 'glb'
      ? {
          ...piece,
          settings: { ...piece.settings, profile: null, form: below ? piece.settings.form : null, wearer: null },
          // of the cast only who is shown decides where things lie
          forms: below ? shownBody(piece) : null,
        }
      : piece;
  const key = createHash('sha256')
    .update(JSON.stringify([PACKAGER, kind, input]))
    .digest('hex');
  return cacheFile('packages', `${key}.${kind}`);
};

/** Whose piece it is: yards take turns, and of one piece only the newest weight is worked out. */
export interface PackedFor {
  yardId: string;
  pieceId: string;
}

const OLDER = 'weight/older';
const PACKERS = 2;
const MOST_WAITING = 100;
const held = globalThis as {
  scaphosPackers?: ReturnType<typeof turnsByKey>;
  scaphosWeighed?: Map<string, string>;
  scaphosUnweighed?: Map<string, { why: string; at: number }>;
};
function inTurn<T>(yardId: string, work: () => Promise<T>): Promise<T> {
  held.scaphosPackers ??= turnsByKey({
    slots: PACKERS,
    most: MOST_WAITING,
    refuse: () =>
      new HttpError(429, 'yard/busy', `${MOST_WAITING} packages of this yard wait to be built already. Wait until some are done.`),
  });
  return held.scaphosPackers(yardId, work);
}

const build = (kind: PackageKind, piece: Piece) =>
  pack({ kind, piece, blobPaths: Object.fromEntries(blobsOf(piece).map((sha) => [sha, blobPath(sha)])) });

/** The package's file. @throws {HttpError} 422 nothing to deliver, 429 too many wait. */
export const packageFile = (kind: PackageKind, piece: Piece, { yardId }: Pick<PackedFor, 'yardId'>): Promise<string> =>
  cached(cachePath(kind, piece), () => inTurn(yardId, () => build(kind, piece))).catch((error: unknown) => {
    // who weighed it let it be; who wants to have it does not
    if (error instanceof HttpError && error.code === OLDER) return packageFile(kind, piece, { yardId });
    throw error;
  });

/** Bytes of the GLB as it would be built now; 0 where nothing hangs. @throws {HttpError} 409 a newer one was asked for meanwhile */
export async function weighPiece(piece: Piece, { yardId, pieceId }: PackedFor): Promise<number> {
  if (packageContents(piece).parts.length === 0) return 0;
  const path = cachePath('glb', piece);
  held.scaphosWeighed ??= new Map();
  const newest = held.scaphosWeighed.set(pieceId, path);
  try {
    const file = await cached(path, () =>
      inTurn(yardId, () => {
        if (newest.get(pieceId) === path) return build('glb', piece);
        throw new HttpError(409, OLDER, 'The piece has changed since; its newer weight is on its way.');
      }),
    );
    return (await stat(file)).size;
  } finally {
    if (newest.get(pieceId) === path) newest.delete(pieceId);
  }
}

/** So many of a yard are begun for one question; who asks again finds them done. */
const BEGUN = 8;
/** What is being worked out is waited for so long. */
const SOON_MS = 250;
/** What failed is not tried again for a question so soon after. */
const FAILED_MS = 60_000;

/** Weights of many pieces at once, as far as they are known or soon will be; the others are begun, a few at a time. */
export async function weighYard(
  pieces: readonly { id: string; revision: number; document: Piece | string }[],
  yardId: string,
): Promise<YardWeights> {
  held.scaphosUnweighed ??= new Map();
  const failed = held.scaphosUnweighed;
  let begun = 0;
  const weigh = async ({ id, revision, document }: (typeof pieces)[number]): Promise<YardWeights[string]> => {
    if (typeof document === 'string') return { revision, why: document };
    const path = cachePath('glb', document);
    const before = failed.get(path);
    if (before && Date.now() - before.at < FAILED_MS) return { revision, why: before.why };
    if (!(await stat(path).catch(() => null)) && packageContents(document).parts.length > 0 && ++begun > BEGUN) return null;
    const weight = weighPiece(document, { yardId, pieceId: id }).then(
      (bytes) => ({ revision, bytes }),
      (error: unknown) => {
        if (!(error instanceof HttpError) || error.code === OLDER) return null;
        failed.set(path, { why: error.message, at: Date.now() });
        return { revision, why: error.message };
      },
    );
    return Promise.race([weight, new Promise<null>((soon) => setTimeout(soon, SOON_MS, null))]);
  };
  return Object.fromEntries(await Promise.all(pieces.map(async (p) => [p.id, await weigh(p)] as const)));
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
