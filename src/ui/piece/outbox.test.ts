/** What an older page of this browser kept unsent is read by this one, and none of it is lost. */
import { readFileSync } from 'node:fs';
import * as fake from 'fake-indexeddb';
import { openDB } from 'idb';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { applyEdit, createPiece, PIECE_SCHEMA, PieceFormatError, readPiece, sameValue, settings } from '@/core/piece';
import { findOutbox, keepOutbox, type Outbox, outboxKey, readOutbox, setAside } from './outbox';

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

describe('kept in the browser', () => {
  const piece = createPiece('Kept');
  const edit = settings({ name: 'Next' });
  const full = (change: Partial<Outbox> = {}): Outbox => ({
    ...box({ key: outboxKey('p'), base: piece, schema: PIECE_SCHEMA, pending: [edit] }),
    ...change,
  });
  /** Keys of boxes whose tab is open. */
  const shown = new Set<string>();
  beforeEach(() => {
    for (const [name, type] of Object.entries(fake)) if (name.startsWith('IDB')) vi.stubGlobal(name, type);
    vi.stubGlobal('indexedDB', new fake.IDBFactory());
    shown.clear();
    const request = async (key: string, _: object, then: (lock: object | null) => unknown) => then(shown.has(key) ? null : {});
    vi.stubGlobal('navigator', { locks: { request } });
    const session = new Map<string, string>();
    vi.stubGlobal('sessionStorage', {
      getItem: (k: string) => session.get(k) ?? null,
      setItem: (k: string, v: string) => session.set(k, v),
    });
  });
  afterEach(() => vi.unstubAllGlobals());
  const otherTab = (id: string) => sessionStorage.setItem('scaphos-tab', id);

  test('a box comes back as it was kept last, and goes when nothing is unsent', async () => {
    await keepOutbox(full());
    const moved = { ...piece, settings: { ...piece.settings, name: 'Moved' } };
    // not waited for: the second must not skip what the first may not have written
    void keepOutbox(full({ base: moved, revision: 8 }));
    void keepOutbox(full({ base: moved, revision: 8, pending: [] }));
    await keepOutbox(full({ base: moved, revision: 9, pending: [edit, edit] }));
    expect(await findOutbox('p')).toEqual(full({ base: moved, revision: 9, pending: [edit, edit] }));
    expect(await findOutbox('q')).toBeNull();
    await keepOutbox(full({ pending: [] }));
    expect(await findOutbox('p')).toBeNull();
  });

  test('the base is written once as long as it stays', async () => {
    const put = vi.spyOn(fake.IDBObjectStore.prototype, 'put');
    for (let i = 1; i <= 4; i++) await keepOutbox(full({ pending: Array(i).fill(edit) }));
    expect(put.mock.calls.filter(([value]) => value === piece)).toHaveLength(1);
  });

  test('a closed tab’s box is adopted with its base, an open one’s is not', async () => {
    await keepOutbox(full());
    shown.add(outboxKey('p'));
    otherTab('two');
    expect(await findOutbox('p')).toBeNull();
    shown.clear();
    expect(await findOutbox('p')).toEqual(full({ key: outboxKey('p') }));
    shown.add(outboxKey('p'));
    otherTab('three');
    expect(await findOutbox('p')).toBeNull();
  });

  test('what is set aside is asked for by nobody, and whole', async () => {
    await keepOutbox(full());
    await setAside(full());
    expect(await findOutbox('p')).toBeNull();
    expect(await findOutbox('p aside')).toMatchObject({ base: piece, pending: [edit] });
  });

  test('a box of an older page, with its base inside, is found', async () => {
    const old = await openDB('scaphos-outbox', 1, {
      upgrade: (db) => void db.createObjectStore('outboxes', { keyPath: 'key' }).createIndex('piece', 'piece'),
    });
    await old.put('outboxes', full());
    old.close();
    expect(await findOutbox('p')).toEqual(full());
    await keepOutbox(full({ pending: [edit, edit] }));
    expect(await findOutbox('p')).toEqual(full({ pending: [edit, edit] }));
  });
});
