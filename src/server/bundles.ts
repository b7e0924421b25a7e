/** Bundles brought into a yard. Facts are computed anew, not believed. */
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import type { FileFacts } from '@/core/intake';
import { linkedFiles, type Piece, type Recipe, type StockItem } from '@/core/piece';
import { prepare, unpack } from '@/worker/node';
import { keep, keepFile, keepRow } from './assets';
import { adoptBlob, withTempDir } from './blobs';
import type { Knex } from './db';
import { HttpError } from './errors';
import { log } from './log';
import { requireRoom } from './quotas';
import { asHttp, inTurn, readFiles } from './readers';
import { requireDisk } from './reserve';

/**
 * Reads a bundle into a yard's stock and returns its piece.
 * @throws {HttpError} 422 not a bundle, altered, or with a file that cannot be read.
 */
export async function takeBundle(db: Knex, yardId: string, request: Request): Promise<Piece> {
  if (!request.body) throw new HttpError(400, 'upload/empty', 'No file came along.');
  await requireDisk(Number(request.headers.get('content-length')) || 0);
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
    await requireRoom(db, yardId, size);
    log.info({ bytes: size, sha256: hash.digest('hex') }, 'bundle received');
    const { piece } = await inTurn(yardId, () => unpack({ path, outDir: dir })).catch(asHttp);
    for (const item of Object.values(piece.stock)) await takeBundled(db, yardId, dir, item, piece.recipes[item.id]);
    return piece;
  });
}

const altered = (name: string, why: string) => new HttpError(422, 'bundle/altered', `${name} in the bundle ${why}.`);

/** One stock file of a bundle whose blobs lie in `dir`: everything in it is read like any upload. */
async function takeBundled(db: Knex, yardId: string, dir: string, item: StockItem, recipe: Recipe | undefined): Promise<void> {
  const out = join(dir, `out-${item.id}`);
  const done = await readFiles(yardId, [{ name: item.name, path: join(dir, item.original) }], out);
  const first = done.items.find((i) => i.original === item.original && i.facts.kind === item.kind);
  if (!first) throw altered(item.name, 'reads as another file than its piece names');
  const linked = linkedFiles(recipe?.steps ?? []);
  for (const link of linked) {
    const folder = join(out, 'linked');
    const read = await readFiles(yardId, [{ name: link.name, path: join(dir, link.file) }], folder);
    await keep(db, yardId, read, folder);
    // what is used as another file than it came is linked by what it is used as
    const facts = read.items[0].facts;
    await copyFile(join(dir, link.file), join(out, link.file));
    await adoptBlob(db, out, link.file);
    await keepRow(db, yardId, link.file, link.file, facts);
  }
  // the drawn file is what the piece was fitted on: it comes along rather than being made anew, and is checked like any
  const check = async (sha: string): Promise<FileFacts> => {
    const [read] = (await readFiles(yardId, [{ name: 'used', path: join(dir, sha) }])).items;
    const kinds: Record<string, FileFacts['kind']> = { picture: 'model', sequence: 'model' };
    if (read.facts.kind !== (kinds[item.kind] ?? item.kind)) throw altered(item.name, 'is used as something that it is not');
    return read.facts;
  };
  const copy = (sha: string) => copyFile(join(dir, sha), join(out, sha));
  const facts = item.model === item.original || item.model === first.model ? first.facts : withOwn(await check(item.model), first.facts);
  await copy(item.original);
  await copy(item.model);
  await keepFile(db, yardId, out, item.original, item.model, facts);
  await keepRow(db, yardId, item.original, item.model, facts);
  if (!recipe) return;
  await check(recipe.result);
  if (item.kind !== 'model') {
    const folder = join(out, 'made');
    const made = await inTurn(yardId, () =>
      prepare({ kind: item.kind, path: join(dir, item.original), name: item.name, steps: recipe.steps, outDir: folder }),
    ).catch(asHttp);
    await keepFile(db, yardId, folder, null, made.result, made.facts);
    await copy(recipe.result);
    await adoptBlob(db, out, recipe.result);
    await keepRow(db, yardId, item.original, recipe.result, made.facts);
    return;
  }
  await copy(recipe.result);
  await adoptBlob(db, out, recipe.result);
  await keepRow(db, yardId, item.original, recipe.result, withOwn(await check(recipe.result), first.facts));
}

/** Facts of the file as it is used, with what only the original could tell. */
function withOwn(used: FileFacts, original: FileFacts): FileFacts {
  if (used.kind !== 'model' || original.kind !== 'model') return original;
  return { ...used, credit: original.credit, loose: original.loose, cannotCarry: original.cannotCarry };
}
