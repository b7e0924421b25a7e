/** Edits the server does not have yet, kept in the browser. Each tab has its own; a closed tab's is adopted by the next. */
import { type DBSchema, type IDBPObjectStore, openDB } from 'idb';
import { applyEdit, BARE_EDITS_SCHEMA, type Done, type Edit, PIECE_SCHEMA, type Piece, readEdits, readPiece } from '@/core/piece';

export interface Outbox {
  /** Piece and tab. */
  key: string;
  piece: string;
  /** The document and revision the edits were made on; of the schema it was kept in. */
  base: unknown;
  revision: number;
  /** Of the edits; boxes from before it was told have none. */
  schema?: number;
  /** Sent, not yet answered. */
  inflight: { saveId: string; edits: unknown[] } | null;
  pending: unknown[];
}

/** An outbox read by this program. */
export interface Unsent {
  base: Piece;
  revision: number;
  inflight: { saveId: string; edits: Edit[] } | null;
  pending: Edit[];
}

/**
 * What was kept, in the present schema; null where there is nothing.
 * @throws {PieceFormatError} kept by a newer Scaphos, or not readable; the box stays as it is
 */
export function readOutbox(box: Outbox | null): Unsent | null {
  if (!box) return null;
  const schema = box.schema ?? BARE_EDITS_SCHEMA;
  const base = readPiece(box.base);
  const sent = box.inflight ? readEdits({ schema, edits: box.inflight.edits }, base) : [];
  const on = sent.reduce(applyEdit, base);
  return {
    base,
    revision: box.revision,
    inflight: box.inflight && { saveId: box.inflight.saveId, edits: sent },
    pending: readEdits({ schema, edits: box.pending }, on),
  };
}

/** The steps one can go back and forward by, as they were when the box was kept. */
export interface KeptSteps {
  /** Piece and tab. */
  key: string;
  piece: string;
  /** They fit this revision with so many unsent edits on it, and nothing else. */
  revision: number;
  unsent: number;
  schema: number;
  keptAt: number;
  undo: readonly Done[];
  redo: readonly Done[];
}

interface Schema extends DBSchema {
  /** Boxes of older pages hold their base themselves. */
  outboxes: { key: string; value: Omit<Outbox, 'base'> & { base?: unknown }; indexes: { piece: string } };
  /** What a box's edits were made on, by the box's key: as large as the piece, and the same from edit to edit. */
  bases: { key: string; value: unknown };
  steps: { key: string; value: KeptSteps; indexes: { piece: string } };
}

const open = () =>
  openDB<Schema>('scaphos-outbox', 3, {
    upgrade(db, from) {
      if (from < 1) db.createObjectStore('outboxes', { keyPath: 'key' }).createIndex('piece', 'piece');
      if (from < 2) db.createObjectStore('bases');
      db.createObjectStore('steps', { keyPath: 'key' }).createIndex('piece', 'piece');
    },
  });

const TAB = 'scaphos-tab';
/** A page that is being reloaded may hold its name a moment longer. */
const PATIENCE_MS = 500;

/** Takes a lock for as long as the page lives; false where another page holds it. */
async function holdForGood(name: string): Promise<boolean> {
  const { locks } = navigator;
  if (!locks) return true;
  return new Promise((told) => {
    const held = () => {
      told(true);
      return new Promise<never>(() => undefined);
    };
    locks.request(name, { signal: AbortSignal.timeout(PATIENCE_MS) }, held).catch(() => told(false));
  });
}

/** The name of this tab: kept over a reload, new for a new tab, and for a duplicated one, which comes with the other's name. */
async function nameTab(): Promise<string> {
  const kept = sessionStorage.getItem(TAB);
  if (kept && (await holdForGood(`${TAB} ${kept}`))) return kept;
  const fresh = crypto.randomUUID();
  sessionStorage.setItem(TAB, fresh);
  await holdForGood(`${TAB} ${fresh}`);
  return fresh;
}

let named: Promise<string> | null = null;
/** Key of this tab's outbox for a piece. */
export async function outboxKey(piece: string): Promise<string> {
  named ??= nameTab();
  return `${piece} ${await named}`;
}

/** The base that this page kept last, by the box's key. */
const keptBases = new Map<string, unknown>();
let kept: Promise<void> = Promise.resolve();

/** Keeps a box, or lets it go when nothing is unsent. One after the other: what the last one kept tells what this one must. */
export function keepOutbox(box: Outbox, steps: Pick<KeptSteps, 'undo' | 'redo'> = { undo: [], redo: [] }): Promise<void> {
  kept = kept.catch(() => undefined).then(() => keep(box, steps));
  return kept;
}

/** As many of the newest steps are kept. */
const STEPS_KEPT = 200;

async function keep({ base, ...box }: Outbox, { undo, redo }: Pick<KeptSteps, 'undo' | 'redo'>): Promise<void> {
  const { key, piece, revision } = box;
  const steps: KeptSteps = {
    key,
    piece,
    revision,
    unsent: (box.inflight?.edits.length ?? 0) + box.pending.length,
    schema: PIECE_SCHEMA,
    keptAt: Date.now(),
    undo: undo.slice(-STEPS_KEPT),
    redo: redo.slice(-STEPS_KEPT),
  };
  const full = box.inflight !== null || box.pending.length > 0;
  const known = full && keptBases.get(key) === base;
  keptBases.delete(key);
  await within(async (boxes, bases, all) => {
    await Promise.all([
      all.put(steps),
      ...(full ? [boxes.put(box), known || bases.put(base, key)] : [boxes.delete(key), bases.delete(key)]),
    ]);
  });
  if (full) keptBases.set(key, base);
}

type Names = 'outboxes' | 'bases' | 'steps';
type Store<N extends Names> = IDBPObjectStore<Schema, Names[], N, 'readwrite'>;
/** All of it or nothing. */
async function within<T>(work: (boxes: Store<'outboxes'>, bases: Store<'bases'>, steps: Store<'steps'>) => Promise<T>): Promise<T> {
  const db = await open();
  try {
    const tx = db.transaction(['outboxes', 'bases', 'steps'], 'readwrite');
    const [done] = await Promise.all([work(tx.objectStore('outboxes'), tx.objectStore('bases'), tx.objectStore('steps')), tx.done]);
    return done;
  } finally {
    db.close();
  }
}

/** Gives a box another key, and its base with it. null: it is not there any more. */
const rename = (from: string, to: { key: string; piece: string }): Promise<Outbox | null> =>
  within(async (boxes, bases) => {
    const found = await boxes.get(from);
    if (!found) return null;
    const { base: inside, ...box } = found;
    const base = inside ?? (await bases.get(from));
    await Promise.all([boxes.delete(from), bases.delete(from), boxes.put({ ...box, ...to }), bases.put(base, to.key)]);
    return { ...box, ...to, base };
  });

/** Puts a box that cannot be read aside, under a name that no tab asks for. Nothing of it is lost. */
export async function setAside(box: Outbox): Promise<void> {
  await rename(box.key, { key: `${box.key} aside ${Date.now()}`, piece: `${box.piece} aside` });
}

/** My tab's outbox for a piece, or one that a closed tab left behind. */
export async function findOutbox(piece: string): Promise<Outbox | null> {
  const key = await outboxKey(piece);
  const all = await within(async (boxes, bases) => {
    const found = await boxes.index('piece').getAll(piece);
    return Promise.all(found.map(async (box): Promise<Outbox> => ({ ...box, base: box.base ?? (await bases.get(box.key)) })));
  });
  const mine = all.find((b) => b.key === key);
  if (mine) return mine;
  for (const box of all) {
    const adopted = await ifOrphan(box.key, () => rename(box.key, { key, piece }));
    if (adopted) return adopted;
  }
  return null;
}

/**
 * The steps of my tab, or the newest of a closed one, which then are mine: only where they fit what there is now, since steps of
 * another state would take back what others did.
 */
export async function findSteps(piece: string, revision: number, unsent: number): Promise<Pick<KeptSteps, 'undo' | 'redo'> | null> {
  const key = await outboxKey(piece);
  const all = await within((_boxes, _bases, steps) => steps.index('piece').getAll(piece));
  const fits = (s: KeptSteps) => s.revision === revision && s.unsent === unsent && s.schema === PIECE_SCHEMA;
  const mine = all.find((s) => s.key === key);
  if (mine) return fits(mine) ? mine : null;
  for (const steps of all.toSorted((a, b) => b.keptAt - a.keptAt)) {
    const adopt = () =>
      within(async (_boxes, _bases, kept) => {
        await Promise.all([kept.delete(steps.key), fits(steps) && kept.put({ ...steps, key })]);
        return fits(steps);
      });
    if (await ifOrphan(steps.key, adopt)) return steps;
  }
  return null;
}

/** A living tab holds a lock in its name as long as it shows the piece. */
export function holdOutbox(key: string): () => void {
  if (!navigator.locks) return () => undefined;
  let release: () => void = () => undefined;
  const held = new Promise<void>((r) => {
    release = r;
  });
  void navigator.locks.request(key, () => held);
  return () => release();
}

/** Works on a box whose tab has gone, one page at a time. */
async function ifOrphan<T>(key: string, work: () => Promise<T>): Promise<T | null> {
  if (!navigator.locks) return work();
  return navigator.locks.request(key, { ifAvailable: true }, (lock) => (lock ? work() : null));
}
