/** What to do with edits made on an older revision. */
import { applyEdit, type Edit, EditError, entitiesOf, type SingleEdit } from './edits';
import type { Part, Piece } from './schema';

export interface Merge {
  /** Theirs with what could be replayed of mine. */
  doc: Piece;
  /** Mine that stand on other entities: replayed, to be sent. */
  replayed: Edit[];
  /** Mine that touch what they changed, in order: the user chooses. */
  contested: Edit[];
}

/** Replays `mine` on `theirs` (the newer document) where no entity is common with `theirEdits`. */
export function mergeEdits(theirs: Piece, theirEdits: readonly Edit[], mine: readonly Edit[]): Merge {
  const changed = new Set(theirEdits.flatMap(entitiesOf));
  const replayed: Edit[] = [];
  const contested: Edit[] = [];
  let doc = theirs;
  for (const e of mine) {
    const touched = entitiesOf(e);
    // an edit on top of a contested one is contested with it
    if (touched.some((t) => changed.has(t))) {
      for (const t of touched) changed.add(t);
      contested.push(e);
      continue;
    }
    try {
      doc = applyEdit(doc, e);
      replayed.push(e);
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      for (const t of touched) changed.add(t);
      contested.push(e);
    }
  }
  return { doc, replayed, contested };
}

/**
 * The contested edits as edits on `doc` that make my values win. What they took away comes back from `mine`, my own document.
 */
export function takeMine(doc: Piece, mine: Piece, contested: readonly Edit[]): Edit {
  const out: SingleEdit[] = [];
  let now = doc;
  const push = (e: SingleEdit) => {
    now = applyEdit(now, e);
    out.push(e);
  };
  for (const entity of new Set(contested.flatMap(entitiesOf))) {
    const [what, id] = [entity.slice(0, entity.indexOf(':')), entity.slice(entity.indexOf(':') + 1)];
    if (entity === 'piece:name' && now.name !== mine.name) push({ kind: 'rename', name: mine.name });
    else if (entity === 'piece:form' && now.form !== mine.form) push({ kind: 'set-form', form: mine.form });
    else if (entity === 'piece:profile' && now.profile !== mine.profile) push({ kind: 'set-profile', profile: mine.profile });
    else if (what === 'stock') {
      const item = mine.stock[id];
      if (item && !now.stock[id]) push({ kind: 'add-stock', item });
      else if (item && JSON.stringify(now.stock[id]) !== JSON.stringify(item)) push({ kind: 'replace-stock', id, item });
      const recipe = mine.recipes[id] ?? null;
      if (item && JSON.stringify(now.recipes[id] ?? null) !== JSON.stringify(recipe)) push({ kind: 'set-recipe', id, recipe });
    } else if (what === 'part') replacePart(now, mine.parts[id], id, Math.max(0, mine.rack.indexOf(id)), mine, push);
  }
  const order = mine.rack.filter((id) => now.parts[id]);
  if (contested.some((e) => entitiesOf(e).includes('piece:rack')))
    order.forEach((id, index) => {
      if (now.rack[index] !== id) push({ kind: 'move-part', id, index });
    });
  return { kind: 'batch', edits: out };
}

/** A stock file of mine that theirs has not, recipe and all. */
function bringStock(mine: Piece, id: string, push: (e: SingleEdit) => void): void {
  push({ kind: 'add-stock', item: mine.stock[id] });
  if (mine.recipes[id]) push({ kind: 'set-recipe', id, recipe: mine.recipes[id] });
}

function replacePart(now: Piece, wanted: Part | undefined, id: string, index: number, mine: Piece, push: (e: SingleEdit) => void): void {
  const present = now.parts[id];
  if (present && wanted && JSON.stringify(present) === JSON.stringify(wanted)) return;
  const place = present ? now.rack.indexOf(id) : Math.min(index, now.rack.length);
  if (present?.locked) push({ kind: 'lock-part', id, locked: false });
  if (present) push({ kind: 'remove-part', id });
  if (!wanted) return;
  if (wanted.kind === 'model' && !now.stock[wanted.stockId] && mine.stock[wanted.stockId]) bringStock(mine, wanted.stockId, push);
  push({ kind: 'add-part', part: wanted, index: place });
}

/** My versions of the contested parts as new parts beside theirs; contested names and settings stay theirs. */
export function takeMineAsCopies(doc: Piece, mine: Piece, contested: readonly Edit[], newId: () => string): Edit {
  const out: SingleEdit[] = [];
  let now = doc;
  const push = (e: SingleEdit) => {
    now = applyEdit(now, e);
    out.push(e);
  };
  for (const entity of new Set(contested.flatMap(entitiesOf))) {
    if (!entity.startsWith('part:')) continue;
    const wanted = mine.parts[entity.slice(5)];
    if (!wanted) continue;
    if (wanted.kind === 'model' && !now.stock[wanted.stockId]) bringStock(mine, wanted.stockId, push);
    push({ kind: 'add-part', part: { ...wanted, id: newId(), name: `${wanted.name.slice(0, 112)}, mine` }, index: now.rack.length });
  }
  return { kind: 'batch', edits: out };
}
