/**
 * What an edit touches, as `table:id`, `table:id.field`, `settings:field`, `orders:table`. Two edits commute unless one writes
 * what the other reads or writes; a row meets each of its fields.
 */
import type { LooseEdit, LooseSingle } from './change';
import { type Doc, type DocKind, idsOf, type Row, sameValue, tableOf } from './table';

export interface Touched {
  writes: string[];
  /** Rows that must be there, as `table:id.id`. */
  reads: string[];
}

function touch(kind: DocKind, e: LooseSingle, out: Touched): void {
  switch (e.kind) {
    case 'settings':
      for (const f of Object.keys(e.set)) out.writes.push(`settings:${f}`);
      return;
    case 'add':
      out.writes.push(`${e.table}:${e.row.id}`);
      readsOf(kind, e.table, e.row, null, out);
      return;
    case 'remove':
      out.writes.push(`${e.table}:${e.id}`);
      return;
    case 'change':
      for (const f of Object.keys(e.set)) out.writes.push(`${e.table}:${e.id}.${f}`);
      out.reads.push(`${e.table}:${e.id}.id`);
      readsOf(kind, e.table, { ...e.set, id: e.id }, e.set, out);
      return;
    case 'order':
      out.writes.push(`orders:${e.table}`);
      out.reads.push(`${e.table}:${e.id}.id`);
  }
}

function readsOf(kind: DocKind, table: string, row: Row, set: object | null, out: Touched): void {
  for (const r of kind.tables[table]?.refers ?? []) {
    if (set && !Object.hasOwn(set, r.path.split('.')[0])) continue;
    for (const id of idsOf(row, r)) out.reads.push(`${r.table}:${id}.id`);
  }
}

/** Of an edit as it stands; spell removals out first where what goes with them matters. */
export function touchedBy(kind: DocKind, edit: LooseEdit): Touched {
  const out: Touched = { writes: [], reads: [] };
  for (const e of edit.kind === 'batch' ? edit.edits : [edit]) touch(kind, e, out);
  return out;
}

const rowPart = (entity: string) => {
  const dot = entity.indexOf('.', entity.indexOf(':'));
  return dot < 0 ? entity : entity.slice(0, dot);
};

/** A set of entities that is asked whether another meets one of them. */
export class Entities {
  private readonly exact = new Set<string>();
  private readonly rows = new Set<string>();
  private readonly parted = new Set<string>();

  constructor(entities: Iterable<string> = []) {
    for (const e of entities) this.add(e);
  }

  add(entity: string): void {
    this.exact.add(entity);
    const row = rowPart(entity);
    (row === entity ? this.rows : this.parted).add(row);
  }

  /** The same field, the row of a field, or a field of the row. */
  meets(entity: string): boolean {
    const row = rowPart(entity);
    return this.exact.has(entity) || this.rows.has(row) || (row === entity && this.parted.has(row));
  }

  get size(): number {
    return this.exact.size;
  }
}

/** Whether edits with these two touches may come in either order. */
export function commute(a: Touched, b: Touched): boolean {
  const [wa, wb] = [new Entities(a.writes), new Entities(b.writes)];
  return ![...b.writes, ...b.reads].some((e) => wa.meets(e)) && !a.reads.some((e) => wb.meets(e));
}

/** What differs between two documents, in the words of `touchedBy(…).writes`. */
export function changedBetween(kind: DocKind, a: Doc, b: Doc): string[] {
  const out: string[] = [];
  for (const f of new Set([...Object.keys(a.settings), ...Object.keys(b.settings)]))
    if (!sameValue(a.settings[f], b.settings[f])) out.push(`settings:${f}`);
  for (const table of Object.keys(kind.tables)) {
    const [x, y] = [tableOf(a, table), tableOf(b, table)];
    if (x !== y)
      for (const id of new Set([...Object.keys(x), ...Object.keys(y)])) {
        if (x[id] === y[id]) continue;
        if (!x[id] || !y[id]) out.push(`${table}:${id}`);
        else
          for (const f of new Set([...Object.keys(x[id]), ...Object.keys(y[id])]))
            if (!sameValue(x[id][f], y[id][f])) out.push(`${table}:${id}.${f}`);
      }
    if (kind.tables[table].order) {
      const both = (list: readonly string[], rows: object) => list.filter((id) => Object.hasOwn(rows, id));
      if (both(a.orders[table] ?? [], y).join() !== both(b.orders[table] ?? [], x).join()) out.push(`orders:${table}`);
    }
  }
  return out;
}
