import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arbitraryEdits } from './arbitrary';
import {
  add,
  applyEdit,
  batch,
  change,
  changedEntities,
  changePart,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  type Edit,
  EditError,
  Entities,
  mergeEdits,
  onPart,
  order,
  PIECE_KIND,
  Piece,
  remove,
  type SingleEdit,
  sameValue,
  setRecipe,
  settings,
  spellOut,
  takeMine,
  takeMineAsCopies,
  touchedByEdit,
} from './index';

const sha = (c: string) => c.repeat(64);
const item = (id: string) => createModelItem({ id, name: `${id}.glb`, original: sha('a'), model: sha('b'), bytes: 10 });
const base = applyEdit(createPiece('Crown'), batch([add('stock', item('s1')), add('parts', createModelPart('p1', 's1', 'Crown'))]));
const place = (x: number): SingleEdit => changePart('p1', { offset: { positionM: [x, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } });
const writes = (edits: Edit[]) => edits.flatMap((e) => touchedByEdit(e).writes);
const meet = (theirs: Edit[], mine: Edit[], from = base) => {
  const doc = theirs.reduce(applyEdit, from);
  return { ...mergeEdits(doc, writes(theirs), mine), mine: mine.reduce(applyEdit, from) };
};
const won = (m: ReturnType<typeof meet>) => applyEdit(m.doc, takeMine(m.doc, m.mine, m.contested).edit);

describe('two people edit', () => {
  test('other rows, and other fields of one row, are replayed', () => {
    const m = meet([settings({ name: 'Theirs' }), changePart('p1', { name: 'Tiara' })], [place(1), changePart('p1', { visible: false })]);
    expect(m.contested).toEqual([]);
    expect(m.doc).toMatchObject({
      settings: { name: 'Theirs' },
      parts: { p1: { name: 'Tiara', visible: false, offset: { positionM: [1, 0, 0] } } },
    });
  });

  test('what they hung on a part that I took away is not taken along unasked', () => {
    const theirs = add('parts', { ...createGroup('g', 'Group'), hang: onPart('p1') });
    const m = meet([theirs], [remove('parts', 'p1'), settings({ name: 'Mine' })]);
    expect(m.contested).toEqual([remove('parts', 'p1')]);
    expect(Object.keys(m.doc.parts)).toContain('g');
    expect(m.doc.settings.name).toBe('Mine');
    // chosen, it goes
    expect(won(m).parts.g).toBeUndefined();
    // what they hung elsewhere is in nobody's way
    expect(meet([add('parts', createGroup('g', 'Group'))], [remove('parts', 'p1')]).contested).toEqual([]);
  });

  test('the same field waits for a choice; what stands beside it does not', () => {
    const mine: Edit[] = [place(1), settings({ name: 'Mine' }), changePart('p1', { visible: false })];
    const m = meet([place(2)], mine);
    expect(m.contested).toEqual([mine[0]]);
    expect(m.doc).toMatchObject({ settings: { name: 'Mine' }, parts: { p1: { visible: false, offset: { positionM: [2, 0, 0] } } } });
    expect(sameValue(won(m), m.mine)).toBe(true);
    const both = applyEdit(
      m.doc,
      takeMineAsCopies(m.doc, m.mine, m.contested, () => 'copy'),
    );
    expect(both.parts.p1).toMatchObject({ offset: { positionM: [2, 0, 0] } });
    expect(both.parts.copy).toMatchObject({ name: 'Crown, mine', offset: { positionM: [1, 0, 0] } });
  });

  test('two who hang the same file are not in each other’s way', () => {
    const m = meet([add('parts', createModelPart('a', 's1', 'A'))], [add('parts', createModelPart('b', 's1', 'B'))]);
    expect(m.contested).toEqual([]);
    expect(m.doc.orders.parts).toEqual(['head-block', 'p1', 'a', 'b']);
  });

  test('what they deleted and I changed comes back when I choose mine, recipe and all', () => {
    const from = applyEdit(
      base,
      batch(setRecipe(base, 's1', { steps: [{ id: 'a', on: true, step: 'prune', settings: {} }], result: sha('c') })),
    );
    const theirs = [remove('parts', 'p1'), spellOut(applyEdit(from, remove('parts', 'p1')), remove('stock', 's1'))];
    const m = meet(theirs, [place(1)], from);
    expect(m.contested).toHaveLength(1);
    const mine = won(m);
    expect(mine.parts.p1).toMatchObject({ offset: { positionM: [1, 0, 0] } });
    expect(mine.stock.s1).toBeDefined();
    expect(mine.recipes.s1.result).toBe(sha('c'));
  });

  test('mine was a removal: it is gone', () => {
    const from = applyEdit(base, add('stock', item('s2')));
    const m = meet([change('stock', 's2', { name: 'renamed.glb' })], [remove('stock', 's2')], from);
    expect(m.contested).toHaveLength(1);
    expect(won(m).stock.s2).toBeUndefined();
  });

  test('where theirs has another kind of part under the same id, mine comes in its place', () => {
    const mineOf = (name: string) => add('parts', { ...createGroup('x', name) });
    const theirs = add('parts', { ...createModelPart('x', 's1', 'Theirs'), locked: true });
    const m = meet([theirs], [mineOf('Mine')]);
    expect(m.contested).toHaveLength(1);
    expect(m.doc.parts.x.name).toBe('Theirs');
    expect(won(m).parts.x).toMatchObject({ kind: 'group', name: 'Mine', locked: false });
  });

  test('my removal of what another hung meanwhile stays undone, and is said', () => {
    const from = applyEdit(base, add('stock', item('s2')));
    const m = meet([add('parts', createModelPart('new', 's2', 'New'))], [remove('stock', 's2')], from);
    const { edit, kept } = takeMine(m.doc, m.mine, m.contested);
    expect(kept).toEqual([expect.stringContaining('s2.glb is used by part New')]);
    expect(applyEdit(m.doc, edit).stock.s2).toBeDefined();
  });

  test('a recipe of theirs is not written over by mine without a question', () => {
    const mineSteps = setRecipe(base, 's1', { steps: [{ id: 'm', on: true, step: 'ground', settings: {} }], result: sha('1') });
    const theirSteps = setRecipe(base, 's1', { steps: [{ id: 't', on: true, step: 'prune', settings: {} }], result: sha('2') });
    const m = meet(theirSteps, mineSteps);
    expect(m.contested).toHaveLength(1);
    expect(m.doc.recipes.s1.result).toBe(sha('2'));
    expect(won(m).recipes.s1.result).toBe(sha('1'));
  });

  test('order: mine wins where I choose it', () => {
    const from = applyEdit(base, add('parts', createGroup('g', 'G')));
    const m = meet([order('parts', 'g', 0)], [order('parts', 'p1', 0)], from);
    expect(m.contested).toHaveLength(1);
    expect(won(m).orders.parts).toEqual(m.mine.orders.parts);
  });

  test('copies of what hangs together hang together', () => {
    const from = applyEdit(base, batch([add('parts', createGroup('g', 'G')), changePart('p1', { hang: onPart('g') })]));
    const m = meet([changePart('g', { name: 'Theirs' }), place(2)], [changePart('g', { name: 'Mine' }), place(1)], from);
    let n = 0;
    const both = applyEdit(
      m.doc,
      takeMineAsCopies(m.doc, m.mine, m.contested, () => `c${n++}`),
    );
    const copies = Object.values(both.parts).filter((p) => p.name.endsWith(', mine'));
    const group = copies.find((p) => p.kind === 'group');
    expect(copies.find((p) => p.kind === 'model')?.hang).toEqual(onPart(group?.id as string));
  });

  test('mine of a locked part of theirs, and mine that locks', () => {
    const m = meet([place(2), changePart('p1', { locked: true })], [place(1)]);
    expect(won(m).parts.p1).toMatchObject({ offset: { positionM: [1, 0, 0] }, locked: false });
    const n = meet([changePart('p1', { locked: false }), place(2)], [place(1), changePart('p1', { locked: true })]);
    expect(won(n).parts.p1).toMatchObject({ offset: { positionM: [1, 0, 0] }, locked: true });
    // both locked it: it is opened for mine and locked again
    const both = meet([place(2), changePart('p1', { locked: true })], [place(1), changePart('p1', { locked: true })]);
    expect(won(both).parts.p1).toMatchObject({ offset: { positionM: [1, 0, 0] }, locked: true });
    // nobody did: it stays open
    expect(won(meet([place(2)], [place(1)])).parts.p1.locked).toBe(false);
  });
});

describe('properties of any conflict', () => {
  const work = arbitraryEdits(PIECE_KIND, base, 25) as fc.Arbitrary<{ start: Piece; edits: Edit[] }>;
  /** What fits of some edits, and the document after it. */
  const fitting = (from: Piece, edits: Edit[]) =>
    edits.reduce<{ doc: Piece; edits: Edit[] }>(
      (at, e) => {
        try {
          const spelled = spellOut(at.doc, e);
          return { doc: applyEdit(at.doc, spelled), edits: [...at.edits, spelled] };
        } catch (error) {
          if (error instanceof EditError) return at;
          throw error;
        }
      },
      { doc: from, edits: [] },
    );
  const pairs = (check: (m: ReturnType<typeof meet>, theirs: Edit[], theirDoc: Piece, mine: Edit[]) => void) =>
    fc.assert(
      fc.property(work, work, (a, b) => {
        const theirs = fitting(base, a.edits);
        const mine = fitting(base, b.edits);
        const m = { ...mergeEdits(theirs.doc, writes(theirs.edits), mine.edits), mine: mine.doc };
        check(m, theirs.edits, theirs.doc, mine.edits);
      }),
      { seed: 5, numRuns: 120 },
    );

  test('theirs stands wherever mine is only replayed', () =>
    pairs((m, theirs, theirDoc) => {
      const changed = new Entities(writes(theirs));
      for (const e of changedEntities(theirDoc, m.doc)) expect(changed.meets(e), e).toBe(false);
    }));

  /** A document as rows that are there and the values of their fields; what stands where in an order is told by neighbours elsewhere. */
  const flat = (p: Piece): Map<string, string> => {
    const out = new Map(Object.entries(p.settings).map(([key, value]) => [`settings.${key}`, JSON.stringify(value)]));
    for (const table of Object.keys(PIECE_KIND.tables))
      for (const [id, row] of Object.entries((p as unknown as Record<string, Record<string, object>>)[table])) {
        out.set(`${table} ${id}`, 'there');
        for (const [field, value] of Object.entries(row)) out.set(`${table} ${id}.${field}`, JSON.stringify(value));
      }
    return out;
  };
  const apart = (a: Piece, b: Piece): string[] => {
    const [x, y] = [flat(a), flat(b)];
    return [...new Set([...x.keys(), ...y.keys()])].filter((k) => x.get(k) !== y.get(k));
  };

  test('as a slow model of two replicas has it: field by field, theirs where they changed it, else mine; what meets is asked about', () => {
    const seen = { replayed: 0, contested: 0 };
    pairs((m, theirs, theirDoc, mine) => {
      let doc = base;
      const theirFields = new Set<string>();
      for (const e of theirs) {
        const next = applyEdit(doc, e);
        for (const f of apart(doc, next)) theirFields.add(f);
        doc = next;
      }
      doc = base;
      for (const e of mine) {
        const next = applyEdit(doc, e);
        const fields = apart(doc, next);
        // what stands on an edit that is asked about is asked about with it
        if (fields.some((f) => theirFields.has(f))) expect(m.contested, JSON.stringify(e)).toContain(e);
        if (m.contested.includes(e)) for (const f of fields) theirFields.add(f);
        doc = next;
      }
      const [from, their, got] = [flat(base), flat(theirDoc), flat(m.doc)];
      const my = flat(m.replayed.reduce(applyEdit, base));
      const expected = new Map<string, string>();
      for (const k of new Set([...from.keys(), ...their.keys(), ...my.keys()])) {
        const value = their.get(k) === from.get(k) ? my.get(k) : their.get(k);
        if (value !== undefined) expected.set(k, value);
      }
      expect(Object.fromEntries(got)).toEqual(Object.fromEntries(expected));
      seen.replayed += m.replayed.length;
      seen.contested += m.contested.length;
    });
    expect(seen.replayed).toBeGreaterThan(100);
    expect(seen.contested).toBeGreaterThan(40);
  });

  test('whichever is chosen, the document is valid; with mine, what both changed is as mine has it', () => {
    let compared = 0;
    pairs((m) => {
      const { edit, kept } = takeMine(m.doc, m.mine, m.contested);
      const mine = applyEdit(m.doc, edit);
      Piece.parse(mine);
      let n = 0;
      Piece.parse(
        applyEdit(
          m.doc,
          takeMineAsCopies(m.doc, m.mine, m.contested, () => `c${n++}`),
        ),
      );
      if (kept.length > 0) return;
      for (const w of new Set(writes(m.contested))) {
        const [, table, id, field] = /^(\w+):([^.]+)(?:\.(.+))?$/.exec(w) ?? [];
        if (table === 'orders') continue;
        const of = (p: Piece) => {
          if (table === 'settings') return p.settings[id as 'name'];
          const row = (p[table as 'parts'] as Record<string, unknown>)[id] as Record<string, unknown> | undefined;
          return row && field ? row[field] : row;
        };
        compared++;
        expect(sameValue(of(mine) ?? null, of(m.mine) ?? null), w).toBe(true);
      }
    });
    expect(compared).toBeGreaterThan(50);
  });
});
