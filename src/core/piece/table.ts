/** What a table of a document is: the registry's words, and reading and clearing references along paths. */
import type * as z from 'zod';

export type Row = { readonly id: string } & Readonly<Record<string, unknown>>;
export type Rows = Readonly<Record<string, Row>>;
/** A document as the machinery sees it: settings, tables of rows by id, and orders: lists of every id of a table. */
export interface Doc {
  readonly settings: Readonly<Record<string, unknown>>;
  readonly orders: Readonly<Record<string, readonly string[]>>;
}
export const tableOf = (doc: Doc, table: string): Rows =>
  Object.hasOwn(doc, table) ? (doc as unknown as Record<string, Rows>)[table] : {};

/** A row by its id; never what every object inherits. */
export function rowAt(doc: Doc, table: string, id: string): Row | undefined {
  const rows = tableOf(doc, table);
  return Object.hasOwn(rows, id) ? rows[id] : undefined;
}

/** What becomes of a row when what it refers to is removed. */
export type OnRemove =
  /** Removing is refused, and the row named. */
  | 'refuse'
  /** The row goes too. */
  | 'remove'
  /** The field that holds the reference becomes null. */
  | 'clear';

export interface Reference {
  /** Dots lead into fields, `*` into every member; `hang.part`, `wears.*`. `id`: the row's own id is that of the other row. */
  path: string;
  table: string;
  onRemove: OnRemove;
  /** Following it from row to row never comes back (rows of the same table). */
  noLoops?: boolean;
}

export interface TableDef {
  schema: z.ZodTypeAny;
  refers: readonly Reference[];
  /** Rows stand in an order of their own. */
  order?: boolean;
  /** Most rows there may be. */
  most: number;
  /** A row's `kind` may become another: nothing else of the row depends on it. */
  kindChanges?: boolean;
  /** One row, several rows: "part", "parts". */
  word: readonly [string, string];
  /** Name of a row as people know it. */
  label: (row: Row, doc: Doc) => string;
  /** Words of the history, by field; `add`, `remove` and `order` too. Left out: plain words made of the field's name. */
  say?: Readonly<Record<string, (label: string, value: unknown) => string>>;
  /** Which blobs a row names, by SHA-256. */
  blobs?: (row: Row) => readonly string[];
  /** What a schema of one row cannot say. null: all is well. */
  check?: (row: Row, doc: Doc) => string | null;
}

/** A kind of document: from this alone come schema, edits, inverses, entities, words and the generator of the tests. */
export interface DocKind {
  settings: z.ZodObject;
  tables: Readonly<Record<string, TableDef>>;
  saySettings?: Readonly<Record<string, (value: unknown) => string>>;
  settingWords?: Readonly<Record<string, string>>;
}

/** The ids at a path of a row. */
export function readPath(value: unknown, path: readonly string[], out: string[] = []): string[] {
  if (path.length === 0) {
    if (typeof value === 'string') out.push(value);
    return out;
  }
  if (typeof value !== 'object' || value === null) return out;
  const [first, ...rest] = path;
  if (first === '*') for (const v of Object.values(value)) readPath(v, rest, out);
  else readPath((value as Record<string, unknown>)[first], rest, out);
  return out;
}

const paths = new WeakMap<Reference, readonly string[]>();
export function idsOf(row: Row, reference: Reference): string[] {
  let path = paths.get(reference);
  if (!path) {
    path = reference.path.split('.');
    paths.set(reference, path);
  }
  return readPath(row, path);
}

/** The top field of a reference, and its value without what refers to `id`: null, or the members that remain. */
export function cleared(row: Row, reference: Reference, id: string): { field: string; value: unknown } {
  const [field, ...rest] = reference.path.split('.');
  const value = row[field];
  if (rest[0] !== '*') return { field, value: null };
  if (Array.isArray(value)) return { field, value: value.filter((v) => !readPath(v, rest.slice(1)).includes(id)) };
  const members = Object.entries(value as Record<string, unknown>).filter(([, v]) => !readPath(v, rest.slice(1)).includes(id));
  return { field, value: Object.fromEntries(members) };
}

/** Whether two JSON values are the same, whatever the order of their keys. */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const keys = Object.keys(x);
  if (keys.length !== Object.keys(y).length) return false;
  for (const k of keys) if (!Object.hasOwn(y, k) || !sameValue(x[k], y[k])) return false;
  return true;
}
