/** Schema and words of a kind of document, derived from its registry. */
import * as z from 'zod';
import { Id } from '../words/values';
import type { LooseEdit, LooseSingle } from './change';
import { type Doc, type DocKind, idsOf, type Row, type Rows, rowAt, tableOf } from './table';

/** What is wrong with a document beyond its rows: references, orders, limits, checks. `path` as Zod gives it. */
export function faultsOf(kind: DocKind, doc: Doc): { path: (string | number)[]; message: string }[] {
  const out: { path: (string | number)[]; message: string }[] = [];
  const bad = (message: string, ...path: (string | number)[]) => out.push({ path, message });
  for (const [table, d] of Object.entries(kind.tables)) {
    const rows = tableOf(doc, table);
    const ids = Object.keys(rows);
    if (ids.length > d.most) bad(`a piece has at most ${d.most} ${d.word[1]}`, table);
    for (const id of ids) {
      const row = rows[id];
      if (row.id !== id) bad(`is filed under ${id} but says ${row.id}`, table, id, 'id');
      let whole = true;
      for (const r of d.refers)
        for (const to of idsOf(row, r))
          if (!Object.hasOwn(tableOf(doc, r.table), to)) {
            whole = false;
            bad(`names ${kind.tables[r.table].word[0]} ${to}, which is not in the piece`, table, id, ...r.path.split('.'));
          }
      const why = whole ? d.check?.(row, doc) : null;
      if (why) bad(why, table, id);
    }
    for (const r of d.refers)
      if (r.noLoops) for (const id of loopsOf(rows, (row) => idsOf(row, r))) bad('hangs in itself', table, id, ...r.path.split('.'));
    if (!d.order) continue;
    const order = doc.orders[table] ?? [];
    const listed = new Set(order);
    if (listed.size !== order.length || order.length !== ids.length || order.some((id) => !Object.hasOwn(rows, id)))
      bad(`must list every one of the ${d.word[1]} exactly once`, 'orders', table);
  }
  return out;
}

/** Rows that can be come back to from themselves. */
function loopsOf(rows: Rows, next: (row: Row) => string[]): string[] {
  const state = new Map<string, 'open' | 'done'>();
  const out: string[] = [];
  for (const start of Object.keys(rows)) {
    const way: string[] = [];
    for (
      let id: string | undefined = start;
      id !== undefined && Object.hasOwn(rows, id) && state.get(id) !== 'done';
      id = next(rows[id])[0]
    ) {
      if (state.get(id) === 'open') {
        out.push(id);
        break;
      }
      state.set(id, 'open');
      way.push(id);
    }
    for (const id of way) state.set(id, 'done');
  }
  return out;
}

/** The Zod schema of the whole document. */
export function documentSchema(kind: DocKind, schema: number) {
  const record = (row: z.ZodTypeAny) => z.record(Id, row);
  const ordered = Object.entries(kind.tables).filter(([, d]) => d.order);
  return z
    .strictObject({
      schema: z.literal(schema),
      settings: kind.settings,
      ...Object.fromEntries(Object.entries(kind.tables).map(([t, d]) => [t, record(d.schema)])),
      orders: z.strictObject(Object.fromEntries(ordered.map(([t, d]) => [t, z.array(Id).max(d.most)]))),
    })
    .superRefine((doc, ctx) => {
      for (const { path, message } of faultsOf(kind, doc as unknown as Doc)) ctx.addIssue({ code: 'custom', message, path });
    });
}

/** Edits of one batch. */
export const MOST_IN_BATCH = 5_000;

/** The Zod schemas of edits: one at a time, and batches of them. */
export function editSchemas(kind: DocKind): { single: z.ZodTypeAny; edit: z.ZodTypeAny } {
  const names = Object.keys(kind.tables) as [string, ...string[]];
  const at = z.int().min(0).max(100_000);
  const adds = Object.entries(kind.tables).map(([table, d]) =>
    z.strictObject({ kind: z.literal('add'), table: z.literal(table), row: d.schema, at: at.optional() }),
  );
  const table = z.enum(names);
  const set = z.record(z.string().max(100), z.json());
  const others = [
    z.strictObject({ kind: z.literal('remove'), table, id: Id }),
    z.strictObject({ kind: z.literal('change'), table, id: Id, set }),
    z.strictObject({ kind: z.literal('order'), table, id: Id, at }),
    z.strictObject({ kind: z.literal('settings'), set }),
  ] as const;
  const add = z.discriminatedUnion('table', adds as never);
  const single = z.discriminatedUnion('kind', [add, ...others] as never);
  const batch = z.strictObject({ kind: z.literal('batch'), edits: z.array(single).max(MOST_IN_BATCH) });
  return { single, edit: z.discriminatedUnion('kind', [add, ...others, batch] as never) };
}

/** Every blob a document names, by SHA-256, each once. */
export function blobsOfDoc(kind: DocKind, doc: Doc): string[] {
  const out = new Set<string>();
  for (const [table, d] of Object.entries(kind.tables))
    if (d.blobs) for (const row of Object.values(tableOf(doc, table))) for (const sha of d.blobs(row)) out.add(sha);
  return [...out].sort();
}

/** "positionM" → "position", "growMm" → "grow", "wallMm" → "wall". */
const plain = (field: string) =>
  field
    .replace(/(M|Mm|Rad|Deg|Ms|S)$/, '')
    .replace(/([A-Z])/g, ' $1')
    .toLowerCase();

/** Words for the history list and the tips of Undo and Redo. A batch is named by its last edit. */
export function sayEdit(kind: DocKind, doc: Doc, edit: LooseEdit): string {
  if (edit.kind !== 'batch') return describeSingle(kind, doc, edit);
  const last = edit.edits.at(-1);
  return last ? describeSingle(kind, doc, last) : 'nothing';
}

function describeSingle(kind: DocKind, doc: Doc, e: LooseSingle): string {
  if (e.kind === 'settings') {
    const field = Object.keys(e.set)[0] ?? 'settings';
    return kind.saySettings?.[field]?.(e.set[field]) ?? plain(field);
  }
  const d = Object.hasOwn(kind.tables, e.table) ? kind.tables[e.table] : null;
  const row = e.kind === 'add' ? e.row : rowAt(doc, e.table, e.id);
  const label = d && row ? d.label(row, doc) : e.kind === 'add' ? e.row.id : e.id;
  const say = (key: string, value: unknown, otherwise: string) => d?.say?.[key]?.(label, value) ?? otherwise;
  switch (e.kind) {
    case 'add':
      return say('add', e.row, `add ${label}`);
    case 'remove':
      return say('remove', null, `remove ${label}`);
    case 'order':
      return say('order', null, `reorder ${label}`);
    case 'change': {
      const fields = Object.keys(e.set);
      const field = fields.find((f) => d?.say?.[f]) ?? fields[0] ?? '';
      return say(field, e.set[field], `${plain(field)} of ${label}`);
    }
  }
}

/** What an entity of `touchedBy` is called: the row's name, "the name of the piece", "the order of parts". */
export function nameEntity(kind: DocKind, entity: string, ...docs: readonly Doc[]): string {
  const [table, rest = ''] = [entity.slice(0, entity.indexOf(':')), entity.slice(entity.indexOf(':') + 1)];
  if (table === 'settings') return `the ${kind.settingWords?.[rest] ?? plain(rest)} of the piece`;
  if (table === 'orders') return `the order of the ${kind.tables[rest]?.word[1] ?? rest}`;
  const id = rest.split('.')[0];
  for (const doc of docs) {
    const row = rowAt(doc, table, id);
    if (row) return kind.tables[table].label(row, doc);
  }
  return id;
}
