/** Versions of a piece: revisions that somebody gave a name, and the documents kept between them. */
import type { Version, VersionAnswer } from '@/api';
import { listAssets } from './assets';
import type { Knex } from './db';
import { documentAt, KEPT_EVERY, keepDocument } from './documents';
import { HttpError, notFound } from './errors';

/** Of one piece. */
const MOST_NAMED = 200;

interface Piece {
  id: string;
  yard_id: string;
  revision: number;
}

/** Newest first. */
export async function listVersions(db: Knex, pieceId: string): Promise<Version[]> {
  const rows: { revision: number; name: string | null; by: string | null; at: Date }[] = await db('documents')
    .leftJoin('accounts', 'accounts.id', 'documents.account_id')
    .where('documents.piece_id', pieceId)
    .orderBy('documents.revision', 'desc')
    .select('documents.revision', 'documents.name', { by: 'accounts.name', at: 'documents.created_at' });
  return rows.map((r) => ({ ...r, at: r.at.toISOString() }));
}

/** @throws {HttpError} as documentAt. */
export async function answerVersion(db: Knex, piece: Piece, revision: number): Promise<VersionAnswer> {
  const { document, at } = await documentAt(db, piece.id, revision);
  const originals = [...new Set(Object.values(document.stock).map((s) => s.original))];
  return { revision, at: at.toISOString(), document, assets: await listAssets(db, piece.yard_id, originals) };
}

/** Gives a revision a name; one it has is replaced. @throws {HttpError} as documentAt; 422 too many have one */
export async function nameVersion(db: Knex, piece: Piece, accountId: string, revision: number, name: string): Promise<Version[]> {
  const { document, at } = await documentAt(db, piece.id, revision);
  await db.transaction(async (trx) => {
    // in turns, or two would count the same
    await trx('pieces').where('id', piece.id).forUpdate().first('id');
    const [{ n }] = await trx('documents')
      .where('piece_id', piece.id)
      .whereNotNull('name')
      .whereNot('revision', revision)
      .count({ n: '*' });
    if (Number(n) >= MOST_NAMED)
      throw new HttpError(422, 'version/too-many', `${MOST_NAMED} versions of this piece have a name already. Take one away first.`);
    await keepDocument(trx, piece.id, revision, document, at);
    await trx('documents').where({ piece_id: piece.id, revision }).update({ name, account_id: accountId });
  });
  return listVersions(db, piece.id);
}

/** Takes the name away; what the history needs stays. @throws {HttpError} 404 no version of that revision has one */
export async function unnameVersion(db: Knex, pieceId: string, revision: number): Promise<Version[]> {
  const named = () => db('documents').where({ piece_id: pieceId, revision }).whereNotNull('name');
  const changed = revision % KEPT_EVERY === 0 ? await named().update({ name: null, account_id: null }) : await named().delete();
  if (changed === 0) throw notFound('version');
  return listVersions(db, pieceId);
}
