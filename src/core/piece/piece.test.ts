/** Properties of any work on a piece, by the registry's own generator; and of the edits by hand. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arbitraryEdits, EDIT_KINDS } from './arbitrary';
import {
  add,
  anchorOf,
  applyEdit,
  batch,
  branchOf,
  change,
  changedEntities,
  changePart,
  commit,
  commitOn,
  createGroup,
  createHistory,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  describeEdit,
  Edit,
  EditError,
  Entities,
  entitiesOf,
  type History,
  invertEdit,
  NO_STOCK_CREDIT,
  onPart,
  order,
  PART_KINDS,
  PIECE_KIND,
  Piece,
  readPiece,
  redo,
  remove,
  type SingleEdit,
  sameValue,
  setRecipe,
  settings,
  singles,
  spellOut,
  TABLES,
  touchedByEdit,
  undo,
  usedFile,
} from './index';
import { idsOf, tableOf } from './table';

const sha = (c: string) => c.repeat(64);
const stocked = (): Piece =>
  applyEdit(
    createPiece('Crown'),
    batch([
      add('stock', createModelItem({ id: 's1', name: 'crown.glb', original: sha('a'), model: sha('b'), bytes: 10 })),
      add('parts', createModelPart('p1', 's1', 'Crown')),
    ]),
  );
const place = (id: string, x: number): SingleEdit =>
  changePart(id, { offset: { positionM: [x, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } });

/** With a layer for screens and a picture: every kind of part finds what it needs. */
const furnished = () =>
  applyEdit(
    stocked(),
    batch([
      add('layers', { id: 'back', kind: 'screen', name: null, visible: true }, 1),
      add('stock', {
        id: 'pic',
        name: 'a.png',
        kind: 'picture',
        original: sha('d'),
        model: sha('e'),
        bytes: 1,
        credit: NO_STOCK_CREDIT,
        dismissed: [],
      }),
    ]),
  );
const work = arbitraryEdits(PIECE_KIND, furnished()) as fc.Arbitrary<{ start: Piece; edits: Edit[] }>;
const run = (check: (w: { start: Piece; edits: Edit[] }) => void, numRuns = 120) =>
  fc.assert(fc.property(work, check), { seed: 3, numRuns });

describe('the generator', () => {
  test('draws every kind of edit on every table, and every kind of part, so that it changes the document', () => {
    const changed = new Set<string>();
    const kinds = new Set<string>();
    run(({ start, edits }) => {
      let p = start;
      for (const e of edits) {
        for (const s of singles(e)) {
          const next = applyEdit(p, s);
          if (next !== p) changed.add('table' in s ? `${s.kind} ${s.table}` : s.kind);
          p = next;
        }
        for (const part of Object.values(p.parts)) kinds.add(part.kind);
      }
    }, 900);
    const wanted = EDIT_KINDS.flatMap((k) =>
      k === 'settings' ? [k] : Object.entries(TABLES).flatMap(([t, d]) => (k === 'order' && !d.order ? [] : [`${k} ${t}`])),
    );
    expect([...changed].sort()).toEqual([...wanted].sort());
    expect([...kinds].sort()).toEqual([...PART_KINDS].sort());
  });
});

describe('properties of any work', () => {
  test('every document along the way is valid, and JSON there and back is the identity', () =>
    run(({ start, edits }) => {
      const end = edits.reduce(applyEdit, start);
      expect(Piece.parse(end)).toEqual(end);
      expect(readPiece(JSON.parse(JSON.stringify(end)))).toEqual(end);
      expect(edits.map((e) => Edit.parse(JSON.parse(JSON.stringify(e))))).toEqual(edits);
    }, 60));

  test('each edit is undone exactly where it was made', () =>
    run(({ start, edits }) => {
      let p = start;
      for (const e of edits) {
        const next = applyEdit(p, e);
        expect(sameValue(applyEdit(next, invertEdit(p, e)), p), JSON.stringify(e)).toBe(true);
        p = next;
      }
    }));

  test('undoing all gives the document back, redoing all gives the end again; the server comes to the same', () =>
    run(({ start, edits }) => {
      let h: History = edits.reduce(commit, createHistory(start));
      const end = h.doc;
      const back: Edit[] = [];
      for (let s = undo(h); s; s = undo(h)) {
        h = s.history;
        back.push(s.edit);
        expect(s.dropped).toEqual([]);
      }
      expect(sameValue(h.doc, start)).toBe(true);
      expect(sameValue(back.reduce(applyEdit, end), start)).toBe(true);
      for (let s = redo(h); s; s = redo(h)) h = s.history;
      expect(sameValue(h.doc, end)).toBe(true);
    }));

  test('an edit never changes the piece it is given, and one that changes nothing gives it back', () =>
    run(({ start, edits }) => {
      let p = start;
      for (const e of edits) {
        const before = JSON.stringify(p);
        const next = applyEdit(p, e);
        expect(JSON.stringify(p)).toBe(before);
        // not so a batch that takes back what it did
        const idle = singles(e).reduce<Piece | null>((q, s) => (q && sameValue(applyEdit(q, s), q) ? q : null), p);
        if (idle) expect(next).toBe(p);
        p = next;
      }
    }, 60));

  test('what differs after an edit is what the edit names; nothing differs where it names nothing', () =>
    run(({ start, edits }) => {
      let p = start;
      for (const e of edits) {
        const next = applyEdit(p, e);
        const named = new Entities(touchedByEdit(spellOut(p, e)).writes);
        const differs = changedEntities(p, next);
        for (const c of differs) expect(named.meets(c), `${c} by ${JSON.stringify(e)}`).toBe(true);
        if (!sameValue(p, next)) expect(differs.length).toBeGreaterThan(0);
        p = next;
      }
    }));

  test('no reference dangles (against a slow look at every row)', () =>
    run(({ start, edits }) => {
      const end = edits.reduce(applyEdit, start);
      for (const [table, def] of Object.entries(TABLES))
        for (const row of Object.values(tableOf(end as never, table)))
          for (const reference of def.refers)
            for (const id of idsOf(row, reference)) expect(Object.keys(tableOf(end as never, reference.table))).toContain(id);
    }));

  test('edits that touch nothing in common commute', () => {
    let compared = 0;
    run(({ start, edits }) => {
      const p = edits.slice(0, -2).reduce(applyEdit, start);
      const [a, b] = edits.slice(-2);
      if (!a || !b) return;
      const [ta, tb] = [spellOut(p, a), spellOut(applyEdit(p, a), b)].map(touchedByEdit);
      const [wa, wb] = [new Entities(ta.writes), new Entities(tb.writes)];
      if ([...tb.writes, ...tb.reads].some((e) => wa.meets(e)) || ta.reads.some((e) => wb.meets(e))) return;
      // what comes to a place among others, or leaves it, shifts places: rows are compared then, not orders
      const shifts = [...singles(a), ...singles(b)].some((e) => e.kind === 'add' || e.kind === 'remove' || e.kind === 'order');
      let other: Piece;
      try {
        other = applyEdit(applyEdit(p, b), a);
      } catch (error) {
        if (error instanceof EditError && shifts) return;
        throw error;
      }
      const one = applyEdit(applyEdit(p, a), b);
      compared++;
      expect(sameValue(shifts ? { ...one, orders: 0 } : one, shifts ? { ...other, orders: 0 } : other)).toBe(true);
    }, 200);
    expect(compared).toBeGreaterThan(60);
  });

  test('two replicas that exchange edits of different fields end equal', () => {
    let exchanged = 0;
    const fields = fc.record({
      x: fc.integer({ min: -50, max: 50 }),
      on: fc.boolean(),
      name: fc.constantFrom('A', 'B', 'C'),
      swap: fc.boolean(),
    });
    fc.assert(
      fc.property(fields, ({ x, on, name, swap }) => {
        const mine = [place('p1', x), settings({ form: 'L' })];
        const theirs = [changePart('p1', { name }), changePart('p1', { visible: on }), settings({ name })];
        const [first, second] = swap ? [theirs, mine] : [mine, theirs];
        exchanged++;
        expect(sameValue([...first, ...second].reduce(applyEdit, stocked()), [...second, ...first].reduce(applyEdit, stocked()))).toBe(
          true,
        );
      }),
      { seed: 8, numRuns: 60 },
    );
    expect(exchanged).toBe(60);
  });
});

const codeOf = (work: () => unknown): string | null => {
  try {
    work();
    return null;
  } catch (e) {
    if (e instanceof EditError) return e.code;
    throw e;
  }
};

test('of rows and tables that are not there, or have names that every object inherits, only an EditError comes', () => {
  const p = stocked();
  const ways = { applyEdit, invertEdit, describeEdit, spellOut, touchedByEdit: (_: Piece, e: Edit) => touchedByEdit(e) };
  for (const table of [...Object.keys(TABLES), 'nothing', 'constructor', '__proto__'])
    for (const id of ['nobody', 'constructor', '__proto__', 'toString'])
      for (const single of [
        { kind: 'remove', table, id },
        { kind: 'change', table, id, set: { name: 'x' } },
        { kind: 'order', table, id, at: 0 },
        { kind: 'add', table, row: { id, kind: 'group', name: 'x', hang: onPart(id) } },
      ] as Edit[])
        for (const e of [single, { kind: 'batch', edits: [single] } as Edit])
          for (const [name, way] of Object.entries(ways)) {
            const thrown = codeOf(() => way(p, e));
            if (name === 'applyEdit') expect(thrown, JSON.stringify(e)).not.toBeNull();
          }
});

describe('applyEdit', () => {
  const hung = () => applyEdit(stocked(), batch([add('parts', createGroup('g', 'Hat')), changePart('p1', { hang: onPart('g') })]));
  test.each<[string, () => Piece, Edit, string]>([
    ['a missing part', stocked, changePart('nope', { visible: true }), 'edit/missing'],
    ['a part id that is taken', stocked, add('parts', createModelPart('p1', 's1', 'Again')), 'edit/taken'],
    ['a part whose file is missing', stocked, add('parts', createModelPart('p2', 's9', 'Lost')), 'edit/missing'],
    ['a file a part wears', stocked, remove('stock', 's1'), 'edit/in-use'],
    ['an inherited name', stocked, changePart('constructor', { visible: true }), 'edit/missing'],
    ['a file that is not there', stocked, change('stock', 'nope', { name: 'x' }), 'edit/missing'],
    ['another kind', stocked, { kind: 'change', table: 'parts', id: 'p1', set: { kind: 'group' } } as never, 'edit/kind'],
    ['another id', stocked, { kind: 'change', table: 'parts', id: 'p1', set: { id: 'p2' } } as never, 'edit/kind'],
    ['a field that is none', stocked, { kind: 'change', table: 'parts', id: 'p1', set: { colour: 1 } } as never, 'edit/invalid'],
    [
      'a size of nought',
      stocked,
      changePart('p1', { offset: { positionM: [0, 0, 0], turnRad: [0, 0, 0], size: [0, 1, 1] } }),
      'edit/invalid',
    ],
    ['hanging in itself', stocked, changePart('p1', { hang: onPart('p1') }), 'edit/loop'],
    ['hanging in what hangs in it', hung, changePart('g', { hang: onPart('p1') }), 'edit/loop'],
    [
      'an occluder on the shoulders',
      stocked,
      changePart('head-block', { hang: { on: 'anchor', anchor: { kind: 'shoulders' } } }),
      'edit/kind',
    ],
    ['a part in the camera’s layer', stocked, changePart('p1', { layer: 'camera' }), 'edit/kind'],
    ['a layer that parts stand in', stocked, remove('layers', 'main'), 'edit/in-use'],
    ['an order where there is none', stocked, { kind: 'order', table: 'stock', id: 's1', at: 0 } as never, 'edit/kind'],
  ])('refuses %s', (_, piece, edit, code) => expect(codeOf(() => applyEdit(piece(), edit))).toBe(code));

  test('a locked part refuses all but its name, until it is unlocked', () => {
    const locked = applyEdit(stocked(), changePart('p1', { locked: true }));
    for (const e of [
      place('p1', 1),
      changePart('p1', { visible: false }),
      changePart('p1', { hang: null }),
      changePart('p1', { opacity: 0.5 }),
      remove('parts', 'p1'),
    ])
      expect(
        codeOf(() => applyEdit(locked, e)),
        JSON.stringify(e),
      ).toBe('edit/locked');
    expect(applyEdit(locked, changePart('p1', { name: 'Still' })).parts.p1.name).toBe('Still');
    expect(applyEdit(applyEdit(locked, changePart('p1', { locked: false })), remove('parts', 'p1')).parts.p1).toBeUndefined();
  });

  test('limits of each table are kept', () => {
    const full = {
      ...stocked(),
      parts: Object.fromEntries(Array.from({ length: 500 }, (_, i) => [`x${i}`, { ...createGroup(`x${i}`, 'X') }])),
    } as Piece;
    expect(codeOf(() => applyEdit(full, add('parts', createGroup('more', 'More'))))).toBe('edit/full');
  });

  test('removing a group takes what hangs in it along, and undo brings all back in its place', () => {
    const p = applyEdit(
      hung(),
      add('parts', createSolid('s', 'Brim', { form: 'disc', sizeMm: [10, 10, 1], roundMm: 0, wallMm: 1, open: [] }, onPart('p1')), 1),
    );
    const off = remove('parts', 'g');
    expect(singles(spellOut(p, off)).map((e) => e.kind === 'remove' && e.id)).toEqual(['s', 'p1', 'g']);
    const without = applyEdit(p, off);
    expect(Object.keys(without.parts)).toEqual(['head-block']);
    expect(sameValue(applyEdit(without, invertEdit(p, off)), p)).toBe(true);
    const locked = applyEdit(p, changePart('s', { locked: true }));
    expect(() => applyEdit(locked, off)).toThrow(/Brim is locked/);
  });

  test('a recipe goes with its file, and comes back with it', () => {
    const p = applyEdit(
      stocked(),
      batch([
        remove('parts', 'p1'),
        ...setRecipe(stocked(), 's1', { steps: [{ id: 'a', on: true, step: 'prune', settings: {} }], result: sha('c') }),
      ]),
    );
    const gone = applyEdit(p, remove('stock', 's1'));
    expect(gone.recipes).toEqual({});
    expect(sameValue(applyEdit(gone, invertEdit(p, remove('stock', 's1'))), p)).toBe(true);
  });

  test('an edit that throws half way through a batch leaves no trace in the history', () => {
    const h = createHistory(stocked());
    expect(() => commit(h, batch([settings({ name: 'Half' }), remove('stock', 's1')]))).toThrow(EditError);
    expect(h.doc.settings.name).toBe('Crown');
  });

  test('inverses know places, and unlock what arrived locked', () => {
    const p = applyEdit(stocked(), order('parts', 'p1', 0));
    expect(invertEdit(p, remove('parts', 'p1'))).toMatchObject({ kind: 'add', at: 0 });
    const arrived = add('parts', { ...createModelPart('p2', 's1', 'Shut'), locked: true });
    expect(singles(invertEdit(p, arrived)).map((e) => e.kind)).toEqual(['change', 'remove']);
    expect(() => invertEdit(p, change('stock', 'nope', { name: 'x' }))).toThrow(EditError);
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
    const piece = applyEdit(stocked(), add('stock', sound));
    expect(() => applyEdit(piece, add('parts', createModelPart('p9', 's3', 'Bell')))).toThrow(/cannot hang/);
    const weld = { steps: [{ id: 'a', on: true, step: 'mend' as const, settings: { ops: ['weld' as const] } }], result: sha('f') };
    expect(() => applyEdit(piece, batch(setRecipe(piece, 's3', weld)))).toThrow(/no step for it/);
    const trim = { steps: [{ id: 'a', on: true, step: 'trim' as const, settings: { fromS: 0, toS: 1 } }], result: sha('f') };
    expect(usedFile(applyEdit(piece, batch(setRecipe(piece, 's3', trim))), 's3')).toBe(sha('f'));
    // the document itself refuses what an edit would
    expect(() => readPiece({ ...piece, recipes: { s3: { id: 's3', ...weld } } })).toThrow(/no step for it/);
  });
});

describe('a branch', () => {
  test('is the part and what hangs from it, parents first; what hangs nowhere is in none', () => {
    const p = applyEdit(
      stocked(),
      batch([
        add('parts', createGroup('g', 'Group')),
        changePart('p1', { hang: onPart('g') }),
        add('parts', { ...createGroup('tip', 'Tip'), hang: onPart('p1') }),
        add('parts', { ...createGroup('off', 'Off'), hang: null }),
      ]),
    );
    const ids = (id: string) => branchOf(p, id).map((x) => x.id);
    expect(ids('g')).toEqual(['g', 'p1', 'tip']);
    expect(ids('off')).toEqual(['off']);
    expect(ids('head-block')).toEqual(['head-block']);
    expect(['tip', 'head-block', 'off'].map((id) => anchorOf(p, p.parts[id]))).toEqual(['head', 'head', null]);
  });
});

describe('an order', () => {
  test.each([
    ['twice the same', ['p1', 'p1']],
    ['one too few', ['p1']],
    ['one that is not there', ['p1', 'ghost']],
    ['one too many', ['p1', 'head-block', 'head-block']],
  ])('that lists %s is refused', (_, parts) => {
    const p = stocked();
    expect(() => readPiece({ ...p, orders: { ...p.orders, parts } })).toThrow(/must list every one of the parts exactly once/);
  });
});

describe('words and entities', () => {
  test.each<[Edit, string]>([
    [settings({ name: 'Tiara' }), 'name the piece Tiara'],
    [place('p1', 1), 'place Crown'],
    [changePart('p1', { visible: false }), 'hide Crown'],
    [remove('parts', 'p1'), 'lift off Crown'],
    [changePart('p1', { hang: null }), 'unhang Crown'],
    [change('stock', 's1', { stated: 'headwear' }), 'crown.glb is headwear'],
    [order('parts', 'p1', 0), 'reorder Crown'],
    [batch([settings({ form: 'S' }), place('p1', 1)]), 'place Crown'],
    [settings({ form: 'S' }), 'form S'],
    [change('stock', 's1', { name: 'b.glb' }), 'name the file b.glb'],
    [change('stock', 's1', { stated: null }), 'crown.glb is of no stated kind'],
    [change('stock', 's1', { credit: NO_STOCK_CREDIT }), 'credit of crown.glb'],
    [change('stock', 's1', { dismissed: [] }), 'findings of crown.glb'],
    [change('stock', 's1', { original: sha('c') }), 'replace crown.glb'],
    [remove('stock', 's1'), 'discard crown.glb'],
    [add('recipes', { id: 's1', steps: [], result: sha('c') }), 'mend crown.glb'],
    [settings({ profile: 'light' }), 'profile light'],
    [changePart('p1', { name: 'Tiara' }), 'name the part Tiara'],
    [changePart('p1', { visible: true }), 'show Crown'],
    [changePart('p1', { locked: true }), 'lock Crown'],
    [changePart('p1', { locked: false }), 'unlock Crown'],
    [changePart('p1', { opacity: 0.5 }), 'opacity of Crown'],
    [changePart('p1', { solid: true }), 'draw solid Crown'],
    [changePart('p1', { solid: false }), 'draw as the file says Crown'],
    [changePart('p1', { layer: 'camera' }), 'layer of Crown'],
    [changePart('p1', { hang: onPart('head-block') }), 'hang Crown'],
    [add('parts', createModelPart('p2', 's1', 'Two')), 'hang Two'],
    [change('layers', 'main', { visible: false }), 'hide layer Main'],
    [remove('layers', 'main'), 'take out layer Main'],
    [order('layers', 'main', 0), 'move layer Main'],
  ])('%o: %s', (edit, words) => expect(describeEdit(stocked(), edit)).toBe(words));

  test('fields of one row are apart; a whole row meets each of them', () => {
    expect(entitiesOf(place('p1', 1))).toEqual(['parts:p1.offset', 'parts:p1.id']);
    expect(entitiesOf(add('parts', createModelPart('p2', 's1', 'Two')))).toEqual(['parts:p2', 'stock:s1.id', 'layers:main.id']);
    expect(new Entities(['parts:p1.offset']).meets('parts:p1.name')).toBe(false);
    expect(new Entities(['parts:p1.offset']).meets('parts:p1')).toBe(true);
    expect(new Entities(['parts:p1']).meets('parts:p1.name')).toBe(true);
    expect(new Entities(['parts:p1']).meets('parts:p10.name')).toBe(false);
  });

  test('values are the same whatever the order of their keys', () => {
    expect(sameValue({ a: 1, b: [1, { c: null }] }, { b: [1, { c: null }], a: 1 })).toBe(true);
    expect(sameValue([1, 2], [2, 1])).toBe(false);
    expect(sameValue({ a: undefined }, {})).toBe(false);
    expect(sameValue({}, [])).toBe(false);
  });
});

describe('history', () => {
  test('a step that others made impossible is left out, and the one before it taken', () => {
    let h = commit(createHistory(stocked()), settings({ name: 'Mine' }));
    h = commit(h, add('stock', createModelItem({ id: 's2', name: 'b.glb', original: sha('c'), model: sha('c'), bytes: 1 })));
    // another hangs a part of my file meanwhile
    h = { ...h, doc: applyEdit(h.doc, add('parts', createModelPart('theirs', 's2', 'Theirs'))) };
    const s = undo(h);
    expect(s?.dropped.map((d) => d.label)).toEqual(['bring in b.glb']);
    expect(s?.history.doc.settings.name).toBe('Crown');
    expect(s?.history.undo).toEqual([]);
    expect(undo(s?.history as History)).toBeNull();
  });

  test('a run of edits of the same fields is one step; back where it began it is none, and another act ends it', () => {
    const start = commit(createHistory(stocked()), settings({ name: 'Mine' }));
    let h = commit(start, place('p1', 1));
    for (const x of [2, 3]) h = commitOn(h, place('p1', x));
    expect(h.undo.map((d) => d.label)).toEqual(['name the piece Mine', 'place Crown']);
    expect(undo(h)?.history.doc).toEqual(start.doc);
    expect(redo(undo(h)?.history as History)?.history.doc.parts.p1.offset.positionM[0]).toBe(3);
    expect(commitOn(h, place('p1', 0)).undo).toHaveLength(1);
    expect(commitOn(h, place('p1', 3))).toBe(h);
    // of another field, and after something was undone
    expect(commitOn(h, changePart('p1', { visible: false })).undo).toHaveLength(3);
    const back = undo(commit(h, changePart('p1', { visible: false })))?.history as History;
    expect(commitOn(back, place('p1', 4)).undo).toHaveLength(3);
    // locks come one by one
    const locked = commit(h, changePart('p1', { locked: true }));
    expect(commitOn(locked, changePart('p1', { locked: false })).undo).toHaveLength(4);
  });

  test('at most 500 steps are kept', () => {
    let h = createHistory(stocked());
    for (let i = 1; i <= 510; i++) h = commit(h, place('p1', i));
    expect(h.undo).toHaveLength(500);
    expect(undo(h)?.history.doc.parts.p1.offset.positionM[0]).toBe(509);
  });
});

describe('what is said', () => {
  test('of a change of several fields the first that has words; of a field without any, its name', () => {
    expect(describeEdit(stocked(), change('stock', 's1', { bytes: 3, name: 'wreath.glb' }))).toBe('name the file wreath.glb');
    expect(describeEdit(stocked(), change('stock', 's1', { bytes: 3 }))).toBe('bytes of crown.glb');
  });
  test('of a row that is none, of a field that is wrong: which, and where', () => {
    const message = (edit: unknown) => {
      try {
        applyEdit(stocked(), edit as Edit);
      } catch (error) {
        return (error as Error).message;
      }
    };
    expect(message({ kind: 'add', table: 'parts', row: null })).toMatch(/^Part undefined: the row: /);
    expect(message({ kind: 'change', table: 'parts', id: 'p1', set: { opacity: 2 } })).toMatch(/^Part Crown: opacity: /);
    expect(
      message({ kind: 'change', table: 'parts', id: 'p1', set: { offset: { positionM: [0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } } }),
    ).toMatch(/^Part Crown: offset\.positionM/);
  });
});
