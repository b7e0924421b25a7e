import { describe, expect, test } from 'vitest';
import { EVERY, finishFor, libraryFinish } from '../finish';
import type { ModelMaterial } from '../model/material';
import type { Model } from '../model/model';
import {
  add,
  applyEdit,
  change,
  createModelItem,
  createModelPart,
  createPiece,
  type Edit,
  type Part,
  type Piece,
  remove,
  settings,
  wearing,
} from '../piece';
import { copyParts } from './acts';
import {
  addColourway,
  asUsual,
  bringFinish,
  copyFinish,
  freeName,
  offeredColourways,
  saidHere,
  slotsOf,
  takeColourways,
  wearFinish,
  wornFinish,
} from './dress';
import { pasteParts } from './paste';

const RIM = { material: 'Rim', triangles: 10 };
const LENS = { material: 'Lens', triangles: 4 };
const SLOTS = [RIM, LENS];
const apply = (piece: Piece, ...edits: (Edit | null)[]) => edits.reduce<Piece>((p, e) => (e ? applyEdit(p, e) : p), piece);

function worn(): Piece {
  const p = apply(
    createPiece('Tide glass'),
    add('stock', createModelItem({ id: 's', name: 'glass.glb', original: 'a'.repeat(64), model: 'a'.repeat(64), bytes: 9 })),
    add('parts', createModelPart('p', 's', 'Glass')),
    ...['brass', 'lacquer', 'seaGlass'].map((key) => add('finishes', libraryFinish(key, key))),
  );
  return apply(p, wearFinish(p, p.parts.p, SLOTS, RIM, 'brass'), addColourway(p, 'c1'));
}
const looks = (p: Piece) => Object.fromEntries(SLOTS.map((s) => [s.material, finishFor(wearing(p, p.parts.p), s.material)]));

describe('colourways', () => {
  test('what is changed while one is shown, is changed in it; the usual look stays, and comes again', () => {
    const p = worn();
    expect([p.settings.colourway, looks(p)]).toEqual(['c1', { Rim: 'brass', Lens: null }]);
    const red = apply(p, wearFinish(p, p.parts.p, SLOTS, LENS, 'seaGlass'));
    expect([looks(red), red.parts.p.wears]).toEqual([{ Rim: 'brass', Lens: 'seaGlass' }, { Rim: 'brass' }]);
    expect(red.colourways.c1.looks).toEqual([{ part: 'p', material: 'Lens', finish: 'seaGlass' }]);
    expect([saidHere(red, red.parts.p, RIM), saidHere(red, red.parts.p, LENS)]).toEqual([false, true]);
    expect(looks(apply(red, settings({ colourway: null })))).toEqual({ Rim: 'brass', Lens: null });
    // what it does not say, goes on as the usual look does
    const usual = apply(red, settings({ colourway: null }));
    const other = apply(usual, wearFinish(usual, usual.parts.p, SLOTS, RIM, 'lacquer'), settings({ colourway: 'c1' }));
    expect(looks(other)).toEqual({ Rim: 'lacquer', Lens: 'seaGlass' });
  });
  test('as its file has it is a look too: bare of what is worn usually', () => {
    const p = worn();
    const bare = apply(p, wearFinish(p, p.parts.p, SLOTS, RIM, null));
    expect(looks(bare)).toEqual({ Rim: null, Lens: null });
    expect(wornFinish(bare, bare.parts.p, RIM)).toBeNull();
    expect(looks(apply(bare, asUsual(bare, bare.parts.p, SLOTS, RIM)))).toEqual({ Rim: 'brass', Lens: null });
  });
  test('one finish for all of a part is worn whatever each wears usually; one slot of it can be another', () => {
    const p = worn();
    const all = apply(p, wearFinish(p, p.parts.p, SLOTS, null, 'lacquer'));
    expect([looks(all), all.colourways.c1.looks]).toEqual([
      { Rim: 'lacquer', Lens: 'lacquer' },
      [{ part: 'p', material: EVERY, finish: 'lacquer' }],
    ]);
    const one = apply(all, wearFinish(all, all.parts.p, SLOTS, LENS, 'seaGlass'));
    expect(looks(one)).toEqual({ Rim: 'lacquer', Lens: 'seaGlass' });
    const back = apply(one, asUsual(one, one.parts.p, SLOTS, RIM));
    expect(looks(back)).toEqual({ Rim: 'brass', Lens: 'seaGlass' });
    expect(apply(back, asUsual(back, back.parts.p, SLOTS, null)).colourways.c1.looks).toEqual([]);
  });
  test('one that nobody has named is named after what is first worn in it; one that has a name keeps it', () => {
    const p = worn();
    const glass = apply(p, wearFinish(p, p.parts.p, SLOTS, LENS, 'seaGlass'));
    expect(glass.colourways.c1.name).toBe('Sea glass');
    expect(apply(glass, wearFinish(glass, glass.parts.p, SLOTS, RIM, 'lacquer')).colourways.c1.name).toBe('Sea glass');
    const brought = apply(p, bringFinish(p, p.parts.p, SLOTS, LENS, 'felt', 'f'));
    expect([brought.colourways.c1.name, looks(brought).Lens]).toEqual(['Felt', 'f']);
    const named = apply(p, change('colourways', 'c1', { name: 'Colourway of mine' }));
    expect(apply(named, wearFinish(named, named.parts.p, SLOTS, LENS, 'seaGlass')).colourways.c1.name).toBe('Colourway of mine');
  });
  test('a part that is pasted looks in each as that does from which it was copied', () => {
    const p = worn();
    const red = apply(p, wearFinish(p, p.parts.p, SLOTS, LENS, 'seaGlass'));
    let n = 0;
    const { edit, ids } = pasteParts(red, copyParts(red, ['p']), () => `n${n++}`);
    const two = apply(red, edit);
    expect(two.colourways.c1.looks).toEqual(['p', ids[0]].map((part) => ({ part, material: 'Lens', finish: 'seaGlass' })));
  });
  test('a copy made in one is named after it, and worn in it alone', () => {
    const p = worn();
    const red = apply(p, copyFinish(p, p.parts.p, SLOTS, RIM, p.finishes.brass, 'brass2'));
    expect([red.finishes.brass2.name, looks(red).Rim, red.parts.p.wears.Rim]).toEqual(['Brass, Colourway', 'brass2', 'brass']);
  });
  test('one who is gone leaves the usual look; a finish or a part that goes, goes from all of them', () => {
    const p = worn();
    const red = apply(p, wearFinish(p, p.parts.p, SLOTS, LENS, 'seaGlass'), wearFinish(p, p.parts.p, SLOTS, RIM, 'lacquer'));
    expect(looks(apply(red, remove('colourways', 'c1')))).toEqual({ Rim: 'brass', Lens: null });
    expect(apply(red, remove('finishes', 'lacquer')).colourways.c1.looks).toEqual([]);
    expect(apply(p, wearFinish(p, p.parts.p, SLOTS, LENS, 'seaGlass'), remove('parts', 'p')).colourways.c1.looks).toEqual([]);
  });
  test('another like one has its looks under a free name', () => {
    const p = worn();
    const red = apply(p, wearFinish(p, p.parts.p, SLOTS, LENS, 'seaGlass'));
    const two = apply(red, addColourway(red, 'c2', red.colourways.c1));
    expect(two.colourways.c2).toEqual({ id: 'c2', name: 'Sea glass 2', looks: red.colourways.c1.looks });
  });
});

describe('colourways of a file', () => {
  const material = (name: string, red: number): ModelMaterial => ({
    name,
    baseColor: [red, 0, 0, 1],
    metallic: 0,
    roughness: 0.5,
    normalScale: 1,
    occlusion: 1,
    emissive: [0, 0, 0],
    alpha: 'OPAQUE',
    cutoff: 0.5,
    doubleSided: false,
    more: {},
  });
  const model: Pick<Model, 'materials' | 'variants'> = {
    materials: [material('Rim', 0), material('Rim plum', 0.5), material('Lens', 1)],
    variants: [
      { name: 'Sand', instead: { Rim: 'Rim' } },
      { name: 'Plum', instead: { Rim: 'Rim plum', Lens: 'nowhere' } },
      { name: 'Nothing', instead: {} },
    ],
  };
  const ofModel = (part: Part) => (part.kind === 'model' ? model : null);
  test('are offered, taken in as the piece’s own, and not offered again', () => {
    const p = worn();
    expect(offeredColourways(p, ofModel)).toEqual([{ part: p.parts.p, names: ['Sand', 'Plum'] }]);
    let n = 0;
    const newId = () => `n${n++}`;
    const taken = apply(p, takeColourways(p, p.parts.p, model, ['Sand', 'Plum'], newId));
    const [, sand, plum] = Object.values(taken.colourways);
    // usually it wears brass; what stands in for itself is as it comes
    expect([sand.name, sand.looks]).toEqual(['Sand', [{ part: 'p', material: 'Rim', finish: null }]]);
    const [look] = plum.looks;
    expect([plum.looks.length, look.material]).toEqual([1, 'Rim']);
    expect(taken.finishes[look.finish ?? '']).toMatchObject({
      name: 'Rim plum',
      colour: '#bc0000',
      ownOf: 'Rim plum',
      maps: { base: 'own' },
    });
    expect(offeredColourways(taken, ofModel)).toEqual([]);
    // a second part of the file joins the colourways of that name
    const two = apply(taken, add('parts', createModelPart('q', 's', 'Glass again')));
    expect(offeredColourways(two, ofModel).map((o) => [o.part.id, o.names])).toEqual([['q', ['Sand', 'Plum']]]);
    const both = apply(two, takeColourways(two, two.parts.q, model, ['Plum'], newId));
    expect(Object.values(both.colourways).map((c) => [c.name, c.looks.length])).toEqual([
      ['Colourway', 0],
      ['Sand', 1],
      ['Plum', 2],
    ]);
    expect(takeColourways(p, p.parts.p, { ...model, variants: [] }, ['Plum'], newId)).toBeNull();
  });
});

test('a free name is told from those that are taken; names of files may hold anything', () => {
  expect(freeName(['Brass', 'Brass 2'], 'Brass', 'x')).toBe('Brass 3');
  expect(freeName([], '\u0007  \n', 'Finish')).toBe('Finish');
  expect(freeName([], 'a\tb', 'x')).toBe('a b');
});

test('materials of one name are one slot, with all its triangles', () => {
  const primitive = (m: number, corners: number) => ({ material: m, triangles: new Uint32Array(corners) });
  const meshes = [{ name: 'a', primitives: [primitive(0, 6), primitive(1, 3), primitive(2, 9), primitive(-1, 3)] }];
  const materials = ['Rim', 'Lens', 'Rim'].map((name) => ({ name }));
  expect(slotsOf({ meshes, materials } as never)).toEqual([
    { material: 'Rim', triangles: 5 },
    { material: 'Lens', triangles: 1 },
    { material: '', triangles: 1 },
  ]);
});
