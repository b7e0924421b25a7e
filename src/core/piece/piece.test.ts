import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arbitraryWork, SINGLE_KINDS } from './arbitrary';
import { BatchEdit } from './edits';
import {
  applyEdit,
  commit,
  createHistory,
  createModelItem,
  createModelPart,
  createPiece,
  drawnModel,
  Edit,
  EditError,
  entitiesOf,
  type History,
  invertEdit,
  mergeEdits,
  NO_STOCK_CREDIT,
  Piece,
  PieceFormatError,
  readPiece,
  redo,
  SingleEdit,
  takeMine,
  takeMineAsCopies,
  undo,
  usedFile,
} from './index';

const sha = (c: string) => c.repeat(64);
const stocked = (): Piece => {
  const p = applyEdit(createPiece('Crown'), {
    kind: 'add-stock',
    item: createModelItem({ id: 's1', name: 'crown.glb', original: sha('a'), model: sha('b'), bytes: 10 }),
  });
  return applyEdit(p, { kind: 'add-part', part: createModelPart('p1', 's1', 'Crown'), index: 1 });
};

describe('the generator', () => {
  test('covers every member of the edit union', () => {
    const inSchema = SingleEdit.options.map((o) => o.shape.kind.value).sort();
    expect([...SINGLE_KINDS].sort()).toEqual(inSchema);
    expect(Edit.options).toHaveLength(inSchema.length + 1);
    expect(BatchEdit.shape.kind.value).toBe('batch');
  });

  test('draws every kind so that it changes the document at least once', () => {
    const changed = new Set<string>();
    fc.assert(
      fc.property(arbitraryWork, ({ start, edits }) => {
        let p = start;
        for (const e of edits) {
          const next = applyEdit(p, e);
          if (JSON.stringify(next) !== JSON.stringify(p)) changed.add(e.kind);
          p = next;
        }
      }),
      { seed: 11, numRuns: 300 },
    );
    expect([...changed].sort()).toEqual([...SINGLE_KINDS, 'batch'].sort());
  });
});

describe('properties of any work', () => {
  const run = (check: (w: { start: Piece; edits: Edit[] }) => void) =>
    fc.assert(fc.property(arbitraryWork, check), { seed: 3, numRuns: 200 });

  test('every document along the way is valid, and JSON there and back is the identity', () =>
    run(({ start, edits }) => {
      const end = edits.reduce(applyEdit, start);
      expect(Piece.parse(end)).toEqual(end);
      expect(readPiece(JSON.parse(JSON.stringify(end)))).toEqual(end);
      expect(edits.map((e) => Edit.parse(JSON.parse(JSON.stringify(e))))).toEqual(edits);
    }));

  test('undoing all gives the document back exactly, redoing all gives the end again', () =>
    run(({ start, edits }) => {
      let h: History = edits.reduce(commit, createHistory(start));
      const end = h.doc;
      const back: Edit[] = [];
      for (let s = undo(h); s; s = undo(h)) {
        h = s.history;
        back.push(s.edit);
      }
      expect(h.doc).toEqual(start);
      // the same edits, sent to the server, arrive at the same place
      expect(back.reduce(applyEdit, end)).toEqual(start);
      for (let s = redo(h); s; s = redo(h)) h = s.history;
      expect(h.doc).toEqual(end);
    }));

  test('an edit never changes the piece it is given', () =>
    run(({ start, edits }) => {
      let p = start;
      for (const e of edits) {
        const before = JSON.stringify(p);
        const next = applyEdit(p, e);
        expect(JSON.stringify(p)).toBe(before);
        p = next;
      }
    }));

  test('edits on different entities commute', () =>
    run(({ start, edits }) => {
      const p = edits.slice(0, -2).reduce(applyEdit, start);
      const [a, b] = edits.slice(-2);
      if (!a || !b || entitiesOf(a).some((x) => entitiesOf(b).includes(x))) return;
      const kinds = [a, b].flatMap((e) => (e.kind === 'batch' ? e.edits.map((x) => x.kind) : [e.kind]));
      // the place in the rack and the use of a file bind parts that are not the same entity
      if (kinds.some((k) => ['add-part', 'remove-part', 'move-part', 'remove-stock', 'add-stock'].includes(k))) return;
      expect(applyEdit(applyEdit(p, a), b)).toEqual(applyEdit(applyEdit(p, b), a));
    }));
});

describe('applyEdit', () => {
  test.each<[string, Edit, string]>([
    ['a missing part', { kind: 'show-part', id: 'nope', visible: true }, 'edit/missing'],
    ['a part id that is taken', { kind: 'add-part', part: createModelPart('p1', 's1', 'Again'), index: 0 }, 'edit/taken'],
    ['a part whose file is missing', { kind: 'add-part', part: createModelPart('p2', 's9', 'Lost'), index: 0 }, 'edit/missing'],
    ['a file a part wears', { kind: 'remove-stock', id: 's1' }, 'edit/in-use'],
    [
      'placing an occluder',
      { kind: 'place-part', id: 'head-block', offset: { positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } },
      'edit/kind',
    ],
    ['an inherited name', { kind: 'show-part', id: 'constructor', visible: true }, 'edit/missing'],
  ])('refuses %s', (_, edit, code) => {
    expect(() => applyEdit(stocked(), edit)).toThrow(EditError);
    try {
      applyEdit(stocked(), edit);
    } catch (e) {
      expect((e as EditError).code).toBe(code);
    }
  });

  test('a locked part stays where it is until it is unlocked', () => {
    const locked = applyEdit(stocked(), { kind: 'lock-part', id: 'p1', locked: true });
    expect(() => applyEdit(locked, { kind: 'remove-part', id: 'p1' })).toThrow(/Crown is locked/);
    expect(
      applyEdit(applyEdit(locked, { kind: 'lock-part', id: 'p1', locked: false }), { kind: 'remove-part', id: 'p1' }).parts.p1,
    ).toBeUndefined();
  });

  test('an edit that throws half way through a batch leaves no trace in the history', () => {
    const h = createHistory(stocked());
    expect(() =>
      commit(h, {
        kind: 'batch',
        edits: [
          { kind: 'rename', name: 'Half' },
          { kind: 'remove-stock', id: 's1' },
        ],
      }),
    ).toThrow(EditError);
    expect(h.doc.name).toBe('Crown');
  });

  test('invertEdit of a removal knows the place in the rack', () => {
    const p = applyEdit(stocked(), { kind: 'move-part', id: 'p1', index: 0 });
    expect(invertEdit(p, { kind: 'remove-part', id: 'p1' })).toMatchObject({ kind: 'add-part', index: 0 });
  });
});

describe('readPiece', () => {
  test.each<[string, unknown]>([
    ['nothing', null],
    ['a number', 4],
    ['an empty object', {}],
    ['a stranger’s field', { ...createPiece('x'), extra: 1 }],
    ['a rack that misses a part', { ...createPiece('x'), rack: [] }],
    ['a part twice in the rack', { ...createPiece('x'), rack: ['head-block', 'head-block'] }],
    ['a part under a wrong id', { ...createPiece('x'), parts: { other: createPiece('x').parts['head-block'] }, rack: ['other'] }],
    [
      'NaN in a place',
      {
        ...stocked(),
        parts: {
          ...stocked().parts,
          p1: { ...stocked().parts.p1, offset: { positionM: [Number.NaN, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } },
        },
      },
    ],
    [
      'a size of zero',
      {
        ...stocked(),
        parts: { ...stocked().parts, p1: { ...stocked().parts.p1, offset: { positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [0, 1, 1] } } },
      },
    ],
    ['a name with a line break', { ...createPiece('x'), name: 'a\nb' }],
    ['a hash that is none', { ...stocked(), stock: { s1: { ...stocked().stock.s1, model: '../../etc' } } }],
  ])('refuses %s and says where', (_, junk) => {
    expect(() => readPiece(junk)).toThrow(PieceFormatError);
  });
  test('refuses a newer schema without touching it', () =>
    expect(() => readPiece({ ...createPiece('x'), schema: 99 })).toThrow(/reads up to 3/));
  test('a document of schema 1 gets no recipes, nothing stated, an unknown licence; its parts stay', () => {
    const { recipes: _none, ...old } = { ...stocked(), schema: 1 };
    const item = { id: 's1', name: 'crown.glb', kind: 'model', original: sha('a'), model: sha('b'), bytes: 10 };
    const read = readPiece({ ...old, stock: { s1: item } });
    expect(read).toEqual(stocked());
    expect(read.recipes).toEqual({});
    expect(read.stock.s1).toMatchObject({ stated: null, dismissed: [], credit: { licence: '' } });
  });
});

describe('schema 3', () => {
  test('a picture of schema 2 names itself as what it is used as, and hangs only once it has a plane', () => {
    const picture = { id: 's2', name: 'map.png', kind: 'picture', original: sha('c'), bytes: 7 };
    const read = readPiece({ ...stocked(), schema: 2, stock: { ...stocked().stock, s2: picture } });
    expect(read.stock.s2).toMatchObject({ kind: 'picture', model: sha('c'), dismissed: [] });
    expect(drawnModel(read, 's2')).toBeNull();
    const recipe = { steps: [{ id: 'a', on: true, step: 'plane' as const, settings: { widthMm: 40 } }], result: sha('d') };
    expect(drawnModel(applyEdit(read, { kind: 'set-recipe', id: 's2', recipe }), 's2')).toBe(sha('d'));
  });
  test('a sound does not hang, and takes no step of a model', () => {
    const sound = {
      id: 's3',
      name: 'bell.wav',
      kind: 'sound' as const,
      original: sha('e'),
      model: sha('e'),
      bytes: 7,
      credit: NO_STOCK_CREDIT,
      dismissed: [],
    };
    const piece = applyEdit(stocked(), { kind: 'add-stock', item: sound });
    const part = createModelPart('p9', 's3', 'Bell');
    expect(() => applyEdit(piece, { kind: 'add-part', part, index: 0 })).toThrow(/cannot hang/);
    const weld = { steps: [{ id: 'a', on: true, step: 'mend' as const, settings: { ops: ['weld' as const] } }], result: sha('f') };
    expect(() => applyEdit(piece, { kind: 'set-recipe', id: 's3', recipe: weld })).toThrow(/no step for it/);
    const trim = { steps: [{ id: 'a', on: true, step: 'trim' as const, settings: { fromS: 0, toS: 1 } }], result: sha('f') };
    const trimmed = applyEdit(piece, { kind: 'set-recipe', id: 's3', recipe: trim });
    expect(usedFile(trimmed, 's3')).toBe(sha('f'));
    // the document itself refuses what an edit would
    expect(() => readPiece({ ...piece, recipes: { s3: weld } })).toThrow(/not for a sound/);
  });
});

describe('two people edit', () => {
  const base = stocked();
  const place = (x: number): Edit => ({
    kind: 'place-part',
    id: 'p1',
    offset: { positionM: [x, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] },
  });

  test('edits on other entities are replayed', () => {
    const theirs: Edit[] = [{ kind: 'rename', name: 'Theirs' }];
    const m = mergeEdits(theirs.reduce(applyEdit, base), theirs, [place(1)]);
    expect(m.contested).toEqual([]);
    expect(m.doc.name).toBe('Theirs');
    expect(m.doc.parts.p1).toMatchObject({ offset: { positionM: [1, 0, 0] } });
  });

  test('edits on the same entity wait for a choice, with all that stand on them', () => {
    const theirs = [place(2)];
    const mine: Edit[] = [place(1), { kind: 'rename', name: 'Mine' }, { kind: 'show-part', id: 'p1', visible: false }];
    const m = mergeEdits(theirs.reduce(applyEdit, base), theirs, mine);
    expect(m.contested).toEqual([mine[0], mine[2]]);
    const myDoc = mine.reduce(applyEdit, base);
    const won = applyEdit(m.doc, takeMine(m.doc, myDoc, m.contested));
    expect(won).toEqual(myDoc);
    const both = applyEdit(
      m.doc,
      takeMineAsCopies(m.doc, myDoc, m.contested, () => 'copy'),
    );
    expect(both.parts.p1).toMatchObject({ offset: { positionM: [2, 0, 0] }, visible: true });
    expect(both.parts.copy).toMatchObject({ name: 'Crown, mine', offset: { positionM: [1, 0, 0] }, visible: false });
    expect(() => Piece.parse(both)).not.toThrow();
  });

  test('what they deleted and I changed comes back when I choose mine', () => {
    const theirs: Edit[] = [
      { kind: 'remove-part', id: 'p1' },
      { kind: 'remove-stock', id: 's1' },
    ];
    const doc = theirs.reduce(applyEdit, base);
    const m = mergeEdits(doc, theirs, [place(1)]);
    const won = applyEdit(m.doc, takeMine(m.doc, applyEdit(base, place(1)), m.contested));
    expect(won.parts.p1).toMatchObject({ offset: { positionM: [1, 0, 0] } });
    expect(won.stock.s1).toBeDefined();
  });

  test('property: whichever is chosen, the document stays valid', () =>
    fc.assert(
      fc.property(arbitraryWork, arbitraryWork, (a, b) => {
        const apply = (p: Piece, edits: Edit[]) =>
          edits.reduce<[Piece, Edit[]]>(
            ([q, done], e) => {
              try {
                return [applyEdit(q, e), [...done, e]];
              } catch {
                return [q, done];
              }
            },
            [p, []],
          );
        const [theirDoc, theirs] = apply(stocked(), a.edits);
        const [myDoc, mine] = apply(stocked(), b.edits);
        const m = mergeEdits(theirDoc, theirs, mine);
        let n = 0;
        for (const extra of [takeMine(m.doc, myDoc, m.contested), takeMineAsCopies(m.doc, myDoc, m.contested, () => `c${n++}`)])
          Piece.parse(applyEdit(m.doc, extra));
      }),
      { seed: 5, numRuns: 150 },
    ));
});
