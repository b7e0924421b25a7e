/** Pieces and their revisions. A save sends edits on a revision; a mismatch answers what changed and writes nothing. */
import type { BehindDetails, PieceAnswer, PieceSummary, SaveRequest, YardPiece } from '@/api';
import { blobsOf } from '@/core/deliver';
import { type AtHand, judgeStock } from '@/core/intake';
import {
  applyEdit,
  BARE_EDITS_SCHEMA,
  createPiece,
  type Edit,
  EditError,
  Piece,
  PieceFormatError,
  reachedBy,
  readEdits,
  spellOut,
  storeEdits,
  touchedByEdit,
  usedFile,
} from '@/core/piece';
import { listAssets } from './assets';
import type { Knex } from './db';
import { documentOf, documentOrWhy, holdNewest, KEPT_EVERY, keepDocument, newestOf } from './documents';
import { HttpError, notFound } from './errors';
import { newId } from './ids';

export const RESTORE_DAYS = 30;

interface PieceRow {
  id: string;
  yard_id: string;
  revision: number;
  document: string;
  cover_sha256: string | null;
  cover_revision: number | null;
  created_at: Date;
  updated_at: Date;
  deleted_at: Date | null;
}

/** @throws {HttpError} 404 where the piece is deleted or its yard is not the account's. */
export async function requirePiece(
  db: Knex,
  pieceId: string,
  accountId: string,
  deletedToo = false,
): Promise<PieceRow & { yard_name: string }> {
  const row = await db('pieces')
    .join('members', 'members.yard_id', 'pieces.yard_id')
    .join('yards', 'yards.id', 'pieces.yard_id')
    .where('pieces.id', pieceId)
    .where('members.account_id', accountId)
    .first('pieces.*', { yard_name: 'yards.name' });
  if (!row || (row.deleted_at && !deletedToo)) throw notFound('piece');
  return row;
}

const membersOf = (db: Knex, accountId: string) =>
  db('members').whereRaw('members.yard_id = pieces.yard_id').where('members.account_id', accountId).select(db.raw('1'));

/** As `requirePiece`, of a piece whose document is not needed. @throws {HttpError} 404 */
export async function requireMember(db: Knex, pieceId: string, accountId: string): Promise<void> {
  const row = await db('pieces').where('id', pieceId).whereNull('deleted_at').whereExists(membersOf(db, accountId)).first('id');
  if (!row) throw notFound('piece');
}

export async function insertPiece(db: Knex, yardId: string, document: Piece): Promise<string> {
  const id = newId();
  const now = new Date();
  const read = Piece.parse(document);
  await db.transaction(async (trx) => {
    await trx('pieces').insert({
      id,
      yard_id: yardId,
      revision: 0,
      document: JSON.stringify(read),
      created_at: now,
      updated_at: now,
    });
    await keepDocument(trx, id, 0, read, now);
  });
  return id;
}

export const newPiece = (db: Knex, yardId: string, name: string) => insertPiece(db, yardId, createPiece(name));

/** Every piece of a yard, the one changed last first; one that cannot be read holds up none of the others. */
export async function listPieces(db: Knex, yardId: string): Promise<YardPiece[]> {
  const rows: PieceRow[] = await db('pieces').where('yard_id', yardId).orderBy('updated_at', 'desc').orderBy('id', 'desc');
  const assets = await listAssets(db, yardId);
  return rows.map((row) => {
    const document = documentOrWhy(row);
    if (typeof document === 'string')
      return { id: row.id, unreadable: document, revision: row.revision, updatedAt: row.updated_at.toISOString() };
    return {
      id: row.id,
      name: document.settings.name,
      revision: row.revision,
      profile: document.settings.profile,
      reached: reachedBy(document),
      createdAt: row.created_at.toISOString(),
      updatedAt: row.updated_at.toISOString(),
      deletedAt: row.deleted_at?.toISOString() ?? null,
      coverRevision: row.cover_revision,
      findings: countFindings(document, assets),
    };
  });
}

/** Documents of a yard's living pieces, and the revisions they are at; of one that cannot be read, why. */
export async function yardDocuments(db: Knex, yardId: string): Promise<{ id: string; revision: number; document: Piece | string }[]> {
  const rows: PieceRow[] = await db('pieces').where('yard_id', yardId).whereNull('deleted_at').orderBy('updated_at', 'desc');
  return rows.map((row) => ({ id: row.id, revision: row.revision, document: documentOrWhy(row) }));
}

function countFindings(piece: Piece, assets: readonly AtHand[]): PieceSummary['findings'] {
  const out = { blocker: 0, warning: 0, note: 0 };
  for (const id of Object.keys(piece.stock)) for (const f of judgeStock(piece, id, assets)?.findings ?? []) out[f.level]++;
  return out;
}

export async function answerPiece(db: Knex, row: PieceRow & { yard_name: string }): Promise<PieceAnswer> {
  const document = documentOf(row);
  return {
    id: row.id,
    yard: { id: row.yard_id, name: row.yard_name },
    revision: row.revision,
    document,
    assets: await assetsOf(db, row.yard_id, document),
  };
}

async function assetsOf(db: Knex, yardId: string, piece: Piece) {
  return listAssets(db, yardId, [...new Set(Object.values(piece.stock).map((s) => s.original))]);
}

/** Applies edits to the newest revision, in one transaction. @throws {HttpError} 409 behind, 422 an edit that does not fit. */
export async function saveEdits(db: Knex, pieceId: string, accountId: string, save: SaveRequest): Promise<number> {
  const done = await db.transaction(async (trx) => {
    const row: Pick<PieceRow, 'yard_id' | 'revision'> | undefined = await trx('pieces')
      .where('id', pieceId)
      .whereNull('deleted_at')
      .whereExists(membersOf(trx, accountId))
      .forUpdate()
      .first('yard_id', 'revision');
    if (!row) throw notFound('piece');
    // locking reads see what another save did while this one waited; the view of plain ones may be older
    const taken = async () =>
      (await trx('revisions').where({ piece_id: pieceId, save_id: save.saveId }).forShare().first('number'))?.number;
    if (row.revision !== save.baseRevision) {
      const revision: number | undefined = await taken();
      return { revision, next: null };
    }
    const base = newestOf(pieceId, row.revision) ?? documentOf(await trx('pieces').where('id', pieceId).forUpdate().first('document'));
    const { next, edits } = applyAll(base, readSaved(save, base));
    await checkBlobs(trx, row.yard_id, base, next);
    const now = new Date();
    try {
      await trx('revisions').insert({
        piece_id: pieceId,
        number: row.revision + 1,
        save_id: save.saveId,
        account_id: accountId,
        edits: JSON.stringify(storeEdits(edits)),
        created_at: now,
      });
    } catch (error) {
      // the same save once more, said to be on what it made
      const revision = (error as { code?: string }).code === 'ER_DUP_ENTRY' ? await taken() : undefined;
      if (revision === undefined) throw error;
      return { revision, next: null };
    }
    await trx('pieces')
      .where('id', pieceId)
      .update({ revision: row.revision + 1, document: JSON.stringify(next), updated_at: now });
    if ((row.revision + 1) % KEPT_EVERY === 0) await keepDocument(trx, pieceId, row.revision + 1, next, now);
    return { revision: row.revision + 1, next };
  });
  // what was changed is worked out without the lock: files may have to be read for it
  if (done.revision === undefined) throw await behind(db, await db('pieces').where('id', pieceId).first(), save.baseRevision);
  if (done.next) holdNewest(pieceId, done.revision, done.next);
  return done.revision;
}

/** @throws {HttpError} 400 what are no edits, or edits of a newer Scaphos. */
function readSaved(save: SaveRequest, base: Piece): Edit[] {
  try {
    return readEdits({ schema: save.schema ?? BARE_EDITS_SCHEMA, edits: [...save.edits] }, base);
  } catch (error) {
    if (error instanceof PieceFormatError) throw new HttpError(400, error.code, error.message);
    throw error;
  }
}

/** The piece after all edits, and the edits with everything named that they bring along. */
function applyAll(piece: Piece, asked: readonly Edit[]): { next: Piece; edits: Edit[] } {
  try {
    let next = piece;
    const edits = asked.map((e) => {
      const edit = spellOut(next, e);
      next = applyEdit(next, edit);
      return edit;
    });
    return { next: Piece.parse(next), edits };
  } catch (error) {
    if (error instanceof EditError) throw new HttpError(422, error.code, error.message);
    throw error;
  }
}

/**
 * A piece may name only files that came into its own yard, and results that were made from them there: whoever knows a hash does
 * not thereby have the file.
 */
async function checkBlobs(db: Knex, yardId: string, before: Piece, piece: Piece): Promise<void> {
  if (before.stock !== piece.stock || before.recipes !== piece.recipes) await checkPairs(db, yardId, piece);
  const had = new Set(blobsOf(before));
  await requireOwnFiles(
    db,
    yardId,
    blobsOf(piece).filter((sha) => !had.has(sha)),
  );
}

/** Asked again when bytes are handed out: whatever way a name came into a document. @throws {HttpError} 422 one is not of this yard */
export async function requireOwnFiles(db: Knex, yardId: string, fresh: readonly string[]): Promise<void> {
  if (fresh.length === 0) return;
  const rows: { original: string; model: string }[] = await db('assets')
    .where('yard_id', yardId)
    .where((q) => q.whereIn('original', fresh).orWhereIn('model', fresh))
    .select('original', 'model');
  const known = new Set(rows.flatMap((r) => [r.original, r.model]));
  const stray = fresh.find((sha) => !known.has(sha));
  if (stray) throw new HttpError(422, 'stock/unknown', `File ${stray.slice(0, 12)}… was never brought into this yard. Bring it in first.`);
}

/** Every stock file is used as what was made of it in this yard. */
async function checkPairs(db: Knex, yardId: string, piece: Piece): Promise<void> {
  const rows: { original: string; model: string }[] = await db('assets')
    .where('yard_id', yardId)
    .whereIn('original', [...new Set(Object.values(piece.stock).map((s) => s.original))])
    .select('original', 'model');
  const known = new Set(rows.map((r) => `${r.original} ${r.model}`));
  for (const item of Object.values(piece.stock)) {
    const drawn = [item.model, usedFile(piece, item.id) ?? item.model];
    if (!drawn.every((model) => known.has(`${item.original} ${model}`)))
      throw new HttpError(422, 'stock/unknown', `${item.name} was never brought into this yard. Bring the file in first.`);
  }
}

async function behind(db: Knex, row: PieceRow, baseRevision: number): Promise<HttpError> {
  if (baseRevision > row.revision)
    return new HttpError(422, 'piece/revision', `Revision ${baseRevision} is not there yet; the piece stands at ${row.revision}.`);
  const since: { edits: string }[] = await db('revisions')
    .where('piece_id', row.id)
    .where('number', '>', baseRevision)
    .where('number', '<=', row.revision)
    .orderBy('number')
    .select('edits');
  const document = documentOf(row);
  const details: BehindDetails = {
    revision: row.revision,
    document,
    changed: changedSince(since, document),
    assets: await assetsOf(db, row.yard_id, document),
  };
  return new HttpError(
    409,
    'piece/behind',
    `The piece has moved on to revision ${row.revision}; this was made on ${baseRevision}.`,
    details,
  );
}

/** What was changed since, from edits of whatever schema they were kept in. */
function changedSince(since: readonly { edits: string }[], document: Piece): string[] {
  return [...new Set(since.flatMap((r) => readEdits(JSON.parse(r.edits), document).flatMap((e) => touchedByEdit(e).writes)))];
}

export async function copyPiece(db: Knex, row: PieceRow): Promise<string> {
  const document = documentOf(row);
  return insertPiece(db, row.yard_id, {
    ...document,
    settings: { ...document.settings, name: `${document.settings.name.slice(0, 112)}, copy` },
  });
}

export const deletePiece = (db: Knex, id: string) => db('pieces').where({ id }).update({ deleted_at: new Date() });

/** @throws {HttpError} 410 after 30 days. */
export async function restorePiece(db: Knex, row: PieceRow, now = new Date()): Promise<void> {
  if (row.deleted_at && now.getTime() - row.deleted_at.getTime() > RESTORE_DAYS * 86_400_000)
    throw new HttpError(410, 'piece/gone', `It was deleted more than ${RESTORE_DAYS} days ago and cannot be restored.`);
  await db('pieces').where({ id: row.id }).update({ deleted_at: null });
}
