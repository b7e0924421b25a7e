/**
 * Random documents and edits for tests, made from the registry: values of a Zod schema, rows of a table with references to rows
 * that are there, and edits of every kind that fit the document at hand.
 */
import fc from 'fast-check';
import type * as z from 'zod';
import { Colour, Id, Name, Sha256 } from '../words/values';
import { apply, EditError, type LooseEdit, type LooseSingle } from './change';
import { cleared, type Doc, type DocKind, idsOf, type Reference, type Row, tableOf } from './table';

interface Check {
  check: string;
  value?: number;
  minimum?: number;
  maximum?: number;
}
interface Def {
  type: string;
  format?: string;
  checks?: { _zod: { def: Check } }[];
  innerType?: z.ZodTypeAny;
  shape?: Record<string, z.ZodTypeAny>;
  element?: z.ZodTypeAny;
  items?: z.ZodTypeAny[];
  keyType?: z.ZodTypeAny;
  valueType?: z.ZodTypeAny;
  options?: z.ZodTypeAny[];
  entries?: Record<string, string>;
  values?: unknown[];
}

/** Texts whose shape a schema says by a pattern or a check of its own. */
const KNOWN = new Map<z.ZodTypeAny, fc.Arbitrary<unknown>>([
  [Id, fc.stringMatching(/^[a-z][a-z0-9]{2,7}$/)],
  [Name, fc.string({ minLength: 1, maxLength: 30, unit: 'grapheme' }).map((s) => s.replace(/\p{C}/gu, '').trim() || 'Name')],
  [Sha256, fc.stringMatching(/^[0-9a-f]{64}$/)],
  [Colour, fc.stringMatching(/^#[0-9a-f]{6}$/)],
]);

/** JSON numbers: a double goes through JSON unchanged, and −0 and 0 are one number. */
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true, noDefaultInfinity: true }).map((x) => x + 0);

/** Least and greatest of a number, a text's or a list's length. */
function limitsOf(def: Def): { minimum?: number; maximum?: number; int: boolean } {
  const out: { minimum?: number; maximum?: number; int: boolean } = { int: def.format === 'safeint' };
  for (const { _zod } of def.checks ?? []) {
    const c = _zod.def;
    if (c.check === 'greater_than') out.minimum = c.value;
    else if (c.check === 'less_than') out.maximum = c.value;
    else if (c.check === 'min_length') out.minimum = c.minimum;
    else if (c.check === 'max_length') out.maximum = c.maximum;
    else if (c.check === 'number_format') out.int = true;
  }
  return out;
}

/** Values that a schema of plain data takes. @throws {Error} a kind of schema it does not know */
export function arbitraryOf(schema: z.ZodTypeAny): fc.Arbitrary<unknown> {
  const known = KNOWN.get(schema);
  if (known) return known;
  const def = schema._zod.def as unknown as Def;
  const bag = limitsOf(def);
  switch (def.type) {
    case 'string':
      return fc.string({ minLength: bag.minimum ?? 0, maxLength: Math.min(bag.maximum ?? 20, 20) });
    case 'number':
    case 'int': {
      const [min, max] = [Math.max(bag.minimum ?? -1e6, -1e9), Math.min(bag.maximum ?? 1e6, 1e9)];
      return bag.int ? fc.integer({ min: Math.ceil(min), max: Math.floor(max) }) : number(min, max);
    }
    case 'boolean':
      return fc.boolean();
    case 'literal':
      return fc.constantFrom(...(def.values ?? []));
    case 'enum':
      return fc.constantFrom(...Object.values(def.entries ?? {}));
    case 'nullable':
      return fc.option(arbitraryOf(def.innerType as z.ZodTypeAny), { nil: null, freq: 1 });
    case 'default':
      return arbitraryOf(def.innerType as z.ZodTypeAny);
    case 'optional':
      return fc.option(arbitraryOf(def.innerType as z.ZodTypeAny), { nil: undefined });
    case 'array':
      return fc.array(arbitraryOf(def.element as z.ZodTypeAny), {
        minLength: bag.minimum ?? 0,
        maxLength: Math.max(bag.minimum ?? 0, Math.min(bag.maximum ?? 3, 3)),
      });
    case 'tuple':
      return fc.tuple(...(def.items ?? []).map(arbitraryOf));
    case 'record':
      return fc.dictionary(arbitraryOf(def.keyType as z.ZodTypeAny) as fc.Arbitrary<string>, arbitraryOf(def.valueType as z.ZodTypeAny), {
        maxKeys: 3,
      });
    case 'union':
      return fc.oneof(...(def.options ?? []).map(arbitraryOf));
    case 'object':
      return fc
        .record(Object.fromEntries(Object.entries(def.shape ?? {}).map(([k, v]) => [k, arbitraryOf(v)])))
        .map((o) => Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)));
    default:
      throw new Error(`arbitraryOf: no values for a schema of type ${def.type}.`);
  }
}

type Kind = LooseSingle['kind'];
export const EDIT_KINDS = ['add', 'remove', 'change', 'order', 'settings'] as const satisfies readonly Kind[];

/** A seed from which an edit for the document at hand is made. */
interface Draw {
  kind: Kind;
  table: string;
  row: Row;
  settings: Record<string, unknown>;
  pick: number;
  flag: boolean;
}

function draws(kind: DocKind): fc.Arbitrary<Draw> {
  const rows = Object.entries(kind.tables).map(([table, d]) => arbitraryOf(d.schema).map((row) => ({ table, row: row as Row })));
  return fc
    .record({
      kind: fc.constantFrom<Kind>('add', 'add', 'add', 'change', 'change', 'change', 'order', 'remove', 'settings'),
      at: fc.oneof(...rows),
      settings: arbitraryOf(kind.settings) as fc.Arbitrary<Record<string, unknown>>,
      pick: fc.nat(10_000),
      flag: fc.boolean(),
    })
    .map(({ at, ...rest }) => ({ ...rest, ...at }));
}

/** Puts the id of a row that is there, or none, where a row refers to one. */
function refer(doc: Doc, row: Row, reference: Reference, pick: number): Row {
  const ids = Object.keys(tableOf(doc, reference.table)).filter((id) => id !== row.id);
  const path = reference.path.split('.');
  const named = idsOf(row, reference);
  if (named.length === 0) return row;
  if (ids.length === 0) {
    let bare = row;
    for (const id of named) {
      const { field, value } = cleared(bare, reference, id);
      bare = { ...bare, [field]: value };
    }
    return bare;
  }
  const put = (value: unknown, at: readonly string[], n: number): unknown => {
    if (at.length === 0) return ids[(pick + n) % ids.length];
    if (typeof value !== 'object' || value === null) return value;
    if (at[0] === '*')
      return Array.isArray(value)
        ? value.map((v, i) => put(v, at.slice(1), i))
        : Object.fromEntries(Object.entries(value).map(([k, v], i) => [k, put(v, at.slice(1), i)]));
    const record = value as Record<string, unknown>;
    return { ...record, [at[0]]: put(record[at[0]], at.slice(1), n) };
  };
  return put(row, path, 0) as Row;
}

let serial = 0;
/** The draw as an edit, or null where the document has nothing of the sort. */
function toEdit(kind: DocKind, doc: Doc, d: Draw): LooseSingle | null {
  const { table } = d;
  const def = kind.tables[table];
  const ids = Object.keys(tableOf(doc, table));
  const id = ids[d.pick % Math.max(1, ids.length)];
  const wired = (row: Row) => def.refers.reduce((r, ref) => (ref.path === 'id' ? r : refer(doc, r, ref, d.pick)), row);
  if (d.kind === 'settings') {
    const fields = Object.keys(d.settings);
    const field = fields[d.pick % fields.length];
    return { kind: 'settings', set: { [field]: d.settings[field] } };
  }
  if (d.kind === 'add') {
    const byId = def.refers.find((r) => r.path === 'id');
    const of = byId ? Object.keys(tableOf(doc, byId.table)) : null;
    if (of?.length === 0) return null;
    const row = wired({ ...d.row, id: of ? of[d.pick % of.length] : `n${serial++}` });
    return { kind: 'add', table, row, ...(def.order && d.flag ? { at: d.pick % 20 } : {}) };
  }
  if (id === undefined) return null;
  if (d.kind === 'remove') return { kind: 'remove', table, id };
  if (d.kind === 'order') return def.order ? { kind: 'order', table, id, at: d.pick % 20 } : null;
  const old = tableOf(doc, table)[id];
  const fresh = wired({ ...d.row, id });
  const fields = Object.keys(fresh).filter((f) => f !== 'id' && (f !== 'kind' || def.kindChanges) && f in old);
  if ((old.kind !== fresh.kind && !def.kindChanges) || fields.length === 0)
    return { kind: 'change', table, id, set: { name: String(fresh.name ?? 'x') } };
  const field = fields[d.pick % fields.length];
  return { kind: 'change', table, id, set: { [field]: fresh[field] } };
}

/** A row of edits that all fit, some of them batches, from a start. */
export function arbitraryEdits<D>(kind: DocKind, start: D, length = 50): fc.Arbitrary<{ start: D; edits: LooseEdit[] }> {
  return fc.array(fc.tuple(draws(kind), fc.boolean()), { maxLength: length, size: 'max' }).map((list) => {
    let doc = start as unknown as Doc;
    const edits: LooseEdit[] = [];
    let batch: LooseSingle[] = [];
    const flush = () => {
      if (batch.length > 0) edits.push({ kind: 'batch', edits: batch });
      batch = [];
    };
    for (const [d, inBatch] of list) {
      const edit = toEdit(kind, doc, d);
      if (!edit) continue;
      try {
        doc = apply(kind, doc, edit);
      } catch (error) {
        if (error instanceof EditError) continue; // locked, in use, a loop: refused as it should be
        throw error;
      }
      if (inBatch) batch.push(edit);
      else {
        flush();
        edits.push(edit);
      }
    }
    flush();
    return { start, edits };
  });
}
