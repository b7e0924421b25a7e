/** Document, undo and redo as one immutable value. Undo and redo are edits too, so they reach the server like any other. */
import { applyEdit, describeEdit, type Edit, EditError, entitiesOf, invertEdit, singles, spellOut } from './edits';
import type { Entities } from './entities';
import type { Piece } from './schema';

export interface Done {
  label: string;
  edit: Edit;
  inverse: Edit;
}
export interface History {
  readonly doc: Piece;
  readonly undo: readonly Done[];
  readonly redo: readonly Done[];
}
/** A step back or forward; `dropped`: steps that no longer fitted and were left out. */
export interface Stepped {
  history: History;
  edit: Edit;
  label: string;
  dropped: readonly Done[];
}

export const UNDO_LIMIT = 500;

export const createHistory = (doc: Piece): History => ({ doc, undo: [], redo: [] });

/** Applies an edit of the user's; the very same history where it changes nothing. An edit that throws leaves no trace. */
export function commit(h: History, asked: Edit): History {
  const edit = spellOut(h.doc, asked);
  const doc = applyEdit(h.doc, edit);
  if (doc === h.doc) return h;
  const done = { label: describeEdit(h.doc, asked), edit, inverse: invertEdit(h.doc, edit) };
  return { doc, undo: [...h.undo, done].slice(-UNDO_LIMIT), redo: [] };
}

/**
 * What two edits in a row do together, where the later one only gives the same fields another value; null otherwise. Locks come one by
 * one: what is done under one is checked against it.
 */
export function joined(last: Edit, next: Edit): Edit | null {
  const [a, b] = [singles(last), singles(next)];
  const goesOn = a.every((was, i) => {
    const is = b[i];
    if (was.kind !== 'change' || is?.kind !== 'change' || was.table !== is.table || was.id !== is.id || 'locked' in was.set) return false;
    const [fields, others] = [Object.keys(was.set), Object.keys(is.set)];
    return fields.length === others.length && fields.every((f) => others.includes(f));
  });
  return goesOn && a.length === b.length ? next : null;
}

/** The same as `commit`, as going on with the step before, where it is of the same fields: one undo takes both back. */
export function commitOn(h: History, asked: Edit): History {
  const last = h.undo.at(-1);
  const edit = last && h.redo.length === 0 ? joined(last.edit, spellOut(h.doc, asked)) : null;
  if (!last || !edit) return commit(h, asked);
  const doc = applyEdit(h.doc, edit);
  if (doc === h.doc) return h;
  const before = h.undo.slice(0, -1);
  // back where it began: no step is left
  return { doc, undo: applyEdit(doc, last.inverse) === doc ? before : [...before, { ...last, edit }], redo: [] };
}

/**
 * One step back, and the edit that made it; null where nothing is left. What others changed meanwhile may make a step impossible:
 * it is dropped, and the one before it taken.
 */
export const undo = (h: History): Stepped | null => step(h, h.undo, (d) => d.inverse, back);

/** One step forward again; null where nothing was undone. */
export const redo = (h: History): Stepped | null => step(h, h.redo, (d) => d.edit, forward);

type Move = (h: History, doc: Piece, left: readonly Done[], done: Done) => History;
const back: Move = (h, doc, left, done) => ({ doc, undo: left, redo: [...h.redo, done] });
const forward: Move = (h, doc, left, done) => ({ doc, undo: [...h.undo, { ...done, inverse: invertEdit(h.doc, done.edit) }], redo: left });

function step(h: History, stack: readonly Done[], which: (d: Done) => Edit, move: Move): Stepped | null {
  const dropped: Done[] = [];
  for (let n = stack.length - 1; n >= 0; n--) {
    const done = stack[n];
    try {
      const doc = applyEdit(h.doc, which(done));
      // what is already as the step would leave it is no step
      if (doc === h.doc) dropped.push(done);
      else return { history: move(h, doc, stack.slice(0, n), done), edit: which(done), label: done.label, dropped };
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      dropped.push(done);
    }
  }
  return null;
}

/**
 * Puts another's document under the history (a replay after a conflict). Steps that touch entities in
 * `changed` can no longer be undone exactly and are dropped.
 */
export function rebase(h: History, doc: Piece, changed: Entities): History {
  const keep = (d: Done) => !entitiesOf(d.edit).some((e) => changed.meets(e));
  return { doc, undo: h.undo.filter(keep), redo: h.redo.filter(keep) };
}
