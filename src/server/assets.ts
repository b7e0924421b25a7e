/** Stock files of a yard: uploads in, facts and blobs out. A failed upload leaves nothing behind. */
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { copyFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import busboy from 'busboy';
import type { AssetFacts, UploadAnswer } from '@/api';
import { INTAKE_LIMITS } from '@/core/intake';
import { Name, type Piece } from '@/core/piece';
import { type IntakeDone, type IntakeFile, intake, JobError, unpack } from '@/worker/node';
import { adoptBlob, withTempDir } from './blobs';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';
import { log } from './log';

export async function listAssets(db: Knex, yardId: string): Promise<AssetFacts[]> {
  const rows: { original: string; model: string; facts: string }[] = await db('assets')
    .where('yard_id', yardId)
    .select('original', 'model', 'facts');
  return rows.map((r) => ({ original: r.original, model: r.model, facts: JSON.parse(r.facts) }));
}

/** @throws {HttpError} 404 where no file of the yard has this hash. */
export async function requireAsset(db: Knex, yardId: string, sha: string): Promise<void> {
  const known = await db('assets')
    .where('yard_id', yardId)
    .andWhere((q) => q.where('original', sha).orWhere('model', sha))
    .first('original');
  if (!known) throw notFound('file');
}

/** Multipart parts to files on disk, streamed and limited. */
async function receive(request: Request, dir: string): Promise<IntakeFile[]> {
  const type = request.headers.get('content-type') ?? '';
  if (!request.body || !type.startsWith('multipart/form-data'))
    throw new HttpError(415, 'upload/form', 'Send the files as multipart/form-data.');
  const parser = busboy({
    headers: { 'content-type': type },
    preservePath: true,
    defParamCharset: 'utf8',
    limits: { files: INTAKE_LIMITS.archiveEntries, fileSize: INTAKE_LIMITS.fileBytes },
  });
  const files: IntakeFile[] = [];
  const writes: Promise<unknown>[] = [];
  let refused: HttpError | null = null;
  parser.on('file', (_field, stream, info) => {
    const path = join(dir, `upload-${files.length}`);
    files.push({ name: info.filename || 'file', path });
    stream.on('limit', () => {
      refused = new HttpError(
        413,
        'file/too-large',
        `${info.filename} has more than ${INTAKE_LIMITS.fileBytes / 1e6} MB, the most that is read.`,
      );
    });
    writes.push(pipeline(stream, createWriteStream(path)));
  });
  parser.on('filesLimit', () => {
    refused = new HttpError(413, 'upload/too-many', `More than ${INTAKE_LIMITS.archiveEntries} files at once are not read.`);
  });
  try {
    await pipeline(Readable.fromWeb(request.body as NodeReadableStream), parser);
    await Promise.all(writes);
  } catch (error) {
    await Promise.allSettled(writes);
    throw (
      refused ??
      new HttpError(400, 'upload/cut', `The upload stopped half way (${(error as Error).message}). Nothing was kept; drop the file again.`)
    );
  }
  if (refused) throw refused;
  if (files.length === 0) throw new HttpError(400, 'upload/empty', 'No file came along.');
  return files;
}

/** One reader a core is enough; the rest wait their turn. */
const READERS = 2;
let running = 0;
const waiting: (() => void)[] = [];
async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (running >= READERS) await new Promise<void>((r) => waiting.push(r));
  running++;
  try {
    return await work();
  } finally {
    running--;
    waiting.shift()?.();
  }
}

async function read(files: IntakeFile[], outDir: string, signal?: AbortSignal): Promise<IntakeDone> {
  return inTurn(() => intake({ files, outDir }, { signal })).catch((error: unknown) => {
    if (!(error instanceof JobError)) throw error;
    if (error.detail) log.warn({ code: error.code, detail: error.detail }, 'a file made its reader fail');
    throw new HttpError(422, error.code, error.message);
  });
}

async function keep(db: Knex, yardId: string, done: IntakeDone, dir: string): Promise<{ original: string; model: string }> {
  const { original, model } = done;
  if (!original || !model) throw new Error('intake wrote no blobs');
  for (const sha of new Set([original, model])) await adoptBlob(db, dir, sha);
  await db('assets')
    .insert({ yard_id: yardId, original, model, facts: JSON.stringify(done.facts), created_at: new Date() })
    .onConflict(['yard_id', 'original', 'model'])
    .merge(['facts']);
  return { original, model };
}

const fileName = (name: string) => Name.safeParse(name.trim().slice(-120).trim()).data ?? 'unnamed file';

export async function takeUpload(db: Knex, yardId: string, request: Request): Promise<UploadAnswer> {
  return withTempDir(async (dir) => {
    const files = await receive(request, dir);
    const done = await read(files, join(dir, 'out'), request.signal);
    const blobs = await keep(db, yardId, done, join(dir, 'out'));
    return { item: { name: fileName(done.name), kind: 'model', ...blobs, bytes: done.facts.bytes }, facts: done.facts };
  });
}

/** Brings a file from disk into a yard: the demo data takes the same road as an upload. */
export async function takeFile(db: Knex, yardId: string, name: string, bytes: Uint8Array): Promise<UploadAnswer['item']> {
  return withTempDir(async (dir) => {
    const path = join(dir, 'upload-0');
    await writeFile(path, bytes);
    const done = await read([{ name, path }], join(dir, 'out'));
    const blobs = await keep(db, yardId, done, join(dir, 'out'));
    return { name: fileName(done.name), kind: 'model', ...blobs, bytes: done.facts.bytes };
  });
}

/**
 * Reads a bundle into a yard's stock and returns its piece. Facts are computed anew, not believed.
 * @throws {HttpError} 422 not a bundle, altered, or with a file that cannot be read.
 */
export async function takeBundle(db: Knex, yardId: string, request: Request): Promise<Piece> {
  if (!request.body) throw new HttpError(400, 'upload/empty', 'No file came along.');
  return withTempDir(async (dir) => {
    const path = join(dir, 'bundle.zip');
    const hash = createHash('sha256');
    let size = 0;
    await pipeline(
      Readable.fromWeb(request.body as NodeReadableStream),
      async function* (source) {
        for await (const chunk of source) {
          size += (chunk as Buffer).length;
          if (size > 600e6) throw new HttpError(413, 'bundle/too-large', 'The bundle has more than 600 MB, the most that is read.');
          hash.update(chunk as Buffer);
          yield chunk;
        }
      },
      createWriteStream(path),
    );
    log.info({ bytes: size, sha256: hash.digest('hex') }, 'bundle received');
    const { piece } = await inTurn(() => unpack({ path, outDir: dir })).catch((error: unknown) => {
      if (error instanceof JobError) throw new HttpError(422, error.code, error.message);
      throw error;
    });
    for (const item of Object.values(piece.stock)) {
      const done = await read([{ name: item.name, path: join(dir, item.original) }], join(dir, `out-${item.id}`));
      if (done.original !== item.original)
        throw new HttpError(422, 'bundle/altered', `${item.name} in the bundle reads as another file than its piece names.`);
      // a bundle made elsewhere could carry anything as its drawn file: it is read like any upload
      if (item.model !== item.original)
        await read([{ name: 'model.glb', path: join(dir, item.model) }], join(dir, `out-${item.id}`, 'check'));
      // the drawn file is what the piece was fitted on: it comes along rather than being made anew
      const kept = { ...done, model: item.model };
      for (const sha of new Set([item.original, item.model])) await copyFile(join(dir, sha), join(dir, `out-${item.id}`, sha));
      await keep(db, yardId, kept, join(dir, `out-${item.id}`));
    }
    return piece;
  });
}
