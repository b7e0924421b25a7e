/** Document, undo and redo as one immutable value. Undo and redo are edits too, so they reach the server like any other. */
import { applyEdit, describeEdit, type Edit, EditError, entitiesOf, invertEdit, spellOut } from './edits';
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
