/** What is in front: shares by W3C Compositing and Blending 1 (source over), and the presses that change a row. */
import { describe, expect, test } from 'vitest';
import { add, applyEdit, createPiece, createSolid, type Piece } from '../piece';
import { Layer } from '../piece/layers';
import { type LayerSample, stackPress, stackRows, stackWords, wholePercents } from './stack';
import { cutOut, moveLayerTo, moveToLayer, partsIn, putInSky, putOnTop } from './stackacts';

const box = (id: string, layer = 'main') => ({
  ...createSolid(id, id, { form: 'box', sizeMm: [20, 20, 20], roundMm: 0, wallMm: 1, open: [] }),
  layer,
});
const build = (...edits: Parameters<typeof applyEdit>[1][]): Piece => edits.reduce(applyEdit, createPiece('A piece'));
const ids = () => {
  let n = 0;
  return () => `n${n++}`;
};
const at = (part: string, distanceM: number, left: number, more: Partial<LayerSample['parts'][number]> = {}) => ({
  part,
  distanceM,
  alone: left,
  unhidden: left,
  left,
  ...more,
});

describe('rows', () => {
  const piece = build(
    add('parts', box('near')),
    add('parts', box('far')),
    add('layers', Layer.parse({ id: 'veil', kind: 'parts' })),
    add('parts', box('haze', 'veil')),
  );
  const rows = (samples: LayerSample[], of = piece, found = ['near', 'far', 'haze'], drawn = found) =>
    stackRows(of, samples, { drawn: new Set(drawn), found: new Set(found) });

  test('front to back by distance in a layer; what is seen is what those before let through, and adds up to one', () => {
    const got = rows([
      { layer: 'camera', cover: 1, parts: [] },
      { layer: 'main', cover: 0, parts: [at('far', 2, 0.8), at('near', 1, 0.5)] },
      { layer: 'veil', cover: 0, parts: [at('haze', 0.5, 0.25)] },
    ]);
    expect(got.map((r) => [r.place, r.name])).toEqual([
      [3, 'haze'],
      [2, 'near'],
      [2, 'far'],
      [1, 'Camera picture'],
    ]);
    const seen = [0.25, 0.75 * 0.5, 0.75 * 0.5 * 0.8, 0.75 * 0.5 * 0.2];
    for (const [i, r] of got.entries()) expect(r.seen).toBeCloseTo(seen[i], 12);
    expect(got.reduce((a, r) => a + r.seen, 0)).toBeCloseTo(1, 12);
  });

  test('by order the last drawn is the first', () => {
    const sorted = applyEdit(piece, { kind: 'change', table: 'layers', id: 'main', set: { sort: 'order' } });
    const got = rows([{ layer: 'main', cover: 0, parts: [at('near', 1, 0.5), at('far', 2, 0.5)] }], sorted);
    expect(got.slice(0, 2).map((r) => r.name)).toEqual(['far', 'near']);
  });

  test('what no layer covers shows through; what was never there is no row', () => {
    const got = rows([
      { layer: 'main', cover: 0, parts: [{ part: 'far', distanceM: null, alone: 0, unhidden: 0, left: 0 }, at('near', 1, 0.5)] },
    ]);
    expect(got.map((r) => [r.name, r.seen])).toEqual([
      ['near', 0.5],
      ['Nothing', 0.5],
    ]);
  });

  test('each reason, told', () => {
    const why = (parts: LayerSample['parts'], of = piece, found?: string[]) =>
      rows([{ layer: 'main', cover: 0, parts }], of, found).map((r) => r.why);
    expect(why([at('near', 1, 0, { alone: 1, unhidden: 0 })])[0]).toBe('occluded');
    expect(why([at('near', 1, 0, { alone: 0 })])[0]).toBe('cut-out');
    expect(why([at('far', 2, 0, { alone: 1, unhidden: 1 }), at('near', 1, 1)]).slice(0, 2)).toEqual(['whole', 'behind-part']);
    expect(why([at('near', 1, 1)], piece, [])[0]).toBe('not-found');
    const off = applyEdit(piece, { kind: 'change', table: 'parts', id: 'near', set: { visible: false } });
    expect(why([at('near', 1, 1)], off)[0]).toBe('part-off');
    const layerOff = applyEdit(piece, { kind: 'change', table: 'layers', id: 'main', set: { visible: false } });
    expect(why([at('near', 1, 1)], layerOff)[0]).toBe('layer-off');
  });

  test('what is not on stage covers nothing: its anchor unseen, or what it hangs from switched off', () => {
    const samples = [{ layer: 'main', cover: 0, parts: [at('near', 1, 1)] }];
    for (const [found, drawn, why] of [
      [[], [], 'not-found'],
      [['near'], [], 'host-off'],
    ] as const)
      expect(rows(samples, piece, [...found], [...drawn]).map((r) => [r.why, r.cover, r.seen])).toEqual([
        [why, 0, 0],
        ['nothing', 1, 1],
      ]);
  });

  test('a part behind an opaque one of its layer says which', () => {
    const [near, far] = rows([{ layer: 'main', cover: 0, parts: [at('far', 2, 0, { alone: 1, unhidden: 1 }), at('near', 1, 0.9)] }]);
    expect(near.name).toBe('near');
    expect([far.why, stackWords(far)]).toEqual(['behind-part', 'Behind near']);
  });

  test('what a whole layer before it covers is told, and seen by nobody', () => {
    const got = rows([
      { layer: 'camera', cover: 1, parts: [] },
      { layer: 'main', cover: 0, parts: [at('near', 1, 1)] },
    ]);
    expect(got[1]).toMatchObject({ name: 'Camera picture', seen: 0, why: 'covered', by: 'near' });
    expect(stackWords(got[1])).toBe('Covered by near');
  });

  test('percents are whole and add up', () => {
    expect(wholePercents([1 / 3, 1 / 3, 1 / 3])).toEqual([34, 33, 33]);
    expect(wholePercents([0.005, 0.995]).reduce((a, b) => a + b)).toBe(100);
    expect(wholePercents([0, 1])).toEqual([0, 100]);
  });
});

describe('presses', () => {
  const piece = build(
    add('parts', box('ball')),
    add('parts', createSolid('pin', 'pin', { form: 'box', sizeMm: [5, 5, 5], roundMm: 0, wallMm: 1, open: [] })),
  );
  const layersOf = (p: Piece) => p.orders.layers.map((id) => p.layers[id]);

  test('only in the sky: a layer of parts, then the picture again wherever it is no sky, both before all else', () => {
    const done = applyEdit(piece, putInSky(piece, ['ball'], ids()));
    expect(layersOf(done).map((l) => l.kind)).toEqual(['camera', 'parts', 'matte', 'parts']);
    expect(layersOf(done)[2]).toMatchObject({ matte: { name: 'sky', invert: true } });
    expect(done.parts.ball.layer).toBe(layersOf(done)[1].id);
    // the second goes into the same layer
    const both = applyEdit(done, putInSky(done, ['pin'], ids()));
    expect(both.orders.layers).toEqual(done.orders.layers);
    expect(partsIn(both, both.parts.ball.layer).map((p) => p.id)).toEqual(['ball', 'pin']);
  });

  test('on top: a layer after all, that no occluder is in; once', () => {
    const done = applyEdit(piece, putOnTop(piece, ['ball'], ids()));
    expect(layersOf(done).map((l) => l.name)).toEqual([null, null, 'On top']);
    expect(applyEdit(done, putOnTop(done, ['pin'], ids())).orders.layers).toEqual(done.orders.layers);
  });

  test('the wearer cut out: a colour instead of the picture, the wearer before it', () => {
    const { edit, part } = cutOut(piece, '#efe6cf', 'Backdrop', ids());
    const done = applyEdit(piece, edit);
    expect(layersOf(done).map((l) => l.kind)).toEqual(['camera', 'screen', 'matte', 'parts']);
    expect(done.parts[part]).toMatchObject({ kind: 'screen', colour: '#efe6cf', layer: layersOf(done)[1].id });
  });

  test('a layer moved, a part moved between layers; what one cannot hold stays', () => {
    const two = applyEdit(piece, add('layers', Layer.parse({ id: 'late', kind: 'parts' })));
    expect(applyEdit(two, moveLayerTo(two, 'late', 0)).orders.layers).toEqual(['late', 'camera', 'main']);
    expect(applyEdit(two, moveToLayer(two, ['ball'], 'late')).parts.ball.layer).toBe('late');
    expect(moveToLayer(two, ['ball'], 'camera')).toEqual({ kind: 'batch', edits: [] });
  });

  test('the press of a row is the one that changes it', () => {
    const row = (why: 'part-off' | 'occluded' | 'layer-off' | 'whole', seen = 0) => ({
      place: 2,
      layer: 'main',
      part: 'ball',
      name: 'ball',
      cover: seen,
      seen,
      why,
      by: null,
    });
    const done = (r: ReturnType<typeof row>) => {
      const press = stackPress(piece, r, ids());
      return [press?.label, press && applyEdit(piece, press.edit)] as const;
    };
    expect(done(row('part-off'))[0]).toBe('Show it');
    expect(done(row('layer-off'))[0]).toBe('Show the layer');
    expect(done(row('occluded'))[0]).toBe('Draw it on top');
    const [label, behind] = done(row('whole', 1));
    expect(label).toBe('Behind the wearer');
    expect(layersOf(behind as Piece).map((l) => l.kind)).toEqual(['camera', 'parts', 'matte', 'parts']);
    const locked = applyEdit(piece, { kind: 'change', table: 'parts', id: 'ball', set: { locked: true } });
    expect(stackPress(locked, row('whole', 1), ids())).toBeNull();
  });
});
