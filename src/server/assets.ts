/** Stock files of a yard: uploads in, facts and blobs out. A failed upload leaves nothing behind. */
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { copyFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import busboy from 'busboy';
import type { AssetFacts, PrepareAnswer, PrepareRequest, UploadAnswer } from '@/api';
import { INTAKE_LIMITS, ownCredit, PictureFacts, StockFacts } from '@/core/intake';
import { Name, NO_STOCK_CREDIT, type Piece, type Recipe, type StockItem } from '@/core/piece';
import { type IntakeDone, type IntakeFile, intake, JobError, prepare, unpack } from '@/worker/node';
import { adoptBlob, blobPath, withTempDir } from './blobs';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';
import { log } from './log';

interface AssetRow {
  original: string;
  model: string;
  facts: string;
}

/** Facts as they are written now; null: of an older shape. */
function readFacts(text: string): Pick<AssetFacts, 'facts' | 'picture'> | null {
  const stored: unknown = JSON.parse(text);
  const picture = PictureFacts.safeParse(stored);
  if (picture.success) return { facts: null, picture: picture.data };
  const facts = StockFacts.safeParse(stored);
  return facts.success ? { facts: facts.data, picture: null } : null;
}

/** Facts of an older shape are read anew from the file, once. */
async function refresh(db: Knex, yardId: string, row: AssetRow): Promise<Pick<AssetFacts, 'facts' | 'picture'>> {
  const old = JSON.parse(row.facts) as { format?: StockFacts['format']; bytes?: number };
  const done = await read([{ name: 'model.glb', path: blobPath(row.model) }]).catch(() => null);
  const item = done?.items[0];
  if (item?.kind !== 'model') return { facts: null, picture: null };
  const facts = { ...item.facts, format: old.format ?? item.facts.format, bytes: old.bytes ?? item.facts.bytes };
  await db('assets')
    .where({ yard_id: yardId, original: row.original, model: row.model })
    .update({ facts: JSON.stringify(facts) });
  return { facts, picture: null };
}

/** What is known of a yard's files; `originals` narrows it to some. */
export async function listAssets(db: Knex, yardId: string, originals?: readonly string[]): Promise<AssetFacts[]> {
  if (originals?.length === 0) return [];
  const rows: AssetRow[] = await db('assets')
    .where('yard_id', yardId)
    .modify((q) => originals && q.whereIn('original', [...originals]))
    .select('original', 'model', 'facts');
  const out: AssetFacts[] = [];
  for (const { original, model, facts } of rows)
    out.push({ original, model, ...(readFacts(facts) ?? (await refresh(db, yardId, { original, model, facts }))) });
  return out;
}

/** What kind of bytes a file of the yard is. @throws {HttpError} 404 where none has this hash. */
export async function requireAsset(db: Knex, yardId: string, sha: string): Promise<{ type: string }> {
  const known = await db('assets')
    .where('yard_id', yardId)
    .andWhere((q) => q.where('original', sha).orWhere('model', sha))
    .first('facts');
  if (!known) throw notFound('file');
  const picture = PictureFacts.safeParse(JSON.parse(known.facts));
  return { type: picture.success && picture.data.sha === sha ? picture.data.type : 'application/octet-stream' };
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

const asHttp = (error: unknown): never => {
  if (!(error instanceof JobError)) throw error;
  if (error.detail) log.warn({ code: error.code, detail: error.detail }, 'a file made its reader fail');
  throw new HttpError(422, error.code, error.message);
};

async function read(files: IntakeFile[], outDir?: string, signal?: AbortSignal): Promise<IntakeDone> {
  return inTurn(() => intake({ files, outDir }, { signal })).catch(asHttp);
}

async function keepRow(db: Knex, yardId: string, original: string, model: string, facts: StockFacts | PictureFacts): Promise<void> {
  await db('assets')
    .insert({ yard_id: yardId, original, model, facts: JSON.stringify(facts), created_at: new Date() })
    .onConflict(['yard_id', 'original', 'model'])
    .merge(['facts']);
}

/** Takes what intake wrote to `dir` into the yard, and says what came in. */
async function keep(db: Knex, yardId: string, done: IntakeDone, dir: string): Promise<UploadAnswer> {
  const items: UploadAnswer['items'] = [];
  for (const item of done.items) {
    const name = fileName(item.name);
    if (item.kind === 'picture') {
      const { sha, bytes } = item.facts;
      await adoptBlob(db, dir, sha);
      await keepRow(db, yardId, sha, sha, item.facts);
      items.push({
        item: { kind: 'picture', name, original: sha, bytes, credit: NO_STOCK_CREDIT },
        asset: { original: sha, model: sha, facts: null, picture: item.facts },
      });
      continue;
    }
    const { original, model, facts } = item;
    if (!original || !model) throw new Error('intake wrote no blobs');
    for (const sha of new Set([original, model])) await adoptBlob(db, dir, sha);
    // pictures that came along unused can be put where one is missing
    for (const p of facts.loose) {
      await adoptBlob(db, dir, p.sha);
      await keepRow(db, yardId, p.sha, p.sha, p);
    }
    await keepRow(db, yardId, original, model, facts);
    items.push({
      item: { kind: 'model', name, original, model, bytes: facts.bytes, credit: ownCredit(facts), stated: null, dismissed: [] },
      asset: { original, model, facts, picture: null },
    });
  }
  return { items };
}

const fileName = (name: string) => Name.safeParse(name.trim().slice(-120).trim()).data ?? 'unnamed file';

export async function takeUpload(db: Knex, yardId: string, request: Request): Promise<UploadAnswer> {
  return withTempDir(async (dir) => {
    const files = await receive(request, dir);
    const done = await read(files, join(dir, 'out'), request.signal);
    return keep(db, yardId, done, join(dir, 'out'));
  });
}

/** Brings a file from disk into a yard: the demo data takes the same road as an upload. */
export async function takeFile(db: Knex, yardId: string, name: string, bytes: Uint8Array): Promise<UploadAnswer['items'][number]['item']> {
  return withTempDir(async (dir) => {
    const path = join(dir, 'upload-0');
    await writeFile(path, bytes);
    const done = await read([{ name, path }], join(dir, 'out'));
    return (await keep(db, yardId, done, join(dir, 'out'))).items[0].item;
  });
}

/**
 * Runs a recipe on a stock model of the yard and keeps what it yields.
 * @throws {HttpError} 404 a model or picture that is not in the yard, 422 a recipe that leaves nothing
 */
export async function prepareModel(
  db: Knex,
  yardId: string,
  { original, model, steps }: PrepareRequest,
  signal?: AbortSignal,
): Promise<PrepareAnswer> {
  const row = (await listAssets(db, yardId, [original])).find((a) => a.model === model);
  if (!row?.facts) throw notFound('file');
  const { facts } = row;
  const pictures: Record<string, string> = {};
  for (const link of steps.flatMap((s) => (s.step === 'relink' ? s.settings.links : []))) {
    await requireAsset(db, yardId, link.picture);
    pictures[link.picture] = blobPath(link.picture);
  }
  return withTempDir(async (dir) => {
    const done = await inTurn(() => prepare({ path: blobPath(model), steps, pictures, from: facts, outDir: dir }, { signal })).catch(
      asHttp,
    );
    await adoptBlob(db, dir, done.result);
    await keepRow(db, yardId, original, done.result, done.facts);
    return { asset: { original, model: done.result, facts: done.facts, picture: null }, unmatched: done.unmatched };
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
    for (const item of Object.values(piece.stock)) await takeBundled(db, yardId, dir, item, piece.recipes[item.id]);
    return piece;
  });
}

/** One stock file of a bundle whose blobs lie in `dir`: everything in it is read like any upload. */
async function takeBundled(db: Knex, yardId: string, dir: string, item: StockItem, recipe: Recipe | undefined): Promise<void> {
  const out = join(dir, `out-${item.id}`);
  const done = await read([{ name: item.name, path: join(dir, item.original) }], out);
  const [first] = done.items;
  const again = first.kind === 'model' ? first.original : first.facts.sha;
  if (again !== item.original || first.kind !== item.kind)
    throw new HttpError(422, 'bundle/altered', `${item.name} in the bundle reads as another file than its piece names.`);
  if (item.kind === 'picture' || first.kind === 'picture') {
    await keep(db, yardId, done, out);
    return;
  }
  for (const link of recipe?.steps.flatMap((s) => (s.step === 'relink' ? s.settings.links : [])) ?? []) {
    const folder = join(out, 'linked');
    await keep(db, yardId, await read([{ name: link.name, path: join(dir, link.picture) }], folder), folder);
  }
  // the drawn file is what the piece was fitted on: it comes along rather than being made anew, and is checked like any
  const check = async (sha: string) => {
    const read1 = await read([{ name: 'model.glb', path: join(dir, sha) }]);
    if (read1.items[0].kind !== 'model')
      throw new HttpError(422, 'bundle/altered', `${item.name} in the bundle is drawn from something else than a model.`);
    return read1.items[0].facts;
  };
  if (item.model !== item.original) await check(item.model);
  for (const sha of new Set([item.original, item.model])) await copyFile(join(dir, sha), join(out, sha));
  await keep(db, yardId, { items: [{ ...first, model: item.model }] }, out);
  if (!recipe) return;
  const facts = {
    ...(await check(recipe.result)),
    credit: first.facts.credit,
    loose: first.facts.loose,
    cannotCarry: first.facts.cannotCarry,
  };
  await copyFile(join(dir, recipe.result), join(out, recipe.result));
  await adoptBlob(db, out, recipe.result);
  await keepRow(db, yardId, item.original, recipe.result, facts);
}
