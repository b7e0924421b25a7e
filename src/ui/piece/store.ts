/** The open piece: its history, what the server still lacks, and what happens when two edited. All change goes through `commit`. */

import { ulid } from 'ulid';
import { createStore, type StoreApi } from 'zustand';
import { ApiFailure, type AssetFacts, api, BehindDetails, MOST_EDITS_A_SAVE, type PieceAnswer } from '@/api';
import {
  applyEdit,
  changedEntities,
  commit,
  commitOn,
  createHistory,
  type Edit,
  EditError,
  Entities,
  type History,
  joined,
  mergeEdits,
  PIECE_SCHEMA,
  PieceFormatError,
  rebase,
  redo,
  singles,
  spellOut,
  takeMine,
  takeMineAsCopies,
  touchedByEdit,
  undo,
} from '@/core/piece';
import { say } from '../kit/say';
import { findOutbox, findSteps, holdOutbox, type KeptSteps, keepOutbox, outboxKey, readOutbox, setAside, type Unsent } from './outbox';

const KEPT = 'The server does not answer. What you did is kept here and sent when it is back.';

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict' | 'refused' | 'signed-out';

export interface Conflict {
  theirs: BehindDetails;
  contested: Edit[];
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
  /** The part that cards speak of: the one chosen last. */
  selected: string | null;
  /** All that are chosen, `selected` last. */
  selection: readonly string[];
  /** The stock file that was looked at last, in Stock or Prepare. */
  looked: string | null;
  /** `run`: it goes on with the same act a moment ago (a held key); one undo takes all of it back. */
  commit: (edit: Edit, how?: 'run') => boolean;
  undo: () => void;
  redo: () => void;
  select: (id: string | null) => void;
  /** Takes one in beside the others, or out again. */
  selectMore: (id: string) => void;
  selectAll: (ids: readonly string[]) => void;
  look: (file: string) => void;
  addAsset: (asset: AssetFacts) => void;
  resolve: (choice: 'theirs' | 'mine' | 'copies') => void;
  /** Drops what the server refused and takes its version. */
  takeServers: () => Promise<void>;
  /** Sends what was refused one by one, into this piece or another; what is refused again stays here, with its reason. */
  sendSingly: (into?: string) => Promise<void>;
  /** Everything the server does not have, in the order it was done. */
  unsent: () => Edit[];
  retry: () => void;
}

export type PieceStore = StoreApi<PieceState> & { close: () => void };

const sameAsset = (a: AssetFacts, b: AssetFacts) => a.original === b.original && a.model === b.model;

const SEND_AFTER_MS = 250;
/** A longer rest ends a run. */
const RUN_MS = 1_000;
const RETRY_MS = 3_000;

/** Opens a piece: the server's answer, and on top what this browser kept. */
export async function openPieceStore(answer: PieceAnswer): Promise<PieceStore> {
  const kept = await findOutbox(answer.id).catch(() => null);
  const key = await outboxKey(answer.id);
  try {
    const unsent = readOutbox(kept);
    const count = unsent ? (unsent.inflight?.edits.length ?? 0) + unsent.pending.length : 0;
    const steps = await findSteps(answer.id, unsent?.revision ?? answer.revision, count).catch(() => null);
    return createPieceStore(answer, key, unsent, steps);
  } catch (error) {
    if (!kept || !(error instanceof PieceFormatError || error instanceof EditError)) throw error;
    await setAside(kept);
    say.error(
      `What this browser kept of ${answer.document.settings.name} cannot be read: ${error.message} It was set aside, not thrown away.`,
    );
    return createPieceStore(answer, key, null, null);
  }
}

/** What does not fit any more is kept to be sent or saved, and not shown. */
function tryCommit(history: History, edit: Edit): History {
  try {
    return commit(history, edit);
  } catch (error) {
    if (error instanceof EditError) return history;
    throw error;
  }
}

function createPieceStore(
  answer: PieceAnswer,
  key: string,
  kept: Unsent | null,
  steps: Pick<KeptSteps, 'undo' | 'redo'> | null,
): PieceStore {
  let base = kept?.base ?? answer.document;
  let revision = kept?.revision ?? answer.revision;
  let inflight = kept?.inflight ?? null;
  let pending: Edit[] = kept?.pending ?? [];
  let timer: ReturnType<typeof setTimeout> | null = null;
  let sending = false;
  let closed = false;
  /** While edits are sent one by one: what is done meanwhile is not joined to one of them. */
  let singly = false;
  const release = holdOutbox(key);
  /** When the last edit of a run was made. */
  let runAt = 0;
  const persist = () =>
    void keepOutbox({ key, piece: answer.id, base, revision, schema: PIECE_SCHEMA, inflight, pending }, store.getState().history).catch(
      () => undefined,
    );
  const later = (ms: number) => {
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void send(), ms);
  };
  const replayed = [...(inflight?.edits ?? []), ...pending].reduce((h, e) => commit(h, e), createHistory(base));
  const opened: History = steps ? { doc: replayed.doc, undo: steps.undo, redo: steps.redo } : replayed;

  /** All the server does not have yet, in order. */
  const unsent = () => [...(inflight?.edits ?? []), ...pending];

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
    selection: [],
    looked: null,
    commit(edit, how) {
      const before = get().history;
      const now = Date.now();
      const goesOn = how === 'run' && now - runAt < RUN_MS;
      runAt = how === 'run' ? now : 0;
      try {
        const history = goesOn ? commitOn(before, edit) : commit(before, edit);
        if (history === before) return true;
        set({ history });
      } catch (error) {
        if (!(error instanceof EditError)) throw error;
        say.error(error.message);
        return false;
      }
      queue(spellOut(before.doc, edit));
      return true;
    },
    undo: () => goBy(undo),
    redo: () => goBy(redo),
    select: (selected) => set({ selected, selection: selected === null ? [] : [selected] }),
    selectMore(id) {
      const rest = get().selection.filter((s) => s !== id);
      const selection = rest.length < get().selection.length ? rest : [...rest, id];
      set({ selection, selected: selection.at(-1) ?? null });
    },
    selectAll: (selection) => set({ selection, selected: selection.at(-1) ?? null }),
    look: (looked) => set({ looked }),
    addAsset: (asset) => set({ assets: [...get().assets.filter((a) => !sameAsset(a, asset)), asset] }),
    resolve(choice) {
      const c = get().conflict;
      if (!c) return;
      // what was done while the question stood is mine like the rest
      const merged = mergeEdits(c.theirs.document, c.theirs.changed, unsent());
      const mine = get().history.doc;
      if (choice === 'theirs') return standOn(c.theirs, merged.replayed, merged.contested);
      const { edit, kept } =
        choice === 'mine'
          ? takeMine(merged.doc, mine, merged.contested)
          : { edit: takeMineAsCopies(merged.doc, mine, merged.contested, ulid), kept: [] };
      for (const why of kept) say.message(`Theirs stays here: ${why}`);
      standOn(c.theirs, singles(edit).length > 0 ? [...merged.replayed, edit] : merged.replayed, merged.contested);
    },
    async takeServers() {
      const fresh = await api.getPiece(answer.id);
      inflight = null;
      pending = [];
      base = fresh.document;
      revision = fresh.revision;
      set({ history: createHistory(fresh.document), revision, assets: fresh.assets, save: 'saved', message: null, conflict: null });
      persist();
    },
    async sendSingly(into = answer.id) {
      if (singly) return;
      singly = true;
      await sendSingly(into).finally(() => {
        singly = false;
      });
    },
    unsent,
    retry: () => void send(),
  }));

  /** One step of the history; steps that others made impossible are left out, and said to be. */
  function goBy(step: typeof undo) {
    const gone = step(store.getState().history);
    if (!gone) return;
    store.setState({ history: gone.history });
    if (gone.dropped.length > 0) say.message(`Left out, since the piece has changed: ${gone.dropped.map((d) => d.label).join(', ')}.`);
    runAt = 0;
    queue(gone.edit);
  }

  function queue(edit: Edit) {
    const last = singly ? undefined : pending.at(-1);
    // placements in a row are one: a held arrow key makes thirty a second
    const both = last && joined(last, edit);
    pending = both ? [...pending.slice(0, -1), both] : [...pending, edit];
    persist();
    if (store.getState().save === 'saved') store.setState({ save: 'saving' });
    later(SEND_AFTER_MS);
  }

  /** Puts the server's newer document underneath, with these edits of mine on top. */
  function standOn(theirs: BehindDetails, edits: Edit[], lost: Edit[]) {
    const changed = new Entities([...theirs.changed, ...lost.flatMap((e) => touchedByEdit(e).writes)]);
    inflight = null;
    pending = edits;
    base = theirs.document;
    revision = theirs.revision;
    const doc = edits.reduce(applyEdit, base);
    const { history, assets } = store.getState();
    store.setState({
      history: rebase(history, doc, changed),
      revision,
      assets: [...assets.filter((a) => !theirs.assets.some((b) => sameAsset(a, b))), ...theirs.assets],
      conflict: null,
      save: edits.length > 0 ? 'saving' : 'saved',
      message: null,
    });
    persist();
    later(0);
  }

  function meetBehind(details: unknown) {
    const read = BehindDetails.safeParse(details);
    if (!read.success) {
      const message = 'The piece has moved on, and this page cannot read how. Reload the page: what you did is kept in this browser.';
      store.setState({ save: 'refused', message });
      say.error(message);
      return;
    }
    const theirs = read.data;
    const merged = mergeEdits(theirs.document, theirs.changed, unsent());
    if (merged.contested.length === 0) {
      standOn(theirs, merged.replayed, []);
      say.message(`The piece had moved on to revision ${theirs.revision}. Your edits were laid on top.`);
      return;
    }
    store.setState({ save: 'conflict', conflict: { theirs, contested: merged.contested } });
  }

  async function send(): Promise<void> {
    if (sending || closed || store.getState().conflict || store.getState().save === 'refused') return;
    if (!inflight && pending.length > 0) {
      inflight = { saveId: ulid(), edits: pending.slice(0, MOST_EDITS_A_SAVE) };
      pending = pending.slice(MOST_EDITS_A_SAVE);
      persist();
    }
    if (!inflight) return;
    sending = true;
    if (store.getState().save !== 'offline') store.setState({ save: 'saving' });
    try {
      const answered = await api.saveEdits(answer.id, {
        saveId: inflight.saveId,
        baseRevision: revision,
        schema: PIECE_SCHEMA,
        edits: inflight.edits,
      });
      base = inflight.edits.reduce(applyEdit, base);
      revision = answered.revision;
      inflight = null;
      persist();
      store.setState({ revision, save: pending.length > 0 ? 'saving' : 'saved', savedAt: Date.now(), message: null });
      if (pending.length > 0) later(0);
    } catch (error) {
      if (!(error instanceof ApiFailure)) throw error;
      if (error.status === 409 && error.code === 'piece/behind') meetBehind(error.details);
      else if (error.status === 401) store.setState({ save: 'signed-out', message: error.message });
      else if (error.offline || error.status >= 500) {
        store.setState({ save: 'offline', message: KEPT });
        later(RETRY_MS);
      } else store.setState({ save: 'refused', message: error.message });
    } finally {
      sending = false;
    }
  }

  async function sendSingly(into: string): Promise<void> {
    const here = into === answer.id;
    const left: Edit[] = [];
    const all = unsent();
    let said = '';
    let taken = 0;
    const fresh = await api.getPiece(into);
    let at = fresh.revision;
    let doc = fresh.document;
    for (const [i, edit] of all.entries()) {
      try {
        ({ revision: at } = await api.saveEdits(into, { saveId: ulid(), baseRevision: at, schema: PIECE_SCHEMA, edits: [edit] }));
        doc = applyEdit(doc, edit);
        taken++;
      } catch (error) {
        if (!(error instanceof ApiFailure)) throw error;
        said ||= error.message;
        left.push(edit);
        if (error.offline || error.status === 401 || error.status === 409) {
          left.push(...all.slice(i + 1));
          break;
        }
      }
    }
    const count = `${taken} of ${all.length} edits`;
    if (!here) {
      const action = { label: 'Open it', onClick: () => window.location.assign(`/piece/${into}`) };
      say.message(`${count} went into the copy.${said ? ` Not taken: ${said}` : ''}`, { action, duration: 60_000 });
      return;
    }
    const since = unsent().slice(all.length);
    const kept = [...left, ...since];
    inflight = null;
    pending = kept;
    base = doc;
    revision = at;
    const history = kept.reduce((h, e) => tryCommit(h, e), createHistory(doc));
    const save = left.length > 0 ? 'refused' : since.length > 0 ? 'saving' : 'saved';
    store.setState({ history, revision, save, savedAt: Date.now(), message: said || null });
    persist();
    if (save === 'saving') later(0);
    say.message(`${count} were taken.${said ? ` Not taken: ${said}` : ''}`);
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
      history: rebase(before, fresh.document, new Entities(changedEntities(before.doc, fresh.document))),
      revision,
      assets: fresh.assets,
    });
    persist();
    say.message(`The piece has moved on to revision ${fresh.revision}; this tab now shows it.`);
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
