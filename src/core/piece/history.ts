/** Document, undo and redo as one immutable value. Undo and redo are edits too, so they reach the server like any other. */
import { applyEdit, describeEdit, type Edit, invertEdit } from './edits';
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

export const UNDO_LIMIT = 500;

export const createHistory = (doc: Piece): History => ({ doc, undo: [], redo: [] });

/** Applies an edit of the user's. An edit that throws leaves no trace. */
export function commit(h: History, edit: Edit): History {
  const inverse = invertEdit(h.doc, edit);
  const doc = applyEdit(h.doc, edit);
  return { doc, undo: [...h.undo, { label: describeEdit(h.doc, edit), edit, inverse }].slice(-UNDO_LIMIT), redo: [] };
}

/** One step back, and the edit that made it; null at the beginning. */
export function undo(h: History): { history: History; edit: Edit } | null {
  const last = h.undo.at(-1);
  if (!last) return null;
  return { history: { doc: applyEdit(h.doc, last.inverse), undo: h.undo.slice(0, -1), redo: [...h.redo, last] }, edit: last.inverse };
}

/** One step forward again; null where nothing was undone. */
export function redo(h: History): { history: History; edit: Edit } | null {
  const next = h.redo.at(-1);
  if (!next) return null;
  return { history: { doc: applyEdit(h.doc, next.edit), undo: [...h.undo, next], redo: h.redo.slice(0, -1) }, edit: next.edit };
}

/**
 * Puts another's document under the history (a replay after a conflict). Steps that touch entities in
 * `changed` can no longer be undone exactly and are dropped.
 */
export function rebase(h: History, doc: Piece, changed: ReadonlySet<string>, touches: (e: Edit) => string[]): History {
  const keep = (d: Done) => !touches(d.edit).some((t) => changed.has(t));
  return { doc, undo: h.undo.filter(keep), redo: h.redo.filter(keep) };
}
