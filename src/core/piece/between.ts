/** The edits that lead from one document to another, as small as rows and fields allow. */
import { apply, type LooseSingle, usersOf } from './change';
import { type Doc, type DocKind, idsOf, type Reference, type Row, sameValue, tableOf } from './table';

const FIXED: ReadonlySet<string> = new Set(['id', 'kind', 'locked']);

/**
 * One edit after the other, so that each fits where the one before left the document: unlocked, unhung from one another, lifted off,
 * brought in, changed, put in order, locked again.
 * @returns empty where the documents are the same
 */
export function editsFromTo(kind: DocKind, from: Doc, to: Doc): LooseSingle[] {
  const out: LooseSingle[] = [];
  let now = from;
  const add = (edit: LooseSingle) => {
    const next = apply(kind, now, edit);
    if (next !== now) out.push(edit);
    now = next;
  };
  const tables = Object.keys(kind.tables);
  /** Of another kind is another row: it goes, and comes again. */
  const stays = (table: string, row: Row): Row | undefined => {
    const goal = tableOf(to, table)[row.id];
    return goal && goal.kind === row.kind ? goal : undefined;
  };
  if (!sameValue(from.settings, to.settings)) add({ kind: 'settings', set: to.settings });
  for (const table of tables)
    for (const row of Object.values(tableOf(from, table))) {
      const goal = stays(table, row);
      if (row.locked === true && !sameValue(row, goal)) add({ kind: 'change', table, id: row.id, set: { locked: false } });
      // what hung on another by turns would come to hang in itself
      for (const r of kind.tables[table].refers) {
        const field = r.path.split('.')[0];
        if (goal && r.noLoops && !sameValue(row[field], goal[field])) add({ kind: 'change', table, id: row.id, set: { [field]: null } });
      }
    }
  const lift = () => {
    for (let before = -1; before !== out.length; ) {
      before = out.length;
      for (const table of tables)
        for (const row of Object.values(tableOf(now, table)))
          if (!stays(table, row) && usersOf(kind, now, table, row.id).length === 0) add({ kind: 'remove', table, id: row.id });
    }
  };
  // first, or a table would hold more than it may
  lift();
  const bring = (table: string, goal: Row): void => {
    if (Object.hasOwn(tableOf(now, table), goal.id)) return;
    const needed = (r: Reference) => idsOf(goal, r).filter((id) => !(r.table === table && id === goal.id));
    for (const r of kind.tables[table].refers) for (const id of needed(r)) bring(r.table, tableOf(to, r.table)[id]);
    add({ kind: 'add', table, row: goal });
  };
  for (const table of tables) for (const goal of Object.values(tableOf(to, table))) bring(table, goal);
  for (const table of tables)
    for (const goal of Object.values(tableOf(to, table))) {
      const row = tableOf(now, table)[goal.id];
      const fields = Object.keys({ ...row, ...goal }).filter((f) => !FIXED.has(f) && !sameValue(row[f], goal[f]));
      if (fields.length > 0) add({ kind: 'change', table, id: goal.id, set: Object.fromEntries(fields.map((f) => [f, goal[f]])) });
    }
  lift();
  for (const table of tables.filter((t) => kind.tables[t].order))
    for (const [at, id] of to.orders[table].entries()) add({ kind: 'order', table, id, at });
  for (const table of tables)
    for (const goal of Object.values(tableOf(to, table)))
      if (goal.locked === true && tableOf(now, table)[goal.id].locked !== true)
        add({ kind: 'change', table, id: goal.id, set: { locked: true } });
  return out;
}
