/** Blobs by SHA-256 on disk. A blob goes 30 days after the last piece or revision that names it. */
import { createReadStream } from 'node:fs';
import { lstat, mkdir, open, rename, rm, stat, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import { blobDir, tempDir } from './config';
import { handOver, share } from './confine';
import type { Knex } from './db';
import { newId } from './ids';

export const BLOB_DAYS = 30;

export const blobPath = (sha: string): string => join(blobDir(), sha.slice(0, 2), sha);

/** A folder of its own for one request; the caller removes it, whatever happens. */
export async function withTempDir<T>(work: (dir: string) => Promise<T>): Promise<T> {
  const dir = join(tempDir(), newId());
  await handOver(dir);
  try {
    return await work(dir);
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

/** What a server that was killed was working in. Call once, when a server starts: nothing is under way then. */
export const sweepTemp = () => rm(tempDir(), { recursive: true, force: true });

const held = globalThis as { scaphosBlobs?: Map<string, Promise<unknown>> };
/** One at a time for a blob: it is not taken in while it is being removed. */
async function alone<T>(sha: string, work: () => Promise<T>): Promise<T> {
  held.scaphosBlobs ??= new Map();
  const all = held.scaphosBlobs;
  const mine = (all.get(sha) ?? Promise.resolve()).catch(() => undefined).then(work);
  all.set(sha, mine);
  try {
    return await mine;
  } finally {
    if (all.get(sha) === mine) all.delete(sha);
  }
}

/** What is written is on the disk, not only on its way there. */
async function settle(path: string): Promise<void> {
  const file = await open(path, 'r');
  await file.sync().finally(() => file.close());
}

/** Takes a file, whose name is its SHA-256, into the store. A blob that is there already is only named again. */
export const adoptBlob = (db: Knex, dir: string, sha: string): Promise<void> =>
  alone(sha, async () => {
    const from = join(dir, sha);
    const to = blobPath(sha);
    const found = await lstat(from);
    // a reader that was taken over may have left a way to something else
    if (!found.isFile()) throw new Error(`${from} is no file`);
    const { size } = found;
    await mkdir(dirname(to), { recursive: true, mode: 0o700 });
    await share(dirname(to));
    await share(from);
    await settle(from);
    await rename(from, to);
    await settle(dirname(to));
    await db('blobs').insert({ sha256: sha, bytes: size, last_named_at: new Date() }).onConflict('sha256').merge(['last_named_at']);
  });

export interface Stretch {
  start: number;
  end: number;
}

/** The bytes of a `Range` header that asks for one stretch of a file; null: all of it. `'outside'`: none of it. (RFC 9110, section 14.) */
export function readRange(header: string | null, size: number): Stretch | null | 'outside' {
  const m = /^bytes=(\d*)-(\d*)$/.exec(header ?? '');
  if (!m || (m[1] === '' && m[2] === '')) return null;
  const start = m[1] === '' ? Math.max(0, size - Number(m[2])) : Number(m[1]);
  const end = m[1] === '' || m[2] === '' ? size - 1 : Math.min(size - 1, Number(m[2]));
  return start > end || start >= size ? 'outside' : { start, end };
}

export const blobSize = async (sha: string): Promise<number> => (await stat(blobPath(sha))).size;

/** A file of ours as a stream, with its size. */
export const fileStream = async (path: string) => ({
  stream: Readable.toWeb(createReadStream(path)) as ReadableStream,
  bytes: (await stat(path)).size,
});

export const blobStream = (sha: string, stretch?: Stretch): ReadableStream =>
  Readable.toWeb(createReadStream(blobPath(sha), stretch)) as ReadableStream;

const SHA = /\b[0-9a-f]{64}\b/g;

/** What a named file's facts speak of (a picture as it is used, a sheet, loose pictures) is named with it. */
async function nameByFacts(db: Knex, named: Set<string>): Promise<void> {
  const found: string[] = [];
  for (let offset = 0; ; offset += 200) {
    const rows: { original: string; model: string; facts: string }[] = await db('assets')
      .select('original', 'model', 'facts')
      .orderBy(['yard_id', 'original', 'model'])
      .limit(200)
      .offset(offset);
    for (const r of rows) if (named.has(r.original) && named.has(r.model)) found.push(...(r.facts.match(SHA) ?? []));
    if (rows.length < 200) break;
  }
  for (const sha of found) named.add(sha);
}

/** Every blob that a piece, a version, a revision, a cover, a finish of a yard or the facts of a named file speak of. */
export async function namedBlobs(db: Knex): Promise<Set<string>> {
  const named = new Set<string>();
  const read = async (table: string, column: string, order: string[]) => {
    for (let offset = 0; ; offset += 200) {
      const rows: Record<string, string | null>[] = await db(table).select(column).orderBy(order).limit(200).offset(offset);
      for (const row of rows) for (const sha of (row[column] ?? '').match(SHA) ?? []) named.add(sha);
      if (rows.length < 200) return;
    }
  };
  await read('pieces', 'document', ['id']);
  await read('pieces', 'cover_sha256', ['id']);
  await read('documents', 'document', ['piece_id', 'revision']);
  await read('revisions', 'edits', ['piece_id', 'number']);
  await read('finishes', 'clip', ['id']);
  await nameByFacts(db, named);
  return named;
}

/**
 * Names every blob that something still speaks of, then removes those that nobody has named for 30 days, and pieces deleted as long
 * ago. Returns how many blobs went.
 */
export async function collectBlobs(db: Knex, now = new Date()): Promise<number> {
  const before = new Date(now.getTime() - BLOB_DAYS * 86_400_000);
  await db('pieces').where('deleted_at', '<', before).delete();
  const list = [...(await namedBlobs(db))];
  for (let i = 0; i < list.length; i += 500)
    await db('blobs')
      .whereIn('sha256', list.slice(i, i + 500))
      .update({ last_named_at: now });
  const old: { sha256: string }[] = await db('blobs').where('last_named_at', '<', before).select('sha256');
  for (const { sha256 } of old) {
    await alone(sha256, async () => {
      // asked again at once: an upload may have named it in between
      const gone = await db('blobs').where({ sha256 }).where('last_named_at', '<', before).delete();
      if (!gone) return;
      await db('assets').where({ original: sha256 }).orWhere({ model: sha256 }).delete();
      await unlink(blobPath(sha256)).catch(() => undefined);
    });
  }
  return old.length;
}
