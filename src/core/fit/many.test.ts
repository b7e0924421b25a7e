import { expect, test } from 'vitest';
import { finishFor, libraryFinish } from '../finish';
import {
  add,
  applyEdit,
  changePart,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  type Piece,
  wearing,
} from '../piece';
import { named, namesOf, wearables, wearMany } from './many';

const primitive = (material: number) => ({ material, triangles: new Uint32Array(3) });
const model = {
  materials: [{ name: 'Wood' }, { name: 'Gilt' }],
  meshes: [
    { name: 'Hair', primitives: [primitive(0), primitive(1)] },
    { name: 'Scarf', primitives: [primitive(1)] },
  ],
} as never;
const piece = (): Piece =>
  [
    add('stock', createModelItem({ id: 's', name: 'figurehead.glb', original: 'a'.repeat(64), model: 'a'.repeat(64), bytes: 9 })),
    add('parts', createModelPart('p', 's', 'Figurehead')),
    add('parts', createSolid('q', 'Gilt ball', { form: 'sphere', sizeMm: [9, 9, 9], roundMm: 0, wallMm: 1, open: [] })),
    add('parts', createGroup('g', 'Gilt things')),
    add('finishes', libraryFinish('brass', 'b')),
  ].reduce(applyEdit, createPiece('x'));
const modelOf = (part: { kind: string }) => (part.kind === 'model' ? model : null);

test('what can wear a finish: materials with their meshes, solids; no group, nothing that is locked', () => {
  const p = piece();
  const all = wearables(p, modelOf);
  expect(all.map((w) => [w.part.id, w.material, w.meshes])).toEqual([
    ['p', 'Wood', ['Hair']],
    ['p', 'Gilt', ['Hair', 'Scarf']],
    ['q', '', []],
  ]);
  expect(wearables(applyEdit(p, changePart('p', { locked: true })), modelOf).map((w) => w.part.id)).toEqual(['q']);
  expect(wearables(p, () => null).map((w) => w.part.id)).toEqual(['q']);
});
test.each([
  ['gilt', [1, 2]],
  ['SCARF', [1]],
  ['f*head', [0, 1]],
  ['*', []],
  [' ', []],
  ['g.lt', []],
])('the pattern %s picks what is named so, by part, mesh or material', (pattern, want) => {
  const all = wearables(piece(), modelOf);
  expect(all.flatMap((w, i) => (named(pattern, namesOf(w)) ? [i] : []))).toEqual(want);
});
test('one edit puts a finish on all of them, whatever parts they are of', () => {
  const p = piece();
  const all = wearables(p, modelOf);
  const edit = wearMany(p, all, 'b');
  const on = edit ? applyEdit(p, edit) : p;
  expect(all.map((w) => finishFor(wearing(on, on.parts[w.part.id]), w.material))).toEqual(['b', 'b', 'b']);
  expect(wearMany(p, [], 'b')).toBeNull();
});
