/** What to do with edits made on an older revision. All of it comes from the registry: no table is named here. */
import { type LooseSingle, usersOf } from './change';
import { applyEdit, batch, type Edit, EditError, entitiesOf, type SingleEdit, spellOut, touchedByEdit } from './edits';
import { Entities } from './entities';
import type { Piece } from './schema';
import { type Doc, idsOf, type Row, sameValue, tableOf } from './table';
import { PIECE_KIND } from './tables';

export interface Merge {
  /** Theirs with what could be replayed of mine. */
  doc: Piece;
  /** Mine that stand on other entities: replayed, to be sent. */
  replayed: Edit[];
  /** Mine that touch what they changed, in order: the user chooses. */
  contested: Edit[];
}

/** Replays `mine` on `theirs` (the newer document) where nothing is touched that they changed. */
export function mergeEdits(theirs: Piece, theirWrites: Iterable<string>, mine: readonly Edit[]): Merge {
  const changed = new Entities(theirWrites);
  const replayed: Edit[] = [];
  const contested: Edit[] = [];
  let doc = theirs;
  for (const e of mine) {
    // an edit on top of a contested one is contested with it
    const contest = () => {
      for (const t of touchedByEdit(e).writes) changed.add(t);
      contested.push(e);
    };
    if (entitiesOf(e).some((t) => changed.meets(t))) {
      contest();
      continue;
    }
    try {
      // a removal takes along what hangs there: what they hung meanwhile is not mine to take
      if (touchedByEdit(spellOut(doc, e)).writes.some((t) => changed.meets(t))) {
        contest();
        continue;
      }
      doc = applyEdit(doc, e);
      replayed.push(e);
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      contest();
    }
  }
  return { doc, replayed, contested };
}

const loose = (p: Piece) => p as unknown as Doc;
const split = (entity: string) => {
  const colon = entity.indexOf(':');
  const dot = entity.indexOf('.', colon);
  return {
    table: entity.slice(0, colon),
    id: entity.slice(colon + 1, dot < 0 ? undefined : dot),
    field: dot < 0 ? null : entity.slice(dot + 1),
  };
};

/** Gathers edits on a document, applying as it goes. */
class Writer {
  readonly out: SingleEdit[] = [];
  constructor(
    public now: Piece,
    readonly mine: Piece,
  ) {}

  push(e: LooseSingle): void {
    this.now = applyEdit(this.now, e as SingleEdit);
    this.out.push(e as SingleEdit);
  }

  private unlocked(table: string, id: string, work: () => void, locked: unknown): void {
    const row = tableOf(loose(this.now), table)[id];
    if (row?.locked === true) this.push({ kind: 'change', table, id, set: { locked: false } });
    work();
    if (locked === true) this.push({ kind: 'change', table, id, set: { locked: true } });
  }

  /** A row of mine that theirs has not, with all it needs. */
  bring(table: string, id: string): void {
    const row = tableOf(loose(this.mine), table)[id];
    if (!row || tableOf(loose(this.now), table)[id]) return;
    this.bringNeeds(table, row);
    const d = PIECE_KIND.tables[table];
    const at = d.order ? { at: Math.max(0, (loose(this.mine).orders[table] ?? []).indexOf(id)) } : {};
    this.push({ kind: 'add', table, row, ...at });
    // a recipe comes with its file, and whatever else is filed under the same id
    for (const user of usersOf(PIECE_KIND, loose(this.mine), table, id)) if (user.reference.path === 'id') this.bring(user.table, id);
  }

  bringNeeds(table: string, row: Row): void {
    for (const r of PIECE_KIND.tables[table].refers) for (const to of idsOf(row, r)) this.bring(r.table, to);
  }

  /** Makes a field, or a whole row, as it is in mine. */
  make(table: string, id: string, fields: readonly string[] | null): void {
    const wanted = tableOf(loose(this.mine), table)[id];
    const present = tableOf(loose(this.now), table)[id];
    if (!wanted) {
      if (present) this.unlocked(table, id, () => this.push({ kind: 'remove', table, id }), false);
      return;
    }
    if (present && present.kind !== wanted.kind) this.unlocked(table, id, () => this.push({ kind: 'remove', table, id }), false);
    if (!present || present.kind !== wanted.kind) {
      this.bring(table, id);
      return;
    }
    const differing = (fields ?? Object.keys(wanted)).filter((f) => f !== 'id' && !sameValue(present[f], wanted[f]));
    if (differing.length === 0) return;
    this.bringNeeds(table, wanted);
    const set = Object.fromEntries(differing.filter((f) => f !== 'locked').map((f) => [f, wanted[f]]));
    this.unlocked(table, id, () => Object.keys(set).length > 0 && this.push({ kind: 'change', table, id, set }), wanted.locked);
  }

  order(table: string): void {
    const has = (id: string) => Object.hasOwn(tableOf(loose(this.now), table), id);
    (loose(this.mine).orders[table] ?? []).filter(has).forEach((id, at) => {
      if (loose(this.now).orders[table][at] !== id) this.push({ kind: 'order', table, id, at });
    });
  }
}

const writesOf = (contested: readonly Edit[]) => [...new Set(contested.flatMap((e) => touchedByEdit(e).writes))];

/**
 * The contested edits as edits on `doc` that make my values win. What they took away comes back from `mine`, my own document; what
 * I took away goes. What cannot be (another's new part uses what I discarded) is named in `kept` and stays theirs.
 */
export function takeMine(doc: Piece, mine: Piece, contested: readonly Edit[]): { edit: Edit; kept: string[] } {
  const w = new Writer(doc, mine);
  const kept: string[] = [];
  const rows = new Map<string, { table: string; id: string; fields: string[] | null }>();
  for (const entity of writesOf(contested)) {
    const { table, id, field } = split(entity);
    if (table === 'orders') continue;
    if (table === 'settings') {
      const key = id as keyof Piece['settings'];
      if (!sameValue(w.now.settings[key], mine.settings[key])) w.push({ kind: 'settings', set: { [key]: mine.settings[key] } });
      continue;
    }
    const at = `${table}:${id}`;
    const known = rows.get(at);
    if (!field) rows.set(at, { table, id, fields: null });
    else if (!known) rows.set(at, { table, id, fields: [field] });
    else known.fields?.push(field);
  }
  for (const { table, id, fields } of rows.values()) {
    const before = { now: w.now, length: w.out.length };
    try {
      w.make(table, id, fields);
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      w.now = before.now;
      w.out.length = before.length;
      kept.push(error.message);
    }
  }
  for (const entity of writesOf(contested)) if (entity.startsWith('orders:')) w.order(split(entity).id);
  return { edit: { kind: 'batch', edits: w.out }, kept };
}

/** My versions of the contested parts as new parts beside theirs; contested names and settings stay theirs. */
export function takeMineAsCopies(doc: Piece, mine: Piece, contested: readonly Edit[], newId: () => string): Edit {
  const w = new Writer(doc, mine);
  const copies = new Map<string, string>();
  for (const entity of writesOf(contested)) {
    const { table, id } = split(entity);
    if (table === 'parts' && mine.parts[id] && !copies.has(id)) copies.set(id, newId());
  }
  // what hangs from a copied part hangs from its copy, so parents come first
  const depth = (id: string): number => {
    const hang = mine.parts[id]?.hang;
    return hang?.on === 'part' ? 1 + depth(hang.part) : 0;
  };
  for (const [id, copy] of [...copies].sort((a, b) => depth(a[0]) - depth(b[0]))) {
    const part = mine.parts[id];
    const hang =
      part.hang?.on === 'part' && copies.has(part.hang.part) ? { ...part.hang, part: copies.get(part.hang.part) as string } : part.hang;
    const row = { ...part, id: copy, hang, name: `${part.name.slice(0, 112)}, mine` };
    w.bringNeeds('parts', row as unknown as Row);
    w.push({ kind: 'add', table: 'parts', row: row as unknown as Row });
  }
  return batch(w.out);
}
