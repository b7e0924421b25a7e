/**
 * The six edits of any document, from its registry alone: applying, spelling out, inverting. An edit that does not fit throws and
 * leaves no trace; one that changes nothing gives the very document back.
 */
import { cleared, type Doc, type DocKind, idsOf, type Row, type Rows, sameValue, tableOf } from './table';

export type LooseSingle =
  | { kind: 'add'; table: string; row: Row; at?: number }
  | { kind: 'remove'; table: string; id: string }
  | { kind: 'change'; table: string; id: string; set: Readonly<Record<string, unknown>> }
  | { kind: 'order'; table: string; id: string; at: number }
  | { kind: 'settings'; set: Readonly<Record<string, unknown>> };
export type LooseEdit = LooseSingle | { kind: 'batch'; edits: readonly LooseSingle[] };

/** An edit that does not fit the document: names what was asked of which entity, and why it cannot be. */
export class EditError extends Error {
  constructor(
    readonly code: 'edit/missing' | 'edit/taken' | 'edit/in-use' | 'edit/locked' | 'edit/full' | 'edit/kind' | 'edit/invalid' | 'edit/loop',
    message: string,
    readonly entity?: string,
  ) {
    super(message);
  }
}

/** What of a locked row may change. */
const FREE_WHILE_LOCKED: ReadonlySet<string> = new Set(['locked', 'name']);
const FIXED: ReadonlySet<string> = new Set(['id', 'kind']);

const capital = (s: string) => s[0].toUpperCase() + s.slice(1);

/** @throws {EditError} there is no such table. */
function tableDef(kind: DocKind, table: string) {
  if (!Object.hasOwn(kind.tables, table))
    throw new EditError('edit/missing', `There is no table ${table}. There are ${Object.keys(kind.tables).join(', ')}.`);
  return kind.tables[table];
}

export function rowOf(kind: DocKind, doc: Doc, table: string, id: string): Row {
  const d = tableDef(kind, table);
  const rows = tableOf(doc, table);
  if (!Object.hasOwn(rows, id)) throw new EditError('edit/missing', `${capital(d.word[0])} ${id} is not in this piece.`, id);
  return rows[id];
}

const put = (doc: Doc, table: string, rows: Rows): Doc => ({ ...doc, [table]: rows });
const without = (rows: Rows, id: string): Rows => {
  const { [id]: _gone, ...rest } = rows;
  return rest;
};

/** A row as its schema reads it, defaults filled in. @throws {EditError} where and why it is not one. */
function parseRow(kind: DocKind, table: string, row: unknown, name: string): Row {
  const read = tableDef(kind, table).schema.safeParse(row);
  if (read.success) return read.data as Row;
  const first = read.error.issues[0];
  throw new EditError(
    'edit/invalid',
    `${capital(kind.tables[table].word[0])} ${name}: ${first.path.join('.') || 'the row'}: ${first.message}.`,
    name,
  );
}

/** @throws {EditError} a reference that dangles or loops, or what the table's own check says. */
function checkRow(kind: DocKind, doc: Doc, table: string, row: Row, fields?: ReadonlySet<string>): void {
  const d = kind.tables[table];
  for (const r of d.refers) {
    if (fields && !fields.has(r.path.split('.')[0])) continue;
    for (const id of idsOf(row, r)) {
      const to = tableDef(kind, r.table);
      if (!(r.table === table && id === row.id) && !Object.hasOwn(tableOf(doc, r.table), id))
        throw new EditError('edit/missing', `${d.label(row, doc)} needs ${to.word[0]} ${id}, which is not in this piece.`, id);
      if (r.noLoops && leadsTo(kind, doc, table, r.path, id, row.id))
        throw new EditError('edit/loop', `${d.label(row, doc)} cannot hang in itself, or in what hangs in it.`, row.id);
    }
  }
  const why = d.check?.(row, doc);
  if (why) throw new EditError('edit/kind', why, row.id);
}

/** Whether following a reference from row `from` comes to row `to`. */
function leadsTo(kind: DocKind, doc: Doc, table: string, path: string, from: string, to: string): boolean {
  const reference = kind.tables[table].refers.find((r) => r.path === path);
  const rows = tableOf(doc, table);
  const seen = new Set<string>();
  const open = [from];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    if (id === to) return true;
    if (seen.has(id) || !Object.hasOwn(rows, id) || !reference) continue;
    seen.add(id);
    open.push(...idsOf(rows[id], reference));
  }
  return false;
}

interface User {
  table: string;
  row: Row;
  reference: DocKind['tables'][string]['refers'][number];
}
/** Every row that refers to one. */
export function usersOf(kind: DocKind, doc: Doc, table: string, id: string): User[] {
  const out: User[] = [];
  for (const [t, d] of Object.entries(kind.tables))
    for (const reference of d.refers) {
      if (reference.table !== table) continue;
      const rows = tableOf(doc, t);
      if (reference.path === 'id') {
        if (Object.hasOwn(rows, id)) out.push({ table: t, row: rows[id], reference });
        continue;
      }
      for (const key in rows) if (idsOf(rows[key], reference).includes(id)) out.push({ table: t, row: rows[key], reference });
    }
  return out;
}

/** A removal with everything it brings along, in order; users go before what they use. @throws {EditError} in use, or locked. */
function removals(kind: DocKind, doc: Doc, table: string, id: string): LooseSingle[] {
  const row = rowOf(kind, doc, table, id);
  const label = kind.tables[table].label(row, doc);
  if (row.locked === true) throw new EditError('edit/locked', `${label} is locked. Unlock it first.`, id);
  const out: LooseSingle[] = [];
  for (const user of usersOf(kind, doc, table, id)) {
    const name = kind.tables[user.table].label(user.row, doc);
    if (user.reference.onRemove === 'refuse')
      throw new EditError(
        'edit/in-use',
        `${label} is used by ${kind.tables[user.table].word[0]} ${name}. Take that off first.`,
        user.row.id,
      );
    if (user.reference.onRemove === 'remove') out.push(...removals(kind, doc, user.table, user.row.id));
    else {
      if (user.row.locked === true)
        throw new EditError('edit/locked', `${name} is locked, and ${label} is used by it. Unlock it first.`, user.row.id);
      const { field, value } = cleared(user.row, user.reference, id);
      out.push({ kind: 'change', table: user.table, id: user.row.id, set: { [field]: value } });
    }
  }
  out.push({ kind: 'remove', table, id });
  // what is reached by two ways goes once
  const seen = new Set<string>();
  return out.filter((e) => {
    const key = JSON.stringify(e);
    return seen.has(key) ? false : Boolean(seen.add(key));
  });
}

/** The edits an edit stands for: removals bring along what goes with them. What comes out has no effect it does not name. */
export function spelledOut(kind: DocKind, doc: Doc, edit: LooseEdit): LooseSingle[] {
  const out: LooseSingle[] = [];
  let now = doc;
  for (const e of edit.kind === 'batch' ? edit.edits : [edit]) {
    const steps = e.kind === 'remove' ? removals(kind, now, e.table, e.id) : [e];
    for (const s of steps) now = applySingle(kind, now, s);
    out.push(...steps);
  }
  return out;
}

/**
 * The document after one edit. Pure; shares what did not change.
 * @throws {EditError} the edit names what is not there, already there, in use, locked, or makes what the schema refuses.
 */
export function apply(kind: DocKind, doc: Doc, edit: LooseEdit): Doc {
  let now = doc;
  for (const e of edit.kind === 'batch' ? edit.edits : [edit]) {
    if (e.kind === 'remove') for (const s of removals(kind, now, e.table, e.id)) now = applySingle(kind, now, s);
    else now = applySingle(kind, now, e);
  }
  return now;
}

function applySingle(kind: DocKind, doc: Doc, edit: LooseSingle): Doc {
  switch (edit.kind) {
    case 'settings': {
      const next = { ...doc.settings, ...edit.set };
      if (sameValue(next, doc.settings)) return doc;
      const read = kind.settings.safeParse(next);
      if (!read.success)
        throw new EditError('edit/invalid', `Settings: ${read.error.issues[0].path.join('.') || 'they'}: ${read.error.issues[0].message}.`);
      return { ...doc, settings: read.data };
    }
    case 'add':
      return addRow(kind, doc, edit);
    case 'remove': {
      const orders = kind.tables[edit.table].order
        ? { ...doc.orders, [edit.table]: doc.orders[edit.table].filter((id) => id !== edit.id) }
        : doc.orders;
      return { ...put(doc, edit.table, without(tableOf(doc, edit.table), edit.id)), orders };
    }
    case 'change':
      return changeRow(kind, doc, edit);
    case 'order': {
      rowOf(kind, doc, edit.table, edit.id);
      const old = doc.orders[edit.table];
      if (!old) throw new EditError('edit/kind', `${capital(tableDef(kind, edit.table).word[1])} stand in no order.`, edit.id);
      const rest = old.filter((id) => id !== edit.id);
      const next = rest.toSpliced(Math.min(edit.at, rest.length), 0, edit.id);
      return next.every((id, i) => id === old[i]) ? doc : { ...doc, orders: { ...doc.orders, [edit.table]: next } };
    }
    default:
      return exhaustive(edit, 'applyEdit');
  }
}

function addRow(kind: DocKind, doc: Doc, edit: Extract<LooseSingle, { kind: 'add' }>): Doc {
  const d = tableDef(kind, edit.table);
  const rows = tableOf(doc, edit.table);
  const row = parseRow(kind, edit.table, edit.row, String(edit.row?.id));
  if (Object.hasOwn(rows, row.id)) throw new EditError('edit/taken', `${capital(d.word[0])} ${row.id} is already in this piece.`, row.id);
  if (Object.keys(rows).length >= d.most) throw new EditError('edit/full', `A piece holds at most ${d.most} ${d.word[1]}.`);
  checkRow(kind, doc, edit.table, row);
  const next = put(doc, edit.table, { ...rows, [row.id]: row });
  if (!d.order) return next;
  const order = doc.orders[edit.table];
  const at = Math.min(edit.at ?? order.length, order.length);
  return { ...next, orders: { ...doc.orders, [edit.table]: order.toSpliced(at, 0, row.id) } };
}

function changeRow(kind: DocKind, doc: Doc, edit: Extract<LooseSingle, { kind: 'change' }>): Doc {
  const d = tableDef(kind, edit.table);
  const old = rowOf(kind, doc, edit.table, edit.id);
  const fields = Object.keys(edit.set).filter((f) => !sameValue(old[f], edit.set[f]));
  if (fields.length === 0) return doc;
  const label = d.label(old, doc);
  const fixed = fields.find((f) => FIXED.has(f) && !(f === 'kind' && d.kindChanges));
  if (fixed) throw new EditError('edit/kind', `${label} keeps its ${fixed}: another ${fixed} is another ${d.word[0]}.`, edit.id);
  if (old.locked === true && fields.some((f) => !FREE_WHILE_LOCKED.has(f)))
    throw new EditError('edit/locked', `${label} is locked. Unlock it first.`, edit.id);
  const row = parseRow(kind, edit.table, { ...old, ...edit.set }, label);
  const next = put(doc, edit.table, { ...tableOf(doc, edit.table), [edit.id]: row });
  checkRow(kind, next, edit.table, row, new Set(fields));
  return next;
}

/**
 * The edit that takes `apply(doc, edit)` back to `doc`.
 * @throws {EditError} as apply.
 */
export function invert(kind: DocKind, doc: Doc, edit: LooseEdit): LooseEdit {
  const back: LooseSingle[] = [];
  let now = doc;
  for (const e of spelledOut(kind, doc, edit)) {
    back.unshift(...invertSingle(kind, now, e));
    now = applySingle(kind, now, e);
  }
  return back.length === 1 ? back[0] : { kind: 'batch', edits: back };
}

const pick = (from: Readonly<Record<string, unknown>>, like: Readonly<Record<string, unknown>>) =>
  Object.fromEntries(Object.keys(like).map((k) => [k, from[k]]));

function invertSingle(kind: DocKind, doc: Doc, edit: LooseSingle): LooseSingle[] {
  switch (edit.kind) {
    case 'settings':
      return [{ kind: 'settings', set: pick(doc.settings, edit.set) }];
    case 'add': {
      const { id, locked } = edit.row;
      // what arrives locked cannot be taken off before it is unlocked
      const unlock: LooseSingle[] = locked === true ? [{ kind: 'change', table: edit.table, id, set: { locked: false } }] : [];
      return [...unlock, { kind: 'remove', table: edit.table, id }];
    }
    case 'remove': {
      const row = rowOf(kind, doc, edit.table, edit.id);
      const at = kind.tables[edit.table].order ? { at: doc.orders[edit.table].indexOf(edit.id) } : {};
      return [{ kind: 'add', table: edit.table, row, ...at }];
    }
    case 'change':
      return changeBack(edit, rowOf(kind, doc, edit.table, edit.id));
    case 'order':
      rowOf(kind, doc, edit.table, edit.id);
      return [{ kind: 'order', table: edit.table, id: edit.id, at: doc.orders[edit.table].indexOf(edit.id) }];
    default:
      return exhaustive(edit, 'invertEdit');
  }
}

function changeBack(edit: Extract<LooseSingle, { kind: 'change' }>, old: Row): LooseSingle[] {
  const set = pick(old, edit.set);
  const { table, id } = edit;
  // locked and changed at once: unlocked first, or the rest would be refused
  const unlock: LooseSingle[] =
    edit.set.locked === true && Object.keys(set).length > 1 ? [{ kind: 'change', table, id, set: { locked: set.locked } }] : [];
  return [...unlock, { kind: 'change', table, id, set }];
}

export function exhaustive(x: never, who: string): never {
  throw new Error(`${who}: unknown edit ${JSON.stringify(x)}`);
}
