/** Every way a piece can change. An edit is JSON; `applyEdit` is pure, and every edit has an exact inverse. */
import type * as z from 'zod';
import type { FinishRow } from '../finish/row';
import type { Part } from '../parts';
import { editsFromTo } from './between';
import { apply, invert, type LooseEdit, type LooseSingle, spelledOut } from './change';
import { editSchemas, nameEntity as nameEntityOf, sayEdit } from './document';
import { changedBetween, type Touched, touchedBy } from './entities';
import type { Piece, RowTypes } from './schema';
import type { Doc } from './table';
import { PIECE_KIND, type Settings, type TableName } from './tables';

export { EditError } from './change';

/** Fields of any of a union's members, whole values; what a row is and its id stay. */
type Fields<R> = R extends FinishRow ? Partial<Omit<R, 'id'>> : R extends unknown ? Partial<Omit<R, 'id' | 'kind'>> : never;
export type SingleEdit =
  | { [K in TableName]: { kind: 'add'; table: K; row: RowTypes[K]; at?: number } }[TableName]
  | { kind: 'remove'; table: TableName; id: string }
  | { [K in TableName]: { kind: 'change'; table: K; id: string; set: Fields<RowTypes[K]> } }[TableName]
  | { kind: 'order'; table: 'parts' | 'layers'; id: string; at: number }
  | { kind: 'settings'; set: Partial<Settings> };
/** Several edits that are undone as one. */
export type BatchEdit = { kind: 'batch'; edits: SingleEdit[] };
export type Edit = SingleEdit | BatchEdit;

const schemas = editSchemas(PIECE_KIND);
export const SingleEdit = schemas.single as z.ZodType<SingleEdit>;
export const Edit = schemas.edit as z.ZodType<Edit>;

// The makers: what a screen or a fix writes down.
export const add = <K extends TableName>(table: K, row: RowTypes[K], at?: number): SingleEdit =>
  (at === undefined ? { kind: 'add', table, row } : { kind: 'add', table, row, at }) as SingleEdit;
export const remove = (table: TableName, id: string): SingleEdit => ({ kind: 'remove', table, id });
export const change = <K extends TableName>(table: K, id: string, set: Fields<RowTypes[K]>): SingleEdit =>
  ({ kind: 'change', table, id, set }) as SingleEdit;
export const changePart = (id: string, set: Fields<Part>): SingleEdit => ({ kind: 'change', table: 'parts', id, set });
export const order = (table: 'parts' | 'layers', id: string, at: number): SingleEdit => ({ kind: 'order', table, id, at });
export const settings = (set: Partial<Settings>): SingleEdit => ({ kind: 'settings', set });
export const singles = (edit: Edit): SingleEdit[] => (edit.kind === 'batch' ? edit.edits : [edit]);
/** One edit of many: a batch, or the edit itself where it is alone. */
export const batch = (edits: readonly SingleEdit[]): Edit => (edits.length === 1 ? edits[0] : { kind: 'batch', edits: [...edits] });

const loose = (p: Piece) => p as unknown as Doc;

/**
 * The piece after one edit. Pure; shares what did not change, and is the very same where nothing did.
 * @throws {EditError} the edit names what is not there, already there, in use, or locked, or makes what the schema refuses.
 */
export const applyEdit = (p: Piece, edit: Edit): Piece => apply(PIECE_KIND, loose(p), edit as LooseEdit) as unknown as Piece;

/**
 * The edit that takes `applyEdit(p, edit)` back to `p`.
 * @throws {EditError} as applyEdit.
 */
export const invertEdit = (p: Piece, edit: Edit): Edit => invert(PIECE_KIND, loose(p), edit as LooseEdit) as Edit;

/** The same with everything a removal brings along named. @throws {EditError} as applyEdit. */
export const spellOut = (p: Piece, edit: Edit): Edit => batch(spelledOut(PIECE_KIND, loose(p), edit as LooseEdit) as SingleEdit[]);

/** What an edit writes and reads. Spell removals out first where what goes with them matters. */
export const touchedByEdit = (edit: Edit): Touched => touchedBy(PIECE_KIND, edit as LooseEdit);

/** The entities an edit reads or writes: `settings:name`, `stock:ID`, `parts:ID.offset`, `orders:parts`. */
export function entitiesOf(edit: Edit): string[] {
  const { writes, reads } = touchedByEdit(edit);
  return [...new Set([...writes, ...reads])];
}

/** What differs between two documents, in the words of `touchedByEdit(…).writes`. */
export const changedEntities = (a: Piece, b: Piece): string[] => changedBetween(PIECE_KIND, loose(a), loose(b));

/** Words for the history list and the tips of Undo and Redo. */
export const describeEdit = (p: Piece, edit: Edit): string => sayEdit(PIECE_KIND, loose(p), edit as LooseSingle);

/** What people call an entity. */
export const nameEntity = (entity: string, ...docs: Piece[]): string => nameEntityOf(PIECE_KIND, entity, ...docs.map(loose));

/** The edits that make one document of another; empty where they are the same. Every field of every row comes out as it is in `to`. */
export const editsBetween = (from: Piece, to: Piece): SingleEdit[] => editsFromTo(PIECE_KIND, loose(from), loose(to)) as SingleEdit[];
