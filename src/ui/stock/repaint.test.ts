import { describe, expect, test } from 'vitest';
import { add, applyEdit, createModelItem, createPiece, type MediaItem, NO_STOCK_CREDIT, type Piece } from '@/core/piece';
import { placeOf } from './repaint';

const sha = (c: string) => c.repeat(64);
const model = createModelItem({ id: 'm', name: 'helmet.glb', original: sha('a'), model: sha('a'), bytes: 1 });
const picture: MediaItem = {
  id: 'p',
  name: 'pennant.png',
  kind: 'picture',
  original: sha('b'),
  model: sha('c'),
  bytes: 1,
  credit: NO_STOCK_CREDIT,
  dismissed: [],
};
const piece = [model, picture].reduce<Piece>((p, item) => applyEdit(p, add('stock', item)), createPiece('x'));
const facts = (textures: string[], wanted: string[] = []) =>
  ({
    kind: 'model',
    textures: textures.map((name) => ({ name })),
    wanted: wanted.map((name) => ({ name, slots: [], broken: false })),
  }) as never;
const at = (textures: string[], wanted: string[] = []) => [{ original: sha('a'), model: sha('a'), facts: facts(textures, wanted) }];
const came = (name: string) => ({ name, original: sha('f') });

describe('where a painted picture belongs', () => {
  test('to the texture of its name, whatever its ending and case', () =>
    expect(placeOf(piece, at(['Worn brass colour', 'Worn brass normal']), came('worn brass colour.PSD'))).toMatchObject({
      kind: 'texture',
      stockId: 'm',
      texture: 'Worn brass colour',
    }));
  test('to the stock picture of its name; the very same file is no newer one', () => {
    expect(placeOf(piece, at([]), came('pennant.webp'))).toMatchObject({ kind: 'picture', stockId: 'p' });
    expect(placeOf(piece, at([]), { name: 'pennant.png', original: sha('b') })).toBeNull();
  });
  test('nowhere where several have its name, none has, or a model misses it: then it is linked', () => {
    expect(placeOf(piece, at(['pennant']), came('pennant.png'))).toBeNull();
    expect(placeOf(piece, at(['a', 'A']), came('a.png'))).toBeNull();
    expect(placeOf(piece, at(['b']), came('a.png'))).toBeNull();
    expect(placeOf(piece, at(['map'], ['tex/map.png']), came('map.png'))).toBeNull();
  });
});
