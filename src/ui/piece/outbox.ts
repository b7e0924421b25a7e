/** Edits the server does not have yet, kept in the browser. Each tab has its own; a closed tab's is adopted by the next. */
import { type DBSchema, openDB } from 'idb';
import { applyEdit, BARE_EDITS_SCHEMA, type Edit, type Piece, readEdits, readPiece } from '@/core/piece';

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

interface Schema extends DBSchema {
  outboxes: { key: string; value: Outbox; indexes: { piece: string } };
}

const open = () =>
  openDB<Schema>('scaphos-outbox', 1, {
    upgrade(db) {
      db.createObjectStore('outboxes', { keyPath: 'key' }).createIndex('piece', 'piece');
    },
  });

/** Kept over a reload, new for a new tab. */
export function tabId(): string {
  const kept = sessionStorage.getItem('scaphos-tab');
  if (kept) return kept;
  const fresh = crypto.randomUUID();
  sessionStorage.setItem('scaphos-tab', fresh);
  return fresh;
}

export const outboxKey = (piece: string) => `${piece} ${tabId()}`;

export async function keepOutbox(box: Outbox): Promise<void> {
  const db = await open();
  if (box.inflight || box.pending.length > 0) await db.put('outboxes', box);
  else await db.delete('outboxes', box.key);
  db.close();
}

/** Puts a box that cannot be read aside, under a name that no tab asks for. Nothing of it is lost. */
export async function setAside(box: Outbox): Promise<void> {
  const db = await open();
  await db.put('outboxes', { ...box, key: `${box.key} aside ${Date.now()}`, piece: `${box.piece} aside` });
  await db.delete('outboxes', box.key);
  db.close();
}

/** My tab's outbox for a piece, or one that a closed tab left behind. */
export async function findOutbox(piece: string): Promise<Outbox | null> {
  const db = await open();
  try {
    const all = await db.getAllFromIndex('outboxes', 'piece', piece);
    const mine = all.find((b) => b.key === outboxKey(piece));
    if (mine) return mine;
    for (const box of all)
      if (await isOrphan(box.key)) {
        await db.delete('outboxes', box.key);
        const adopted = { ...box, key: outboxKey(piece) };
        await db.put('outboxes', adopted);
        return adopted;
      }
    return null;
  } finally {
    db.close();
  }
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

async function isOrphan(key: string): Promise<boolean> {
  if (!navigator.locks) return true;
  return navigator.locks.request(key, { ifAvailable: true }, async (lock) => lock !== null);
}
