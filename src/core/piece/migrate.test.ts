/** Old documents and old edits are kept as files, written by the program of their time; each is read as what it was. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import {
  applyEdit,
  createPiece,
  drawnModel,
  type Edit,
  PIECE_SCHEMA,
  Piece,
  PieceFormatError,
  readEdits,
  readPiece,
  sameValue,
  setRecipe,
  storeEdits,
} from './index';

const sample = (name: string) => JSON.parse(readFileSync(new URL(`./samples/${name}.json`, import.meta.url), 'utf8'));
const sha = (c: string) => c.repeat(64);
const layers = {
  camera: { id: 'camera', name: null, visible: true, kind: 'camera' },
  main: { id: 'main', name: null, visible: true, kind: 'parts', sort: 'depth' },
};

const light = { environment: 'fitting', turnDeg: 0, strength: 1, blur: 0.12, exposureEv: 0 };
/** What schema 9 gave to settings, finishes and tables. */
// biome-ignore lint/suspicious/noExplicitAny: documents of their time
const since9 = ({ settings, finishes = {}, ...doc }: any) => ({
  ...doc,
  settings: { ...settings, colourway: null },
  finishes: Object.fromEntries(
    // biome-ignore lint/suspicious/noExplicitAny: as above
    Object.entries<any>(finishes).map(([id, f]) => [
      id,
      { ...f, kind: 'surface', matte: null, ownOf: null, maps: { ...f.maps, opacity: 'own' } },
    ]),
  ),
  colourways: {},
});
/** What schema 8 gave to settings and mattes, and what came after. */
// biome-ignore lint/suspicious/noExplicitAny: documents of their time
const since8 = ({ settings, layers: all, ...doc }: any) =>
  since9({
    ...doc,
    settings: { ...settings, surroundings: light },
    layers: Object.fromEntries(
      // biome-ignore lint/suspicious/noExplicitAny: as above
      Object.entries<any>(all).map(([id, l]) => [id, l.matte ? { ...l, matte: { ...l.matte, growPx: 0 } } : l]),
    ),
  });

describe('old documents', () => {
  test('schema 1: no recipes, nothing stated, an unknown licence; its parts stay where they were', () => {
    const read = readPiece(sample('schema-1'));
    expect(read).toMatchObject({
      schema: PIECE_SCHEMA,
      settings: { name: 'The first', form: 'S', wearer: null, profile: 'light', colourway: null, surroundings: light },
      recipes: {},
      layers,
      forms: {},
      takes: {},
      finishes: {},
      colourways: {},
    });
    expect(read.stock.s1).toMatchObject({ stated: null, dismissed: [], credit: { licence: '' } });
    expect(read.orders).toEqual({ parts: ['head-block', 'p1'], layers: ['camera', 'main'] });
  });

  test('schema 2: a picture names itself as what it is used as, and hangs only once it has a plane', () => {
    const read = readPiece(sample('schema-2'));
    expect(read.stock.s2).toMatchObject({ kind: 'picture', model: sha('c'), dismissed: [] });
    expect(drawnModel(read, 's2')).toBeNull();
    const recipe = { steps: [{ id: 'a', on: true, step: 'plane' as const, settings: { widthMm: 40 } }], result: sha('d') };
    expect(drawnModel(setRecipe(read, 's2', recipe).reduce(applyEdit, read), 's2')).toBe(sha('d'));
  });

  test('schema 3: every kind of row comes over, field by field', () => {
    const old = sample('schema-3');
    const read = readPiece(old);
    expect(read.settings).toEqual({
      name: 'Every kind of row',
      form: 'L',
      wearer: null,
      profile: 'wide',
      colourway: null,
      surroundings: light,
    });
    expect(read.stock).toEqual(old.stock);
    expect(read.recipes.s1).toEqual({ id: 's1', ...old.recipes.s1 });
    expect(read.orders.parts).toEqual(old.rack);
    const { anchor, stockId, ...same } = old.parts.p1;
    expect(read.parts.p1).toEqual({
      ...same,
      stock: stockId,
      hang: { on: 'anchor', anchor: { kind: anchor } },
      motion: null,
      worn: null,
      occludes: false,
      layer: 'main',
      wears: {},
      follow: { place: true, yaw: true, pitch: true, roll: true, upright: false, size: null, trail: null },
    });
    expect(read.parts.p2.hang).toBeNull();
    // it hid with the whole bust, and still does
    expect(read.parts['head-block']).toMatchObject({ kind: 'occluder', region: 'bust', growMm: 0, widenMm: 0 });
  });

  test('schema 4: all as it was, and a cast of nobody', () => {
    const old = sample('schema-4');
    const read = readPiece(old);
    // what parts gained since has a value of its own
    expect(read.parts).toMatchObject(old.parts);
    const later = since8(old);
    expect({ ...read, parts: old.parts }).toEqual({
      ...later,
      schema: PIECE_SCHEMA,
      settings: { ...later.settings, wearer: null },
      forms: {},
      takes: {},
      finishes: {},
    });
    expect(readEdits({ schema: 4, edits: [{ kind: 'settings', set: { form: 'S' } }] }, read)).toEqual([
      { kind: 'settings', set: { form: 'S' } },
    ]);
  });

  test('schema 5: all as it was, and no takes of its own', () => {
    const old = sample('schema-5');
    expect(old.forms.f1.name).toBe('Tall Ines');
    const read = readPiece(old);
    const { finer, body, ...ines } = read.forms.f1;
    expect(ines).toEqual(old.forms.f1);
    expect(new Set([...Object.values(finer), ...Object.values(body)])).toEqual(new Set([null]));
    expect(read.parts).toMatchObject(old.parts);
    expect({ ...read, forms: old.forms, parts: old.parts }).toEqual({ ...since8(old), schema: PIECE_SCHEMA, takes: {}, finishes: {} });
  });

  test('schema 6: all as it was, and no finishes', () => {
    const old = sample('schema-6');
    expect([old.schema, old.takes.t1.name, old.forms.f1.body.stature]).toEqual([6, 'A nod', 1790]);
    expect(readPiece(old)).toEqual({ ...since8(old), schema: PIECE_SCHEMA, finishes: {} });
  });

  test('schema 7: finishes and mattes as they were; no matte grows, and the light is the usual', () => {
    const old = sample('schema-7');
    expect([old.schema, old.finishes.fin1.maps.base.turnDeg, old.layers.again.matte]).toEqual([
      7,
      90,
      { name: 'person', invert: false, featherPx: 2 },
    ]);
    expect(readPiece(old)).toEqual({ ...since8(old), schema: PIECE_SCHEMA });
  });

  test('schema 8: light and mattes as they were; no colourways', () => {
    const old = sample('schema-8');
    expect([old.schema, old.settings.surroundings.turnDeg, old.layers.again.matte.growPx]).toEqual([8, 30, 3]);
    expect(readPiece(old)).toEqual({ ...since9(old), schema: PIECE_SCHEMA });
  });

  test('reading leaves what it reads as it is, and reads its own the same', () => {
    const old = sample('schema-3');
    const before = JSON.stringify(old);
    const read = readPiece(old);
    expect(JSON.stringify(old)).toBe(before);
    expect(readPiece(JSON.parse(JSON.stringify(read)))).toEqual(read);
  });
});

describe('old edits', () => {
  const work = sample('schema-3-work') as { start: unknown; edits: { kind: string; edits?: { kind: string }[] }[]; end: unknown }[];
  test('the sample holds every kind there was', () => {
    const kinds = new Set(work.flatMap((w) => w.edits.flatMap((e) => [e.kind, ...(e.edits ?? []).map((x) => x.kind)])));
    expect(kinds.size).toBe(22);
  });
  test.each(work.map((w, i) => [i, w] as const))('row of work %i: its edits of schema 3 lead to what they led to then', (_, w) => {
    const start = readPiece(w.start);
    const edits = readEdits(w.edits, start);
    expect(edits).toHaveLength(w.edits.length);
    expect(sameValue(edits.reduce(applyEdit, start), readPiece(w.end))).toBe(true);
  });
  test('edits say their schema, and come back as they were; newer ones and broken ones are refused in words', () => {
    const edits: Edit[] = [{ kind: 'settings', set: { name: 'x' } }];
    expect(storeEdits(edits)).toEqual({ schema: PIECE_SCHEMA, edits });
    expect(readEdits(storeEdits(edits), createPiece('a'))).toEqual(edits);
    expect(() => readEdits({ schema: 99, edits }, createPiece('a'))).toThrow(/reads up to 9/);
    expect(() => readEdits({ schema: 4, edits: [edits[0], { kind: 'fly' }] }, createPiece('a'))).toThrow(/Edit 2 is broken/);
    expect(() => readEdits([{ kind: 'fly' }], createPiece('a'))).toThrow(PieceFormatError);
  });
});

describe('readPiece', () => {
  const x = createPiece('x');
  const block = x.parts['head-block'];
  const part = (change: object) => ({ ...x, parts: { 'head-block': { ...block, ...change } } });
  test.each<[string, unknown]>([
    ['nothing', null],
    ['a number', 4],
    ['an empty object', {}],
    ['a stranger’s field', { ...x, extra: 1 }],
    ['a rack that misses a part', { ...x, orders: { ...x.orders, parts: [] } }],
    ['a part twice in the rack', { ...x, orders: { ...x.orders, parts: ['head-block', 'head-block'] } }],
    ['a part under a wrong id', { ...x, parts: { other: block }, orders: { ...x.orders, parts: ['other'] } }],
    ['a part in a layer that is not there', part({ layer: 'nowhere' })],
    ['a part that hangs in itself', part({ kind: 'group', hang: { on: 'part', part: 'head-block' } })],
    ['NaN in a place', part({ offset: { positionM: [Number.NaN, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } })],
    ['a size of zero', part({ offset: { positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [0, 1, 1] } })],
    ['a name with a line break', { ...x, settings: { ...x.settings, name: 'a\nb' } }],
    [
      'a recipe of no file',
      { ...x, recipes: { s: { id: 's', steps: [{ id: 'a', on: true, step: 'prune', settings: {} }], result: sha('a') } } },
    ],
  ])('refuses %s and says where', (_, junk) => expect(() => readPiece(junk)).toThrow(PieceFormatError));
  test('refuses a newer schema without touching it', () => expect(() => readPiece({ ...x, schema: 99 })).toThrow(/reads up to 9/));
  test('a new piece is one', () => expect(Piece.parse(x)).toEqual(x));
});
