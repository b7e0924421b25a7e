/** What an older page of this browser kept unsent is read by this one, and none of it is lost. */
import { readFileSync } from 'node:fs';
import * as fake from 'fake-indexeddb';
import { openDB } from 'idb';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import {
  applyEdit,
  commit,
  createHistory,
  createPiece,
  PIECE_SCHEMA,
  PieceFormatError,
  readPiece,
  sameValue,
  settings,
} from '@/core/piece';
import { type Outbox, readOutbox } from './outbox';

const work = JSON.parse(readFileSync(new URL('../../core/piece/samples/schema-3-work.json', import.meta.url), 'utf8')) as {
  start: unknown;
  edits: unknown[];
  end: unknown;
}[];
const box = (change: Partial<Outbox>): Outbox => ({
  key: 'k',
  piece: 'p',
  base: work[0].start,
  revision: 7,
  inflight: null,
  pending: [],
  ...change,
});

describe('readOutbox', () => {
  test.each(work.map((w, i) => [i, w] as const))('edits of schema 3, half of them sent: sample %i comes to the same piece', (_, w) => {
    const half = w.edits.length >> 1;
    const read = readOutbox(box({ base: w.start, inflight: { saveId: 's', edits: w.edits.slice(0, half) }, pending: w.edits.slice(half) }));
    if (!read) throw new Error('nothing was read');
    expect([read.revision, read.inflight?.saveId]).toEqual([7, 's']);
    const end = [...(read.inflight?.edits ?? []), ...read.pending].reduce(applyEdit, read.base);
    expect(sameValue(end, readPiece(w.end))).toBe(true);
  });
  test('nothing kept is nothing; what a newer page kept is refused, not guessed at', () => {
    expect(readOutbox(null)).toBeNull();
    expect(() => readOutbox(box({ schema: PIECE_SCHEMA + 1, pending: [{ kind: 'fly' }] }))).toThrow(PieceFormatError);
    expect(() => readOutbox(box({ base: { ...(work[0].start as object), schema: 99 } }))).toThrow(PieceFormatError);
  });
});

type Options = { ifAvailable?: boolean; signal?: AbortSignal };
type Work = (lock: object | null) => unknown;
/** Web Locks as far as the outbox asks them: exclusive, waited for until a signal says no more. */
class Locks {
  private readonly held = new Map<string, Promise<unknown>>();
  request = async (name: string, given: Options | Work, then?: Work): Promise<unknown> => {
    const work = then ?? (given as Work);
    const { ifAvailable, signal } = then ? (given as Options) : {};
    if (this.held.has(name) && ifAvailable) return work(null);
    if (this.held.has(name)) {
      const gaveUp = new Promise((_, no) => signal?.addEventListener('abort', () => no(signal.reason)));
      while (this.held.has(name)) await Promise.race([this.held.get(name), gaveUp]);
    }
    const done = Promise.resolve(work({}));
    const over: Promise<unknown> = done.then(
      () => this.held.get(name) === over && this.held.delete(name),
      () => undefined,
    );
    this.held.set(name, over);
    return done;
  };
  /** A page has gone: what it held is free. */
  goes = (name: string): void => void this.held.delete(name);
}

describe('kept in the browser', () => {
  const piece = createPiece('Kept');
  const edit = settings({ name: 'Next' });
  let locks: Locks;
  /** What a tab keeps over a reload, and a duplicated one begins with. */
  let session: Map<string, string>;
  beforeEach(() => {
    for (const [name, type] of Object.entries(fake)) if (name.startsWith('IDB')) vi.stubGlobal(name, type);
    vi.stubGlobal('indexedDB', new fake.IDBFactory());
    locks = new Locks();
    vi.stubGlobal('navigator', { locks });
    session = new Map();
    vi.stubGlobal('sessionStorage', {
      getItem: (k: string) => session.get(k) ?? null,
      setItem: (k: string, v: string) => session.set(k, v),
    });
  });
  afterEach(() => vi.unstubAllGlobals());

  /** A page as a browser opens it: nothing of another's memory. */
  async function openPage() {
    vi.resetModules();
    const { findOutbox, findSteps, holdOutbox, keepOutbox, outboxKey, setAside } = await import('./outbox');
    const key = await outboxKey('p');
    const full = (change: Partial<Outbox> = {}): Outbox => ({
      ...box({ key, base: piece, schema: PIECE_SCHEMA, pending: [edit] }),
      ...change,
    });
    return { key, full, find: findOutbox, steps: findSteps, hold: holdOutbox, keep: keepOutbox, setAside };
  }
  const newTab = () => {
    session = new Map();
    return openPage();
  };

  test('a box comes back as it was kept last, and goes when nothing is unsent', async () => {
    const { full, keep, find } = await openPage();
    await keep(full());
    const moved = { ...piece, settings: { ...piece.settings, name: 'Moved' } };
    // not waited for: the second must not skip what the first may not have written
    void keep(full({ base: moved, revision: 8 }));
    void keep(full({ base: moved, revision: 8, pending: [] }));
    await keep(full({ base: moved, revision: 9, pending: [edit, edit] }));
    expect(await find('p')).toEqual(full({ base: moved, revision: 9, pending: [edit, edit] }));
    expect(await find('q')).toBeNull();
    await keep(full({ pending: [] }));
    expect(await find('p')).toBeNull();
  });

  test('the base is written once as long as it stays', async () => {
    const { full, keep } = await openPage();
    const put = vi.spyOn(fake.IDBObjectStore.prototype, 'put');
    for (let i = 1; i <= 4; i++) await keep(full({ pending: Array(i).fill(edit) }));
    expect(put.mock.calls.filter(([value]) => value === piece)).toHaveLength(1);
  });

  test('a reloaded page has its box again; a duplicated tab has one of its own, and neither writes into the other’s', async () => {
    const one = await openPage();
    const release = one.hold(one.key);
    await one.keep(one.full());
    const copy = await openPage();
    expect(copy.key).not.toBe(one.key);
    expect(await copy.find('p')).toBeNull();
    await copy.keep(copy.full({ pending: [] }));
    expect(await one.find('p')).toEqual(one.full());
    // the first is reloaded: what it held is free, and its tab still knows its name
    session = new Map([['scaphos-tab', one.key.slice(2)]]);
    release();
    locks.goes(`scaphos-tab ${one.key.slice(2)}`);
    const again = await openPage();
    expect(again.key).toBe(one.key);
    expect(await again.find('p')).toEqual(one.full());
  });

  test('a closed tab’s box is adopted with its base, an open one’s is not; by one of two that look at once', async () => {
    const one = await openPage();
    const release = one.hold(one.key);
    await one.keep(one.full());
    const two = await newTab();
    expect(await two.find('p')).toBeNull();
    release();
    await new Promise((r) => setTimeout(r));
    const three = await newTab();
    const found = await Promise.all([two.find('p'), three.find('p')]);
    const taken = found.filter((b) => b !== null);
    expect(taken).toHaveLength(1);
    expect(taken[0]).toEqual(one.full({ key: found[0] ? two.key : three.key }));
  });

  test('steps come back where they fit what there is, the newest 200; those of a closed tab are adopted once', async () => {
    const { undo } = Array.from({ length: 210 }, (_, i) => settings({ name: `Name ${i}` })).reduce(commit, createHistory(piece));
    const one = await openPage();
    const release = one.hold(one.key);
    await one.keep(one.full({ revision: 7, pending: [edit] }), { undo, redo: [] });
    expect((await one.steps('p', 7, 1))?.undo.map((d) => d.label)).toEqual(undo.slice(-200).map((d) => d.label));
    // one more unsent edit, a newer revision, another piece: they would take back what they do not know of
    expect([await one.steps('p', 7, 2), await one.steps('p', 8, 1), await one.steps('q', 7, 1)]).toEqual([null, null, null]);
    // nothing unsent any more: the box goes, the steps stay
    await one.keep(one.full({ revision: 8, pending: [] }), { undo, redo: undo.slice(0, 2) });
    expect((await one.steps('p', 8, 0))?.redo).toHaveLength(2);
    const two = await newTab();
    expect(await two.steps('p', 8, 0)).toBeNull();
    release();
    await new Promise((r) => setTimeout(r));
    two.hold(two.key);
    expect((await two.steps('p', 8, 0))?.undo).toHaveLength(200);
    expect((await two.steps('p', 8, 0))?.undo).toHaveLength(200);
    expect(await (await newTab()).steps('p', 8, 0)).toBeNull();
  });

  test('what is set aside is asked for by nobody, and whole', async () => {
    const { full, keep, find, setAside } = await openPage();
    await keep(full());
    await setAside(full());
    expect(await find('p')).toBeNull();
    expect(await find('p aside')).toMatchObject({ base: piece, pending: [edit] });
  });

  test('a box of an older page, with its base inside, is found', async () => {
    const { full, keep, find } = await openPage();
    const old = await openDB('scaphos-outbox', 1, {
      upgrade: (db) => void db.createObjectStore('outboxes', { keyPath: 'key' }).createIndex('piece', 'piece'),
    });
    await old.put('outboxes', full());
    old.close();
    expect(await find('p')).toEqual(full());
    await keep(full({ pending: [edit, edit] }));
    expect(await find('p')).toEqual(full({ pending: [edit, edit] }));
  });
});
