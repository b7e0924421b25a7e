/** The sync of an open piece against a small server that keeps the same rules: revisions, save ids, 409 with what changed. */
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { PieceAnswer, SaveRequest } from '@/api';
import { applyEdit, createModelItem, createModelPart, createPiece, type Edit, type Piece } from '@/core/piece';
import { openPieceStore, type PieceStore } from './store';

class Server {
  document: Piece;
  log: { saveId: string; edits: Edit[] }[] = [];
  away = false;
  /** Takes the next save, but the answer is lost on the way. */
  swallow = false;
  seen: SaveRequest[] = [];
  constructor(start: Piece) {
    this.document = start;
  }
  take(edits: Edit[], saveId: string) {
    this.document = edits.reduce(applyEdit, this.document);
    this.log.push({ saveId, edits });
  }
  answer = async (url: string, init?: RequestInit): Promise<Response> => {
    if (this.away) throw new TypeError('fetch failed');
    if (!url.endsWith('/edits'))
      return Response.json({
        id: 'piece',
        yard: { id: 'y', name: 'Yard' },
        revision: this.log.length,
        document: this.document,
        assets: [],
      });
    const save = JSON.parse(String(init?.body)) as SaveRequest;
    this.seen.push(save);
    const known = this.log.findIndex((l) => l.saveId === save.saveId);
    if (known >= 0) return Response.json({ revision: known + 1 });
    if (save.baseRevision !== this.log.length)
      return Response.json(
        {
          error: {
            code: 'piece/behind',
            message: 'behind',
            details: {
              revision: this.log.length,
              document: this.document,
              edits: this.log.slice(save.baseRevision).flatMap((l) => l.edits),
              assets: [],
            },
          },
        },
        { status: 409 },
      );
    this.take(save.edits, save.saveId);
    if (this.swallow) {
      this.swallow = false;
      throw new TypeError('connection reset');
    }
    return Response.json({ revision: this.log.length });
  };
}

const start = (): Piece => {
  const p = applyEdit(createPiece('Start'), {
    kind: 'add-stock',
    item: createModelItem({ id: 's', name: 'a.glb', original: 'a'.repeat(64), model: 'a'.repeat(64), bytes: 1 }),
  });
  return applyEdit(p, { kind: 'add-part', part: createModelPart('p', 's', 'Part'), index: 1 });
};
const place = (x: number): Edit => ({ kind: 'place-part', id: 'p', offset: { positionM: [x, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } });

let server: Server;
const open: PieceStore[] = [];
async function openTab(): Promise<PieceStore> {
  const answer = (await (await server.answer('/api/pieces/piece')).json()) as PieceAnswer;
  const store = await openPieceStore(answer);
  open.push(store);
  return store;
}
const settle = (ms = 400) => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
  server = new Server(start());
  vi.stubGlobal('fetch', (url: string, init?: RequestInit) => server.answer(url, init));
  vi.stubGlobal('navigator', {});
  vi.stubGlobal('window', new EventTarget());
  vi.stubGlobal('document', Object.assign(new EventTarget(), { visibilityState: 'visible' }));
  const kept = new Map<string, string>();
  vi.stubGlobal('sessionStorage', { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => kept.set(k, v) });
});
afterEach(() => {
  for (const s of open.splice(0)) s.close();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('the piece store', () => {
  test('saves what is edited, in one go, and says so', async () => {
    const tab = await openTab();
    tab.getState().commit({ kind: 'rename', name: 'A' });
    tab.getState().commit(place(1));
    expect(tab.getState().save).toBe('saving');
    await settle();
    expect(tab.getState()).toMatchObject({ save: 'saved', revision: 1 });
    expect(server.document).toEqual(tab.getState().history.doc);
    expect(server.log[0].edits).toHaveLength(2);
  });

  test('undo and redo reach the server as edits', async () => {
    const tab = await openTab();
    tab.getState().commit(place(1));
    await settle();
    tab.getState().undo();
    await settle();
    expect(server.document).toEqual(start());
    tab.getState().redo();
    await settle();
    expect(server.document.parts.p).toMatchObject({ offset: { positionM: [1, 0, 0] } });
  });

  test('an edit that does not fit is refused in place; one that changes nothing is not sent', async () => {
    const tab = await openTab();
    expect(tab.getState().commit({ kind: 'remove-stock', id: 's' })).toBe(false);
    expect(tab.getState().commit({ kind: 'rename', name: 'Start' })).toBe(true);
    await settle();
    expect(server.seen).toHaveLength(0);
    expect(tab.getState().history.undo).toHaveLength(0);
  });

  test('while the server is away everything is kept, and sent once it is back', async () => {
    const tab = await openTab();
    server.away = true;
    tab.getState().commit({ kind: 'rename', name: 'At sea' });
    await settle();
    tab.getState().commit(place(2));
    await settle();
    expect(tab.getState().save).toBe('offline');
    server.away = false;
    await settle(8_000);
    expect(tab.getState().save).toBe('saved');
    expect(server.document).toEqual(tab.getState().history.doc);
  });

  test('an answer that is lost does not count the save twice', async () => {
    const tab = await openTab();
    server.swallow = true;
    tab.getState().commit({ kind: 'add-part', part: createModelPart('q', 's', 'Once'), index: 2 });
    await settle(8_000);
    expect(tab.getState()).toMatchObject({ save: 'saved', revision: 1 });
    expect(server.seen).toHaveLength(2);
    expect(server.seen[1].saveId).toBe(server.seen[0].saveId);
    expect(server.log).toHaveLength(1);
  });

  test('behind on other entities: replayed on top of theirs', async () => {
    const tab = await openTab();
    server.take([{ kind: 'rename', name: 'Theirs' }], 'other');
    tab.getState().commit(place(3));
    await settle(1_000);
    expect(tab.getState()).toMatchObject({ save: 'saved', revision: 2, conflict: null });
    expect(server.document).toMatchObject({ name: 'Theirs', parts: { p: { offset: { positionM: [3, 0, 0] } } } });
    expect(tab.getState().history.doc).toEqual(server.document);
  });

  test.each([
    ['theirs', 7, ['head-block', 'p']],
    ['mine', 5, ['head-block', 'p']],
    ['copies', 7, ['head-block', 'p', 'new']],
  ] as const)('behind on the same entity, choosing %s: nothing is lost that was not let go', async (choice, x, rack) => {
    const tab = await openTab();
    server.take([place(7)], 'other');
    tab.getState().commit(place(5));
    tab.getState().commit({ kind: 'rename', name: 'Mine too' });
    await settle(1_000);
    expect(tab.getState().save).toBe('conflict');
    expect(server.log).toHaveLength(1);
    tab.getState().resolve(choice);
    await settle(1_000);
    expect(tab.getState().save).toBe('saved');
    expect(server.document.parts.p).toMatchObject({ offset: { positionM: [x, 0, 0] } });
    expect(server.document.name).toBe('Mine too');
    expect(server.document.rack.map((id) => (id.length > 20 ? 'new' : id))).toEqual(rack);
    if (choice === 'copies')
      expect(server.document.parts[server.document.rack[2]]).toMatchObject({ name: 'Part, mine', offset: { positionM: [5, 0, 0] } });
  });

  test('coming back to a tab that has nothing of its own shows what others did', async () => {
    const tab = await openTab();
    server.take([{ kind: 'rename', name: 'While away' }], 'other');
    window.dispatchEvent(new Event('focus'));
    await settle();
    expect(tab.getState().history.doc.name).toBe('While away');
    expect(tab.getState().revision).toBe(1);
  });
});
