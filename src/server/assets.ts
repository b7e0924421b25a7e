/** Stock files of a yard: what was read of them, their blobs, and recipes run on them. */
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { AssetFacts, PrepareAnswer, PrepareRequest, UploadAnswer } from '@/api';
import { FileFacts, ownCredit } from '@/core/intake';
import { linkedFiles, Name, NO_STOCK_CREDIT, type RecipeStep, stepFits } from '@/core/piece';
import { type IntakeDone, type ItemDone, prepare } from '@/worker/node';
import { adoptBlob, blobPath, withTempDir } from './blobs';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';
import { asHttp, inTurn, readFiles } from './readers';

interface AssetRow {
  original: string;
  model: string;
  facts: string;
}

/** Facts as they are written now; null: of an older shape. */
const parseFacts = (text: string): FileFacts | null => FileFacts.safeParse(JSON.parse(text)).data ?? null;

/** Facts of an older shape are read anew from the file, once. */
async function refresh(db: Knex, yardId: string, row: AssetRow): Promise<FileFacts | null> {
  const old = JSON.parse(row.facts) as { format?: string; bytes?: number; name?: string };
  const done = await readFiles(yardId, [{ name: old.name ?? 'model.glb', path: blobPath(row.model) }]).catch(() => null);
  const facts = done?.items[0]?.facts;
  if (!facts) return null;
  const kept = FileFacts.safeParse({
    ...facts,
    ...(facts.kind === 'model' ? { format: old.format ?? facts.format, bytes: old.bytes ?? facts.bytes } : {}),
  });
  if (!kept.success) return null;
  await db('assets')
    .where({ yard_id: yardId, original: row.original, model: row.model })
    .update({ facts: JSON.stringify(kept.data) });
  return kept.data;
}

/** What is known of a yard's files; `originals` narrows it to some. */
export async function listAssets(db: Knex, yardId: string, originals?: readonly string[]): Promise<AssetFacts[]> {
  if (originals?.length === 0) return [];
  const rows: AssetRow[] = await db('assets')
    .where('yard_id', yardId)
    .modify((q) => originals && q.whereIn('original', [...originals]))
    .select('original', 'model', 'facts');
  const out: AssetFacts[] = [];
  for (const row of rows) {
    const { original, model, facts } = row;
    out.push({ original, model, facts: parseFacts(facts) ?? (await refresh(db, yardId, row)) });
  }
  return out;
}

/** Types a browser may be told; everything else, drawings with scripts above all, is bytes to be saved. */
const SAFE_TYPES: Record<string, string> = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  webp: 'image/webp',
  gif: 'image/gif',
  avif: 'image/avif',
  wav: 'audio/wav',
  mp3: 'audio/mpeg',
  ogg: 'audio/ogg',
  m4a: 'audio/mp4',
  flac: 'audio/flac',
  mp4: 'video/mp4',
  webm: 'video/webm',
};
const BYTES = 'application/octet-stream';

function typeOf(facts: FileFacts | null, row: AssetRow, sha: string): string {
  if (facts?.kind === 'picture' && facts.sha === sha) return facts.type;
  if (facts?.kind === 'sequence' && facts.sheet.sha === sha) return 'image/png';
  if (facts?.kind === 'sound') return SAFE_TYPES[facts.format] ?? BYTES;
  if (sha !== row.original || !facts || (facts.kind !== 'picture' && facts.kind !== 'footage')) return BYTES;
  return SAFE_TYPES[facts.format] ?? BYTES;
}

/** What kind of bytes a file of the yard is. @throws {HttpError} 404 where none has this hash. */
export async function requireAsset(db: Knex, yardId: string, sha: string): Promise<{ type: string }> {
  const rows: AssetRow[] = await db('assets')
    .where('yard_id', yardId)
    .andWhere((q) => q.where('original', sha).orWhere('model', sha))
    .select('original', 'model', 'facts');
  if (rows.length === 0) throw notFound('file');
  return { type: rows.map((r) => typeOf(parseFacts(r.facts), r, sha)).find((t) => t !== BYTES) ?? BYTES };
}

export async function keepRow(db: Knex, yardId: string, original: string, model: string, facts: FileFacts): Promise<void> {
  await db('assets')
    .insert({ yard_id: yardId, original, model, facts: JSON.stringify(facts), created_at: new Date() })
    .onConflict(['yard_id', 'original', 'model'])
    .merge(['facts']);
}

/** Files that facts speak of besides the original and what it is used as: each is filed under its own hash. */
function namedBlobs(facts: FileFacts): [sha: string, facts: FileFacts][] {
  // pictures that came along unused can be put where one is missing
  if (facts.kind === 'model') return facts.loose.map((p) => [p.sha, p]);
  if (facts.kind === 'picture') return [[facts.sha, facts]];
  return facts.kind === 'sequence' ? [[facts.sheet.sha, facts]] : [];
}

/** Takes what a reader wrote to `dir` into the yard. */
export async function keepFile(
  db: Knex,
  yardId: string,
  dir: string,
  original: string | null,
  model: string,
  facts: FileFacts,
): Promise<void> {
  const named = namedBlobs(facts).filter(([sha]) => sha !== original && sha !== model);
  for (const sha of new Set([...(original ? [original] : []), model, ...named.map(([sha]) => sha)])) await adoptBlob(db, dir, sha);
  for (const [sha, f] of named) await keepRow(db, yardId, sha, sha, f);
}

const fileName = (name: string) => Name.safeParse(name.trim().slice(-120).trim()).data ?? 'unnamed file';

function stockItem({ name, facts }: ItemDone, original: string, model: string): UploadAnswer['items'][number]['item'] {
  const common = { name: fileName(name), original, model, bytes: facts.bytes, dismissed: [] };
  return facts.kind === 'model'
    ? { ...common, kind: 'model', credit: ownCredit(facts), stated: null }
    : { ...common, kind: facts.kind, credit: NO_STOCK_CREDIT };
}

/** Takes what intake wrote to `dir` into the yard, and says what came in. */
export async function keep(db: Knex, yardId: string, done: IntakeDone, dir: string): Promise<UploadAnswer> {
  const items: UploadAnswer['items'] = [];
  for (const item of done.items) {
    const { original, model, facts } = item;
    if (!original || !model) throw new Error('intake wrote no blobs');
    await keepFile(db, yardId, dir, original, model, facts);
    await keepRow(db, yardId, original, model, facts);
    items.push({ item: stockItem(item, original, model), asset: { original, model, facts } });
  }
  return { items };
}

/** Brings a file from disk into a yard: the demo data takes the same road as an upload. */
export async function takeFile(db: Knex, yardId: string, name: string, bytes: Uint8Array): Promise<UploadAnswer['items'][number]['item']> {
  return withTempDir(async (dir) => {
    const path = join(dir, 'upload-0');
    await writeFile(path, bytes);
    const done = await readFiles(yardId, [{ name, path }], join(dir, 'out'));
    return (await keep(db, yardId, done, join(dir, 'out'))).items[0].item;
  });
}

/**
 * Runs a recipe on a stock file of the yard and keeps what it yields.
 * @throws {HttpError} 404 a file or picture that is not in the yard, 422 a recipe that leaves nothing or is for another kind
 */
export async function prepareFile(
  db: Knex,
  yardId: string,
  { original, model, name, steps }: PrepareRequest,
  signal?: AbortSignal,
): Promise<PrepareAnswer> {
  const facts = (await listAssets(db, yardId, [original])).find((a) => a.model === model)?.facts;
  if (!facts) throw notFound('file');
  const stray = steps.find((s) => !stepFits(facts.kind, s.step));
  if (stray) throw new HttpError(422, 'recipe/kind', `${stray.step} is no step for a file of kind ${facts.kind}.`);
  const files = await filesFor(db, yardId, steps);
  return withTempDir(async (dir) => {
    const job =
      facts.kind === 'model'
        ? { kind: facts.kind, path: blobPath(model), steps, files, from: facts, outDir: dir }
        : { kind: facts.kind, path: blobPath(original), name, steps, outDir: dir };
    const done = await inTurn(yardId, () => prepare(job, { signal })).catch(asHttp);
    return { asset: await keepPrepared(db, yardId, dir, original, done), unmatched: done.unmatched };
  });
}

/** Files of the pictures and motions that steps put into a model. @throws {HttpError} 404 one that is not in the yard */
export async function filesFor(db: Knex, yardId: string, steps: readonly RecipeStep[]): Promise<Record<string, string>> {
  const files: Record<string, string> = {};
  for (const link of linkedFiles(steps)) {
    await requireAsset(db, yardId, link.file);
    files[link.file] = blobPath(link.file);
  }
  return files;
}

/** Takes what a recipe yielded from `dir` into the yard. */
export async function keepPrepared(
  db: Knex,
  yardId: string,
  dir: string,
  original: string,
  { result, facts }: { result: string; facts: FileFacts },
): Promise<AssetFacts> {
  // loose pictures are in the yard since the model came
  if (facts.kind === 'model') await adoptBlob(db, dir, result);
  else await keepFile(db, yardId, dir, null, result, facts);
  await keepRow(db, yardId, original, result, facts);
  return { original, model: result, facts };
}
