/** Reading stored documents: small, ordered migrations; newer or broken ones are refused and never overwritten. */
import { PIECE_SCHEMA, Piece } from './schema';

export class PieceFormatError extends Error {
  constructor(
    readonly code: 'piece/too-new' | 'piece/broken',
    message: string,
  ) {
    super(message);
  }
}

type Loose = { schema: number } & Record<string, unknown>;
/** MIGRATIONS[n] takes a document of schema n + 1 to n + 2. */
const MIGRATIONS: readonly ((doc: Loose) => Loose)[] = [
  // 2: recipes; what stock items gained has a default of its own
  (doc) => ({ ...doc, schema: 2, recipes: {} }),
  // 3: pictures have a `model`, the plane they hang as; those from before have none yet, and name themselves
  (doc) => ({
    ...doc,
    schema: 3,
    stock: Object.fromEntries(
      Object.entries((doc.stock ?? {}) as Record<string, Loose>).map(([id, s]) => [
        id,
        s?.kind === 'picture' ? { ...s, model: s.original, dismissed: [] } : s,
      ]),
    ),
  }),
];

/**
 * A stored document as a Piece of the present schema. The input is never changed.
 * @throws {PieceFormatError} newer than this program, or not a piece; says where.
 */
export function readPiece(stored: unknown): Piece {
  const schema = typeof stored === 'object' && stored !== null ? (stored as Loose).schema : undefined;
  if (!Number.isInteger(schema) || (schema as number) < 1)
    throw new PieceFormatError('piece/broken', 'This is not a piece: it carries no schema number.');
  if ((schema as number) > PIECE_SCHEMA)
    throw new PieceFormatError(
      'piece/too-new',
      `This piece is of schema ${schema}; this Scaphos reads up to ${PIECE_SCHEMA}. Nothing was changed.`,
    );
  const doc = MIGRATIONS.slice((schema as number) - 1).reduce((d, up) => up(d), stored as Loose);
  const read = Piece.safeParse(doc);
  if (read.success) return read.data;
  const first = read.error.issues[0];
  throw new PieceFormatError('piece/broken', `The piece is broken at ${first.path.join('.') || 'its root'}: ${first.message}.`);
}
