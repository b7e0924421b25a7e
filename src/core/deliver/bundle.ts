/**
 * The bundle: a zip of `piece.json`, `models/`, `credits.json` and a README, from which another yard gets the same
 * piece. The archive's comment carries the SHA-256 of every byte before it, so that any changed byte is noticed.
 */
import { Unzip, UnzipInflate, zipSync } from 'fflate';
import { blobsOfDoc } from '../piece/document';
import { PieceFormatError, readPiece } from '../piece/migrate';
import type { Piece } from '../piece/schema';
import type { Doc } from '../piece/table';
import { PIECE_KIND } from '../piece/tables';

export class BundleError extends Error {
  constructor(
    readonly code: 'bundle/not-a-bundle' | 'bundle/altered' | 'bundle/too-large' | 'bundle/missing' | 'bundle/piece',
    message: string,
  ) {
    super(message);
  }
}

export type Sha256 = (bytes: Uint8Array) => Promise<string>;

export interface BundleLimits {
  bytes: number;
  entries: number;
  unpackedBytes: number;
}
export const BUNDLE_LIMITS: BundleLimits = { bytes: 600e6, entries: 2_000, unpackedBytes: 1e9 };
const SEAL = 'scaphos-bundle/1 sha256=';

export interface Credits {
  piece: string;
  files: { name: string; sha256: string; bytes: number; author: string | null; source: string | null; licence: string | null }[];
}

const readme = (piece: Piece) => `${piece.settings.name}

A piece of augmented reality, packed by Scaphos.

piece.json     the piece: its parts, where they hang, in metres and radians, glTF frame
models/        the files of the piece, named by their SHA-256; credits.json has their own names
credits.json   the files with what is known of their authors and licences

To work on it, open a yard and choose “Bring in a bundle”. The archive is sealed: a changed byte is noticed.
`;

/** Which blobs a piece is made of. */
export const blobsOf = (piece: Piece): string[] => blobsOfDoc(PIECE_KIND, piece as unknown as Doc);

const entryName = (sha: string) => `models/${sha}.bin`;

/**
 * Packs a bundle. Deterministic: the same piece gives the same bytes.
 * @param blobs every blob of `blobsOf`
 */
export async function packBundle(piece: Piece, blobs: ReadonlyMap<string, Uint8Array>, sha256: Sha256): Promise<Uint8Array> {
  const credits: Credits = {
    piece: piece.settings.name,
    files: Object.values(piece.stock).map((s) => ({
      name: s.name,
      sha256: s.original,
      bytes: s.bytes,
      author: s.credit.author || null,
      source: s.credit.source || null,
      licence: s.credit.licence || null,
    })),
  };
  const text = (s: string) => new TextEncoder().encode(s);
  const at = { mtime: new Date('2026-01-01T00:00:00') };
  const files: Record<string, [Uint8Array, { mtime: Date; level?: 0 }]> = {
    // parsed once more, so that its keys stand in the schema's order whatever made it
    'piece.json': [text(JSON.stringify(readPiece(piece), null, 1)), at],
    'credits.json': [text(JSON.stringify(credits, null, 1)), at],
    'README.txt': [text(readme(piece)), at],
  };
  for (const sha of blobsOf(piece)) {
    const data = blobs.get(sha);
    if (!data) throw new BundleError('bundle/missing', `Blob ${sha} of the piece is not at hand.`);
    files[entryName(sha)] = [data, { ...at, level: 0 }];
  }
  return seal(zipSync(files), sha256);
}

/** Writes the digest of everything before the archive's comment into that comment. */
async function seal(zip: Uint8Array, sha256: Sha256): Promise<Uint8Array> {
  const comment = SEAL.length + 64;
  const out = new Uint8Array(zip.length + comment);
  out.set(zip);
  new DataView(out.buffer).setUint16(zip.length - 2, comment, true);
  const digest = await sha256(out.subarray(0, zip.length));
  out.set(new TextEncoder().encode(SEAL + digest), zip.length);
  return out;
}

async function checkSeal(bytes: Uint8Array, sha256: Sha256): Promise<void> {
  const length = SEAL.length + 64;
  const end = bytes.length - length;
  const comment = end > 22 ? new TextDecoder().decode(bytes.subarray(end)) : '';
  if (!(bytes[0] === 0x50 && bytes[1] === 0x4b))
    throw new BundleError('bundle/not-a-bundle', 'This is not a bundle: it is not a zip archive.');
  if (!comment.startsWith(SEAL))
    throw new BundleError(
      'bundle/not-a-bundle',
      'This zip carries no seal of a bundle, or its end is missing. Bring in the file as it was delivered.',
    );
  if ((await sha256(bytes.subarray(0, end))) !== comment.slice(SEAL.length))
    throw new BundleError(
      'bundle/altered',
      'This bundle was changed after it was packed: its seal does not fit its contents. Nothing was brought in. Ask for the file again.',
    );
}

/** Unpacks with limits on entries and on bytes as they really come out. */
function unpack(bytes: Uint8Array, limits: BundleLimits): Map<string, Uint8Array> {
  const out = new Map<string, Uint8Array>();
  let total = 0;
  let entries = 0;
  const unzip = new Unzip((file) => {
    if (++entries > limits.entries) throw new BundleError('bundle/too-large', `The bundle has more than ${limits.entries} entries.`);
    const chunks: Uint8Array[] = [];
    file.ondata = (error, chunk, final) => {
      if (error) throw new BundleError('bundle/altered', `${file.name} in the bundle cannot be unpacked: ${error.message}`);
      total += chunk.length;
      if (total > limits.unpackedBytes)
        throw new BundleError('bundle/too-large', `The bundle unpacks to more than ${limits.unpackedBytes} bytes.`);
      chunks.push(chunk);
      if (!final) return;
      const whole = new Uint8Array(chunks.reduce((s, c) => s + c.length, 0));
      let at = 0;
      for (const c of chunks) {
        whole.set(c, at);
        at += c.length;
      }
      out.set(file.name, whole);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  const step = 1 << 20;
  for (let at = 0; at < bytes.length; at += step) unzip.push(bytes.subarray(at, at + step), at + step >= bytes.length);
  return out;
}

/**
 * Reads a bundle back.
 * @throws {BundleError} not a bundle, one changed byte, a blob missing or not what its name says, or a piece that is not one.
 */
export async function readBundle(
  bytes: Uint8Array,
  sha256: Sha256,
  limits: BundleLimits = BUNDLE_LIMITS,
): Promise<{ piece: Piece; blobs: Map<string, Uint8Array> }> {
  if (bytes.length > limits.bytes)
    throw new BundleError('bundle/too-large', `The bundle has ${bytes.length} bytes; up to ${limits.bytes} are read.`);
  await checkSeal(bytes, sha256);
  const files = unpack(bytes, limits);
  const json = files.get('piece.json');
  if (!json) throw new BundleError('bundle/missing', 'The bundle has no piece.json.');
  let piece: Piece;
  try {
    piece = readPiece(JSON.parse(new TextDecoder().decode(json)));
  } catch (error) {
    throw new BundleError(
      'bundle/piece',
      error instanceof PieceFormatError ? error.message : `piece.json in the bundle is not JSON: ${(error as Error).message}`,
    );
  }
  const blobs = new Map<string, Uint8Array>();
  for (const sha of blobsOf(piece)) {
    const data = files.get(entryName(sha));
    if (!data) throw new BundleError('bundle/missing', `The bundle lacks ${entryName(sha)}, which its piece names.`);
    if ((await sha256(data)) !== sha) throw new BundleError('bundle/altered', `${entryName(sha)} in the bundle is not what its name says.`);
    blobs.set(sha, data);
  }
  return { piece, blobs };
}
