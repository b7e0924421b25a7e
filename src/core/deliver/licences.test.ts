/** Whose word a package waits for: files in it, and pictures that steps put into them, while the step is on. */
import { expect, test } from 'vitest';
import {
  add,
  applyEdit,
  change,
  createModelItem,
  createModelPart,
  createPiece,
  type Edit,
  NO_STOCK_CREDIT,
  type Piece,
  type RecipeStep,
} from '../piece';
import { licenceBlockers } from './index';

const sha = (c: string) => c.repeat(64);
const model = createModelItem({ id: 'm', name: 'crown.glb', original: sha('a'), model: sha('b'), bytes: 1 });
const picture = { ...model, id: 'p', kind: 'picture', name: 'brass.png', original: sha('c'), model: sha('c') };
const repaint = (on: boolean): RecipeStep =>
  ({
    id: 'r',
    on,
    step: 'repaint',
    settings: { links: [{ texture: 'skin', was: null, picture: sha('c'), name: 'brass.png' }] },
  }) as RecipeStep;
const pieceWith = (...edits: Edit[]): Piece => {
  const { stated: _, ...bare } = picture as typeof picture & { stated?: unknown };
  return [add('stock', model), { kind: 'add', table: 'stock', row: bare } as never, ...edits].reduce(applyEdit, createPiece('Crown'));
};
const blocked = (p: Piece) => licenceBlockers(p).map((b) => b.stockId);

test('what hangs waits; what only lies in Stock does not', () => {
  expect(blocked(pieceWith())).toEqual([]);
  expect(blocked(pieceWith(add('parts', createModelPart('x', 'm', 'Crown'))))).toEqual(['m']);
  expect(blocked(pieceWith(add('parts', { ...createModelPart('x', 'm', 'Crown'), visible: false })))).toEqual([]);
});

test('a picture put into a model waits with it, only while its step is on', () => {
  const hung = add('parts', createModelPart('x', 'm', 'Crown'));
  const recipe = (on: boolean) => add('recipes', { id: 'm', steps: [repaint(on)], result: sha('d') });
  expect(blocked(pieceWith(hung, recipe(true))).sort()).toEqual(['m', 'p']);
  expect(blocked(pieceWith(hung, recipe(false)))).toEqual(['m']);
});

test('a licence that permits no changes bars what has a recipe, and nothing else', () => {
  const edits = [
    add('parts', createModelPart('x', 'm', 'Crown')),
    change('stock', 'm', { credit: { ...NO_STOCK_CREDIT, licence: 'CC-BY-ND-4.0', author: 'A. Teal' } }),
  ];
  expect(blocked(pieceWith(...edits))).toEqual([]);
  const changed = pieceWith(...edits, add('recipes', { id: 'm', steps: [repaint(false)], result: sha('d') }));
  expect(licenceBlockers(changed)).toEqual([{ stockId: 'm', why: expect.stringContaining('permits no changes') }]);
});
