/** The open piece: its history, what the server still lacks, and what happens when two edited. All change goes through `commit`. */
import { toast } from 'sonner';
import { ulid } from 'ulid';
import { createStore, type StoreApi } from 'zustand';
import { ApiFailure, type AssetFacts, api, BehindDetails, type PieceAnswer } from '@/api';
import {
  applyEdit,
  commit,
  createHistory,
  type Edit,
  EditError,
  entitiesOf,
  type History,
  mergeEdits,
  type Piece,
  rebase,
  redo,
  takeMine,
  takeMineAsCopies,
  undo,
} from '@/core/piece';
import { findOutbox, holdOutbox, keepOutbox, outboxKey } from './outbox';

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict' | 'refused' | 'signed-out';

export interface Conflict {
  theirs: BehindDetails;
  replayed: Edit[];
  contested: Edit[];
  mine: Piece;
}

export interface PieceState {
  id: string;
  yard: { id: string; name: string };
  history: History;
  revision: number;
  assets: AssetFacts[];
  save: SaveState;
  savedAt: number | null;
  message: string | null;
  conflict: Conflict | null;
  selected: string | null;
  commit: (edit: Edit) => boolean;
  undo: () => void;
  redo: () => void;
  select: (id: string | null) => void;
  addAsset: (asset: AssetFacts) => void;
  resolve: (choice: 'theirs' | 'mine' | 'copies') => void;
  /** Drops what the server refused and takes its version. */
  takeServers: () => Promise<void>;
  retry: () => void;
}

export type PieceStore = StoreApi<PieceState> & { close: () => void };

const sameAsset = (a: AssetFacts, b: AssetFacts) => a.original === b.original && a.model === b.model;

const SEND_AFTER_MS = 250;
const RETRY_MS = 3_000;

/** Opens a piece: the server's answer, and on top what this browser kept. */
export async function openPieceStore(answer: PieceAnswer): Promise<PieceStore> {
  const kept = await findOutbox(answer.id).catch(() => null);
  return createPieceStore(answer, kept);
}

function createPieceStore(answer: PieceAnswer, kept: Awaited<ReturnType<typeof findOutbox>>): PieceStore {
  let base = kept?.base ?? answer.document;
  let revision = kept?.revision ?? answer.revision;
  let inflight = kept?.inflight ?? null;
  let pending: Edit[] = kept?.pending ?? [];
  let timer: ReturnType<typeof setTimeout> | null = null;
  let sending = false;
  let closed = false;
  const key = outboxKey(answer.id);
  const release = holdOutbox(key);
  const persist = () => void keepOutbox({ key, piece: answer.id, base, revision, inflight, pending }).catch(() => undefined);
  const later = (ms: number) => {
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void send(), ms);
  };
  const opened = [...(inflight?.edits ?? []), ...pending].reduce((h, e) => commit(h, e), createHistory(base));

  const store = createStore<PieceState>((set, get) => ({
    id: answer.id,
    yard: answer.yard,
    history: opened,
    revision,
    assets: answer.assets,
    save: inflight || pending.length > 0 ? 'saving' : 'saved',
    savedAt: null,
    message: null,
    conflict: null,
    selected: null,
    commit(edit) {
      try {
        const history = commit(get().history, edit);
        if (JSON.stringify(history.doc) === JSON.stringify(get().history.doc)) return true;
        set({ history });
      } catch (error) {
        if (!(error instanceof EditError)) throw error;
        toast.error(error.message);
        return false;
      }
      queue(edit);
      return true;
    },
    undo() {
      const step = undo(get().history);
      if (!step) return;
      set({ history: step.history });
      queue(step.edit);
    },
    redo() {
      const step = redo(get().history);
      if (!step) return;
      set({ history: step.history });
      queue(step.edit);
    },
    select: (selected) => set({ selected }),
    addAsset: (asset) => set({ assets: [...get().assets.filter((a) => !sameAsset(a, asset)), asset] }),
    resolve(choice) {
      const c = get().conflict;
      if (!c) return;
      const replayedDoc = c.replayed.reduce(applyEdit, c.theirs.document);
      const extra =
        choice === 'mine'
          ? takeMine(replayedDoc, c.mine, c.contested)
          : choice === 'copies'
            ? takeMineAsCopies(replayedDoc, c.mine, c.contested, ulid)
            : null;
      const edits = extra && extra.kind === 'batch' && extra.edits.length > 0 ? [...c.replayed, extra] : c.replayed;
      standOn(c.theirs, edits, c.contested);
    },
    async takeServers() {
      const fresh = await api.getPiece(answer.id);
      inflight = null;
      pending = [];
      base = fresh.document;
      revision = fresh.revision;
      persist();
      set({ history: createHistory(fresh.document), revision, assets: fresh.assets, save: 'saved', message: null, conflict: null });
    },
    retry: () => void send(),
  }));

  function queue(edit: Edit) {
    pending.push(edit);
    persist();
    if (store.getState().save === 'saved') store.setState({ save: 'saving' });
    later(SEND_AFTER_MS);
  }

  /** Puts the server's newer document underneath, with these edits of mine on top. */
  function standOn(theirs: BehindDetails, edits: Edit[], lost: Edit[]) {
    const changed = new Set([...theirs.edits, ...lost].flatMap(entitiesOf));
    inflight = null;
    pending = edits;
    base = theirs.document;
    revision = theirs.revision;
    const doc = edits.reduce(applyEdit, base);
    persist();
    const { history, assets } = store.getState();
    store.setState({
      history: rebase(history, doc, changed, entitiesOf),
      revision,
      assets: [...assets.filter((a) => !theirs.assets.some((b) => sameAsset(a, b))), ...theirs.assets],
      conflict: null,
      save: edits.length > 0 ? 'saving' : 'saved',
      message: null,
    });
    later(0);
  }

  function meetBehind(details: unknown) {
    const theirs = BehindDetails.parse(details);
    const mine = [...(inflight?.edits ?? []), ...pending];
    const merged = mergeEdits(theirs.document, theirs.edits, mine);
    if (merged.contested.length === 0) {
      standOn(theirs, merged.replayed, []);
      toast.message(`The piece had moved on to revision ${theirs.revision}. Your edits were laid on top.`);
      return;
    }
    store.setState({
      save: 'conflict',
      conflict: { theirs, replayed: merged.replayed, contested: merged.contested, mine: store.getState().history.doc },
    });
  }

  async function send(): Promise<void> {
    if (sending || closed || store.getState().conflict || store.getState().save === 'refused') return;
    if (!inflight && pending.length > 0) {
      inflight = { saveId: ulid(), edits: pending };
      pending = [];
      persist();
    }
    if (!inflight) return;
    sending = true;
    if (store.getState().save !== 'offline') store.setState({ save: 'saving' });
    try {
      const answered = await api.saveEdits(answer.id, { saveId: inflight.saveId, baseRevision: revision, edits: inflight.edits });
      base = inflight.edits.reduce(applyEdit, base);
      revision = answered.revision;
      inflight = null;
      persist();
      store.setState({ revision, save: pending.length > 0 ? 'saving' : 'saved', savedAt: Date.now(), message: null });
      if (pending.length > 0) later(0);
    } catch (error) {
      if (!(error instanceof ApiFailure)) throw error;
      if (error.status === 409) meetBehind(error.details);
      else if (error.status === 401) store.setState({ save: 'signed-out', message: error.message });
      else if (error.offline || error.status >= 500) {
        store.setState({ save: 'offline', message: error.message });
        later(RETRY_MS);
      } else store.setState({ save: 'refused', message: error.message });
    } finally {
      sending = false;
    }
  }

  /** Coming back to a tab: another may have moved the piece on. */
  async function lookAgain(): Promise<void> {
    if (closed || document.visibilityState !== 'visible' || inflight || pending.length > 0 || store.getState().conflict) return;
    const fresh = await api.getPiece(answer.id).catch(() => null);
    if (!fresh || fresh.revision <= revision || inflight || pending.length > 0) return;
    const before = store.getState().history;
    base = fresh.document;
    revision = fresh.revision;
    store.setState({
      history: rebase(before, fresh.document, changedEntities(before.doc, fresh.document), entitiesOf),
      revision,
      assets: fresh.assets,
    });
    toast.message(`The piece has moved on to revision ${fresh.revision}; this tab now shows it.`);
  }

  const back = () => later(0);
  const seen = () => void lookAgain();
  window.addEventListener('online', back);
  window.addEventListener('focus', seen);
  document.addEventListener('visibilitychange', seen);
  if (inflight || pending.length > 0) later(0);
  return Object.assign(store, {
    close() {
      closed = true;
      if (timer) clearTimeout(timer);
      window.removeEventListener('online', back);
      window.removeEventListener('focus', seen);
      document.removeEventListener('visibilitychange', seen);
      release();
    },
  });
}

function changedEntities(a: Piece, b: Piece): Set<string> {
  const out = new Set<string>();
  if (a.name !== b.name) out.add('piece:name');
  if (a.form !== b.form) out.add('piece:form');
  if (a.profile !== b.profile) out.add('piece:profile');
  if (a.rack.join() !== b.rack.join()) out.add('piece:rack');
  for (const id of new Set([...Object.keys(a.parts), ...Object.keys(b.parts)]))
    if (JSON.stringify(a.parts[id]) !== JSON.stringify(b.parts[id])) out.add(`part:${id}`);
  for (const id of new Set([...Object.keys(a.stock), ...Object.keys(b.stock)]))
    if (JSON.stringify(a.stock[id]) !== JSON.stringify(b.stock[id])) out.add(`stock:${id}`);
  return out;
}
