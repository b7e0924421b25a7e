/** Reading stored documents and edits: small, ordered migrations; newer or broken ones are refused and never overwritten. */
import * as z from 'zod';
import { createLayers } from './defaults';
import { Edit } from './edits';
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
type Rec = Record<string, unknown>;

const followAll = { place: true, yaw: true, pitch: true, roll: true, upright: false, size: null, trail: null };
const atAnchor = { positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] };
const hangOf = (anchor: unknown) => (anchor === null ? null : { on: 'anchor', anchor: { kind: anchor } });

/** A part of schema 3 as one of schema 4. */
function part4({ anchor, stockId, ...rest }: Rec): Rec {
  const common = { hang: hangOf(anchor), follow: followAll, layer: 'main', wears: {} };
  return rest.kind === 'occluder'
    ? { ...rest, ...common, offset: atAnchor, region: 'bust', growMm: 0, widenMm: 0 }
    : { ...rest, ...common, stock: stockId, motion: null };
}

const mapValues = (record: unknown, f: (value: Rec, key: string) => unknown) =>
  Object.fromEntries(Object.entries((record ?? {}) as Record<string, Rec>).map(([k, v]) => [k, f(v, k)]));

/** MIGRATIONS[n] takes a document of schema n + 1 to n + 2. */
const MIGRATIONS: readonly ((doc: Loose) => Loose)[] = [
  // 2: recipes; what stock items gained has a default of its own
  (doc) => ({ ...doc, schema: 2, recipes: {} }),
  // 3: pictures have a `model`, the plane they hang as; those from before have none yet, and name themselves
  (doc) => ({
    ...doc,
    schema: 3,
    stock: mapValues(doc.stock, (s) => (s?.kind === 'picture' ? { ...s, model: s.original, dismissed: [] } : s)),
  }),
  // 4: settings, tables and orders; parts hang, follow and stand in layers; recipes carry their file's id
  ({ name, form, profile, rack, parts, recipes, ...doc }) => {
    const layers = createLayers();
    return {
      ...doc,
      schema: 4,
      settings: { name, form, profile },
      recipes: mapValues(recipes, (r, id) => ({ id, ...r })),
      parts: mapValues(parts, part4),
      layers: Object.fromEntries(layers.map((l) => [l.id, l])),
      orders: { parts: rack, layers: layers.map((l) => l.id) },
    };
  },
  // 5: a cast; a size is shown
  ({ settings, ...doc }) => ({ ...doc, schema: 5, settings: { ...(settings as Rec), wearer: null }, forms: {} }),
  // 6: takes of its own
  (doc) => ({ ...doc, schema: 6, takes: {} }),
  // 7: finishes
  (doc) => ({ ...doc, schema: 7, finishes: {} }),
  // 8: mattes grow; surroundings: what they gained has defaults of its own
  (doc) => ({ ...doc, schema: 8 }),
  // 9: colourways; what finishes and settings gained has defaults of its own
  (doc) => ({ ...doc, schema: 9, colourways: {} }),
];

/**
 * A stored document as a Piece of the present schema. The input is never changed.
 * @throws {PieceFormatError} newer than this program, or not a piece; says where.
 */
export function readPiece(stored: unknown): Piece {
  const schema = typeof stored === 'object' && stored !== null ? (stored as Loose).schema : undefined;
  if (!Number.isInteger(schema) || (schema as number) < 1)
    throw new PieceFormatError('piece/broken', 'This is not a piece: it carries no schema number.');
  refuseNewer(schema as number, 'This piece is');
  const doc = MIGRATIONS.slice((schema as number) - 1).reduce((d, up) => up(d), stored as Loose);
  const read = Piece.safeParse(doc);
  if (read.success) return read.data;
  const first = read.error.issues[0];
  throw new PieceFormatError('piece/broken', `The piece is broken at ${first.path.join('.') || 'its root'}: ${first.message}.`);
}

function refuseNewer(schema: number, what: string): void {
  if (schema > PIECE_SCHEMA)
    throw new PieceFormatError(
      'piece/too-new',
      `${what} of schema ${schema}; this Scaphos reads up to ${PIECE_SCHEMA}. Nothing was changed.`,
    );
}

/** Edits as they are kept: with the schema they were made for. Those from before schema 4 were kept as a bare list. */
export interface StoredEdits {
  schema: number;
  edits: unknown[];
}
export const storeEdits = (edits: readonly Edit[]): StoredEdits => ({ schema: PIECE_SCHEMA, edits: [...edits] });
/** The schema of edits that carry none. */
export const BARE_EDITS_SCHEMA = 3;

/**
 * Edits of schema 3, of which there was a kind for every property. Whether a recipe was there before decides how it is set.
 * @param had stock files that have a recipe
 */
function edit4(e: Rec, had: Set<string>): Rec[] {
  const changed = (table: string, set: Rec) => [{ kind: 'change', table, id: e.id, set }];
  const part = (set: Rec) => changed('parts', set);
  switch (e.kind) {
    case 'batch':
      return (e.edits as Rec[]).flatMap((x) => edit4(x, had));
    case 'rename':
      return [{ kind: 'settings', set: { name: e.name } }];
    case 'set-form':
      return [{ kind: 'settings', set: { form: e.form } }];
    case 'set-profile':
      return [{ kind: 'settings', set: { profile: e.profile } }];
    case 'add-stock':
      return [{ kind: 'add', table: 'stock', row: e.item }];
    case 'remove-stock':
      had.delete(String(e.id));
      return [{ kind: 'remove', table: 'stock', id: e.id }];
    case 'rename-stock':
      return changed('stock', { name: e.name });
    case 'state-kind':
      return changed('stock', { stated: e.stated });
    case 'set-credit':
      return changed('stock', { credit: e.credit });
    case 'set-dismissed':
      return changed('stock', { dismissed: e.dismissed });
    case 'replace-stock': {
      const { id: _id, kind: _kind, ...set } = e.item as Rec;
      return changed('stock', set);
    }
    case 'set-recipe': {
      const id = String(e.id);
      const recipe = e.recipe as Rec | null;
      if (!recipe) return had.delete(id) ? [{ kind: 'remove', table: 'recipes', id }] : [];
      if (had.has(id)) return changed('recipes', recipe);
      had.add(id);
      return [{ kind: 'add', table: 'recipes', row: { id, ...recipe } }];
    }
    case 'add-part':
      return [{ kind: 'add', table: 'parts', row: part4(e.part as Rec), at: e.index }];
    case 'remove-part':
      return [{ kind: 'remove', table: 'parts', id: e.id }];
    case 'rename-part':
      return part({ name: e.name });
    case 'hang-part':
      return part({ hang: hangOf(e.anchor) });
    case 'place-part':
      return part({ offset: e.offset });
    case 'show-part':
      return part({ visible: e.visible });
    case 'lock-part':
      return part({ locked: e.locked });
    case 'set-opacity':
      return part({ opacity: e.opacity });
    case 'set-solid':
      return part({ solid: e.solid });
    case 'move-part':
      return [{ kind: 'order', table: 'parts', id: e.id, at: e.index }];
    default:
      throw new PieceFormatError('piece/broken', `There is no edit of kind ${String(e.kind)} in schema 3.`);
  }
}

/** EDIT_MIGRATIONS[n] takes one edit of schema n + BARE_EDITS_SCHEMA to the next. */
const EDIT_MIGRATIONS: readonly ((base: Piece) => (edit: Rec) => Rec)[] = [
  (base) => {
    const had = new Set(Object.keys(base.recipes));
    return (e) => {
      const edits = edit4(e, had);
      return e.kind === 'batch' || edits.length !== 1 ? { kind: 'batch', edits } : edits[0];
    };
  },
];

const EditList = z.array(Edit);

/**
 * Stored edits as edits of the present schema, none left out.
 * @param base the piece they were made on, already read
 * @throws {PieceFormatError} newer than this program, or not edits; says which.
 */
export function readEdits(stored: StoredEdits | unknown[], base: Piece): Edit[] {
  const { schema, edits } = Array.isArray(stored) ? { schema: BARE_EDITS_SCHEMA, edits: stored } : stored;
  refuseNewer(schema, 'These edits are');
  let now = edits as Rec[];
  for (const up of EDIT_MIGRATIONS.slice(Math.max(0, schema - BARE_EDITS_SCHEMA))) now = now.map(up(base));
  const read = EditList.safeParse(now);
  if (read.success) return read.data;
  const first = read.error.issues[0];
  throw new PieceFormatError(
    'piece/broken',
    `Edit ${Number(first.path[0] ?? 0) + 1} is broken at ${first.path.slice(1).join('.') || 'its root'}: ${first.message}.`,
  );
}
