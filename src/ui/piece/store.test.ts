/** The sync of an open piece against a small server that keeps the same rules: revisions, save ids, 409 with what changed. */
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { PieceAnswer, SaveRequest } from '@/api';
import {
  add,
  applyEdit,
  batch,
  change,
  changePart,
  createModelItem,
  createModelPart,
  createPiece,
  type Edit,
  type Piece,
  Piece as PieceSchema,
  readEdits,
  remove,
  setRecipe,
  settings,
  touchedByEdit,
} from '@/core/piece';
import { openPieceStore, type PieceStore } from './store';

class Server {
  document: Piece;
  log: { saveId: string; edits: Edit[] }[] = [];
  /** Refuses more in one save, as the server does. */
  most = 500;
  away = false;
  /** Takes the next save, but the answer is lost on the way. */
  swallow = false;
  seen: SaveRequest[] = [];
  /** Refuses saves with such an edit in them. */
  refuses: (edit: Edit) => boolean = () => false;
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
              changed: this.log.slice(save.baseRevision).flatMap((l) => l.edits.flatMap((e) => touchedByEdit(e).writes)),
              assets: [],
            },
          },
        },
        { status: 409 },
      );
    if (save.edits.some((e) => this.refuses(e as Edit)))
      return Response.json({ error: { code: 'stock/unknown', message: 'b.glb was never brought into this yard.' } }, { status: 422 });
    if (save.edits.length > this.most) return Response.json({ error: { code: 'http/body', message: 'too many' } }, { status: 400 });
    this.take(readEdits({ schema: save.schema as number, edits: [...save.edits] }, this.document), save.saveId);
    if (this.swallow) {
      this.swallow = false;
      throw new TypeError('connection reset');
    }
    return Response.json({ revision: this.log.length });
  };
}

const start = (): Piece => {
  const p = applyEdit(
    createPiece('Start'),
    add('stock', createModelItem({ id: 's', name: 'a.glb', original: 'a'.repeat(64), model: 'a'.repeat(64), bytes: 1 })),
  );
  return applyEdit(p, add('parts', createModelPart('p', 's', 'Part')));
};
const place = (x: number): Edit => changePart('p', { offset: { positionM: [x, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } });

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
    tab.getState().commit(settings({ name: 'A' }));
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
    expect(tab.getState().commit(remove('stock', 's'))).toBe(false);
    expect(tab.getState().commit(settings({ name: 'Start' }))).toBe(true);
    await settle();
    expect(server.seen).toHaveLength(0);
    expect(tab.getState().history.undo).toHaveLength(0);
  });

  test('while the server is away everything is kept, and sent once it is back', async () => {
    const tab = await openTab();
    server.away = true;
    tab.getState().commit(settings({ name: 'At sea' }));
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
    tab.getState().commit(add('parts', createModelPart('q', 's', 'Once')));
    await settle(8_000);
    expect(tab.getState()).toMatchObject({ save: 'saved', revision: 1 });
    expect(server.seen).toHaveLength(2);
    expect(server.seen[1].saveId).toBe(server.seen[0].saveId);
    expect(server.log).toHaveLength(1);
  });

  test('behind on other entities: replayed on top of theirs', async () => {
    const tab = await openTab();
    server.take([settings({ name: 'Theirs' })], 'other');
    tab.getState().commit(place(3));
    await settle(1_000);
    expect(tab.getState()).toMatchObject({ save: 'saved', revision: 2, conflict: null });
    expect(server.document).toMatchObject({ settings: { name: 'Theirs' }, parts: { p: { offset: { positionM: [3, 0, 0] } } } });
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
    tab.getState().commit(settings({ name: 'Mine too' }));
    await settle(1_000);
    expect(tab.getState().save).toBe('conflict');
    expect(server.log).toHaveLength(1);
    tab.getState().resolve(choice);
    await settle(1_000);
    expect(tab.getState().save).toBe('saved');
    expect(server.document.parts.p).toMatchObject({ offset: { positionM: [x, 0, 0] } });
    expect(server.document.settings.name).toBe('Mine too');
    expect(server.document.orders.parts.map((id) => (id.length > 20 ? 'new' : id))).toEqual(rack);
    if (choice === 'copies')
      expect(server.document.parts[server.document.orders.parts[2]]).toMatchObject({
        name: 'Part, mine',
        offset: { positionM: [5, 0, 0] },
      });
  });

  test('coming back to a tab that has nothing of its own shows what others did', async () => {
    const tab = await openTab();
    server.take([settings({ name: 'While away' })], 'other');
    window.dispatchEvent(new Event('focus'));
    await settle();
    expect(tab.getState().history.doc.settings.name).toBe('While away');
    expect(tab.getState().revision).toBe(1);
  });

  test('my undo does not write over what another did to the recipe meanwhile', async () => {
    const recipe = (result: string) =>
      batch(setRecipe(tabDoc(), 's', { steps: [{ id: result[0], on: true, step: 'prune', settings: {} }], result }));
    const tab = await openTab();
    const tabDoc = () => tab.getState().history.doc;
    tab.getState().commit(recipe('1'.repeat(64)));
    await settle();
    tab.getState().commit(recipe('2'.repeat(64)));
    await settle();
    server.take([change('recipes', 's', { result: '9'.repeat(64) })], 'other');
    window.dispatchEvent(new Event('focus'));
    await settle();
    tab.getState().undo();
    await settle(1_000);
    expect(server.document.recipes.s.result).toBe('9'.repeat(64));
  });

  test('undo goes past a step that another made impossible, and says so', async () => {
    const tab = await openTab();
    tab.getState().commit(settings({ name: 'Mine' }));
    tab
      .getState()
      .commit(add('stock', createModelItem({ id: 't', name: 'b.glb', original: 'b'.repeat(64), model: 'b'.repeat(64), bytes: 1 })));
    await settle();
    server.take([add('parts', createModelPart('theirs', 't', 'Theirs'))], 'other');
    tab.getState().commit(place(4));
    await settle(1_000);
    for (let i = 0; i < 3; i++) tab.getState().undo();
    await settle(1_000);
    expect(tab.getState().history.doc.settings.name).toBe('Start');
    expect(server.document.parts.theirs).toBeDefined();
    expect(server.document.settings.name).toBe('Start');
  });

  test('coming back to a tab keeps the undo of what another did not touch, whatever the order of keys', async () => {
    const tab = await openTab();
    tab.getState().commit(add('parts', createModelPart('q', 's', 'Q')));
    tab.getState().commit(changePart('q', { name: 'Named' }));
    await settle();
    server.take([settings({ name: 'Theirs' })], 'other');
    // as the server gives it: keys in the schema's order
    server.document = PieceSchema.parse(JSON.parse(JSON.stringify(server.document)));
    window.dispatchEvent(new Event('focus'));
    await settle();
    expect(tab.getState().history.undo).toHaveLength(2);
    tab.getState().undo();
    expect(tab.getState().history.doc.parts.q.name).toBe('Q');
  });

  test.each(['mine', 'theirs'] as const)('what is done while the question stands is kept with %s', async (choice) => {
    const tab = await openTab();
    server.take([place(7)], 'other');
    tab.getState().commit(place(5));
    await settle(1_000);
    expect(tab.getState().save).toBe('conflict');
    tab.getState().commit(settings({ name: 'Meanwhile' }));
    tab.getState().resolve(choice);
    await settle(1_000);
    expect(tab.getState().save).toBe('saved');
    expect(server.document.settings.name).toBe('Meanwhile');
    expect(server.document.parts.p.offset.positionM[0]).toBe(choice === 'mine' ? 5 : 7);
    expect(tab.getState().history.doc).toEqual(server.document);
  });

  test('what was refused is sent one by one: what fits is taken, the rest stays, with its reason, over a reload too', async () => {
    const tab = await openTab();
    const stray = add('stock', createModelItem({ id: 't', name: 'b.glb', original: 'b'.repeat(64), model: 'b'.repeat(64), bytes: 1 }));
    server.refuses = (e) => e.kind === 'add' && e.table === 'stock';
    const edits = [place(1), stray, add('parts', createModelPart('q', 't', 'Q')), settings({ name: 'Fits' })];
    for (const e of edits) tab.getState().commit(e);
    await settle(1_000);
    expect(tab.getState()).toMatchObject({ save: 'refused', message: 'b.glb was never brought into this yard.' });
    expect(tab.getState().unsent()).toEqual(edits);
    expect(server.log).toHaveLength(0);
    // a part of what is not there does not fit either
    server.refuses = (e) => e.kind === 'add';
    await tab.getState().sendSingly();
    expect(server.log.flatMap((l) => l.edits)).toEqual([edits[0], edits[3]]);
    expect(tab.getState()).toMatchObject({ save: 'refused', revision: 2 });
    expect(tab.getState().unsent()).toEqual([edits[1], edits[2]]);
    expect(tab.getState().history.doc.parts.q).toBeDefined();
    await tab.getState().takeServers();
    expect(tab.getState().history.doc).toEqual(server.document);
  });

  test('what is done while the refused is sent one by one is kept, and sent after it', async () => {
    const tab = await openTab();
    server.refuses = (e) => e.kind === 'change';
    tab.getState().commit(place(1));
    await settle(1_000);
    expect(tab.getState().save).toBe('refused');
    server.refuses = () => false;
    const sending = tab.getState().sendSingly();
    tab.getState().commit(place(2));
    tab.getState().commit(settings({ name: 'Meanwhile' }));
    await sending;
    await settle(1_000);
    expect(tab.getState()).toMatchObject({ save: 'saved' });
    expect(server.document).toMatchObject({ settings: { name: 'Meanwhile' }, parts: { p: { offset: { positionM: [2, 0, 0] } } } });
    expect(tab.getState().history.doc).toEqual(server.document);
  });

  test('what was refused goes into a copy as far as it fits; here it stays', async () => {
    const tab = await openTab();
    server.refuses = (e) => e.kind === 'settings';
    tab.getState().commit(settings({ name: 'No' }));
    tab.getState().commit(place(9));
    await settle(1_000);
    expect(tab.getState().save).toBe('refused');
    await tab.getState().sendSingly('copy');
    expect(server.log.flatMap((l) => l.edits)).toEqual([place(9)]);
    expect(tab.getState()).toMatchObject({ save: 'refused', revision: 0 });
    expect(tab.getState().unsent()).toHaveLength(2);
  });

  test('more than a save takes is sent in several, in order; placements of one part in a row are one', async () => {
    const tab = await openTab();
    server.away = true;
    for (let i = 1; i <= 1201; i++) {
      tab.getState().commit(place(i));
      tab.getState().commit(settings({ name: `Name ${i}` }));
    }
    await settle();
    server.away = false;
    await settle(30_000);
    expect(tab.getState().save).toBe('saved');
    expect(server.document.settings.name).toBe('Name 1201');
    expect(server.seen.length).toBeGreaterThan(4);
    expect(server.seen.every((s) => s.edits.length <= 500)).toBe(true);
    const before = server.seen.length;
    for (let i = 1; i <= 30; i++) tab.getState().commit(place(-i));
    await settle(2_000);
    expect(server.seen.slice(before).flatMap((s) => s.edits)).toHaveLength(1);
    expect(server.document.parts.p.offset.positionM[0]).toBe(-30);
  });
});
