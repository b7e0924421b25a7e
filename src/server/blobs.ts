/** Blobs by SHA-256 on disk. A blob goes 30 days after the last piece or revision that names it. */
import { createReadStream } from 'node:fs';
import { mkdir, rename, rm, stat, unlink } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { blobDir, tempDir } from './config';
import type { Knex } from './db';
import { newId } from './ids';

export const BLOB_DAYS = 30;

export const blobPath = (sha: string): string => join(blobDir(), sha.slice(0, 2), sha);

/** A folder of its own for one request; the caller removes it, whatever happens. */
export async function withTempDir<T>(work: (dir: string) => Promise<T>): Promise<T> {
  const dir = join(tempDir(), newId());
  await mkdir(dir, { recursive: true });
  try {
    return await work(dir);
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

/** Takes a file, whose name is its SHA-256, into the store. A blob that is there already is only named again. */
export async function adoptBlob(db: Knex, dir: string, sha: string): Promise<void> {
  const from = join(dir, sha);
  const { size } = await stat(from);
  await mkdir(join(blobDir(), sha.slice(0, 2)), { recursive: true });
  await rename(from, blobPath(sha));
  await db('blobs').insert({ sha256: sha, bytes: size, last_named_at: new Date() }).onConflict('sha256').merge(['last_named_at']);
}

export async function blobStream(sha: string): Promise<{ stream: ReadableStream; bytes: number }> {
  const { size } = await stat(blobPath(sha));
  return { stream: Readable.toWeb(createReadStream(blobPath(sha))) as ReadableStream, bytes: size };
}

const SHA = /\b[0-9a-f]{64}\b/g;

/**
 * Names every blob that a piece, revision or cover still speaks of, then removes those that nobody has named for 30 days,
 * and pieces deleted as long ago. Returns how many blobs went.
 */
export async function collectBlobs(db: Knex, now = new Date()): Promise<number> {
  const before = new Date(now.getTime() - BLOB_DAYS * 86_400_000);
  await db('pieces').where('deleted_at', '<', before).delete();
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
  await read('revisions', 'edits', ['piece_id', 'number']);
  const list = [...named];
  for (let i = 0; i < list.length; i += 500)
    await db('blobs')
      .whereIn('sha256', list.slice(i, i + 500))
      .update({ last_named_at: now });
  const old: { sha256: string }[] = await db('blobs').where('last_named_at', '<', before).select('sha256');
  for (const { sha256 } of old) {
    // asked again at once: an upload may have named it in between
    const gone = await db('blobs').where({ sha256 }).where('last_named_at', '<', before).delete();
    if (!gone) continue;
    await db('assets').where({ original: sha256 }).orWhere({ model: sha256 }).delete();
    await unlink(blobPath(sha256)).catch(() => undefined);
  }
  return old.length;
}
