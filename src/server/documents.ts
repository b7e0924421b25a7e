/** Documents of a piece as they are kept: the newest with the piece, and here and there in its history one to start from. */
import { applyEdit, EditError, Piece, PieceFormatError, readEdits, readPiece } from '@/core/piece';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';

/** A document is kept at revision 0, at every so-manieth, and wherever a version has a name. */
export const KEPT_EVERY = 200;

/** @throws {PieceFormatError} what is kept cannot be read */
export function documentOf(row: { document: string }): Piece {
  let kept: unknown;
  try {
    kept = JSON.parse(row.document);
  } catch {
    throw new PieceFormatError('piece/broken', 'The piece is damaged: what is kept of it breaks off, or is no document.');
  }
  return readPiece(kept);
}

/** The document, or why it cannot be read. */
export function documentOrWhy(row: { document: string }): Piece | string {
  try {
    return documentOf(row);
  } catch (error) {
    if (error instanceof PieceFormatError) return error.message;
    throw error;
  }
}

/** Pieces that are being worked on: what was written last need not be read again for the next save. */
const MOST_HELD = 100;
const shared = globalThis as { scaphosNewest?: Map<string, { revision: number; document: Piece }> };
const newest = () => {
  shared.scaphosNewest ??= new Map();
  return shared.scaphosNewest;
};
export function holdNewest(pieceId: string, revision: number, document: Piece): void {
  const map = newest();
  // another save may have been answered sooner
  if ((map.get(pieceId)?.revision ?? -1) > revision) return;
  map.delete(pieceId);
  map.set(pieceId, { revision, document });
  const [oldest] = map.keys();
  if (map.size > MOST_HELD) map.delete(oldest);
}
/** The document of that revision, if it is the one that was written last. */
export function newestOf(pieceId: string, revision: number): Piece | undefined {
  const held = newest().get(pieceId);
  return held?.revision === revision ? held.document : undefined;
}

/** Keeps a document that history can start from; one that is kept already stays. */
export const keepDocument = (db: Knex, pieceId: string, revision: number, document: Piece, at: Date) =>
  db('documents')
    .insert({ piece_id: pieceId, revision, document: JSON.stringify(document), created_at: at })
    .onConflict(['piece_id', 'revision'])
    .ignore();

/**
 * The document as it was at a revision, and when that was: from the nearest one kept before it, by the edits since.
 * @throws {HttpError} 404 such a revision is not there, or older than what is kept; 422 what is kept of it does not fit together
 */
export async function documentAt(db: Knex, pieceId: string, revision: number): Promise<{ document: Piece; at: Date }> {
  const start: { revision: number; document: string; created_at: Date } | undefined = await db('documents')
    .where('piece_id', pieceId)
    .where('revision', '<=', revision)
    .orderBy('revision', 'desc')
    .first();
  if (!start) throw notFound('version');
  const since: { number: number; edits: string; created_at: Date }[] = await db('revisions')
    .where('piece_id', pieceId)
    .where('number', '>', start.revision)
    .where('number', '<=', revision)
    .orderBy('number')
    .select('number', 'edits', 'created_at');
  if (since.length !== revision - start.revision) throw notFound('version');
  try {
    let document = documentOf(start);
    for (const row of since) for (const edit of readEdits(JSON.parse(row.edits), document)) document = applyEdit(document, edit);
    return { document: Piece.parse(document), at: since.at(-1)?.created_at ?? start.created_at };
  } catch (error) {
    if (error instanceof EditError || error instanceof SyntaxError)
      throw new HttpError(422, 'version/broken', `Revision ${revision} cannot be put together: its edits do not fit. Take another one.`);
    throw error;
  }
}
