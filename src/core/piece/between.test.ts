/** From any document to any other, and no further. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arbitraryEdits } from './arbitrary';
import {
  add,
  applyEdit,
  batch,
  changePart,
  createGroup,
  createPiece,
  createSolid,
  type Edit,
  editsBetween,
  MAX_PARTS,
  onPart,
  order,
  PIECE_KIND,
  type Piece,
  sameValue,
  settings,
} from './index';

const made = (p: Piece, edits: readonly Edit[]) => edits.reduce(applyEdit, p);
const group = (id: string) => add('parts', createGroup(id, id));

describe('the edits between two documents', () => {
  const start = made(createPiece('Crown'), [group('a'), group('b'), group('c')]);
  const works = arbitraryEdits(PIECE_KIND, start, 40) as fc.Arbitrary<{ edits: Edit[] }>;

  test('property: they make one of the other, wherever both come from, also as one batch sent as JSON; of the same, none', () => {
    let [compared, longest] = [0, 0];
    fc.assert(
      fc.property(works, works, (one, two) => {
        const [a, b] = [made(start, one.edits), made(start, two.edits)];
        const edits = editsBetween(a, b);
        expect(sameValue(made(a, edits), b)).toBe(true);
        if (edits.length > 0) expect(sameValue(applyEdit(a, JSON.parse(JSON.stringify(batch(edits)))), b)).toBe(true);
        expect(editsBetween(b, made(a, edits))).toEqual([]);
        // back to where this one was half way: most rows are in both
        const half = made(start, one.edits.slice(0, one.edits.length / 2));
        expect(sameValue(made(a, editsBetween(a, half)), half)).toBe(true);
        compared++;
        longest = Math.max(longest, edits.length);
      }),
      { numRuns: 150 },
    );
    expect(compared).toBe(150);
    expect(longest).toBeGreaterThan(15);
  });
  test('name what differs alone: one field is one change, one place one order', () => {
    const moved = applyEdit(start, changePart('b', { visible: false }));
    expect(editsBetween(start, moved)).toEqual([{ kind: 'change', table: 'parts', id: 'b', set: { visible: false } }]);
    expect(editsBetween(start, applyEdit(start, order('parts', 'c', 0)))).toEqual([order('parts', 'c', 0)]);
    expect(editsBetween(start, applyEdit(start, settings({ form: 'L' })))).toEqual([settings({ ...start.settings, form: 'L' })]);
  });
  test('parts that hang in one another the other way round', () => {
    const hang = (p: Piece, from: string, to: string) => applyEdit(p, changePart(from, { hang: onPart(to) }));
    const [a, b] = [hang(hang(start, 'a', 'b'), 'b', 'c'), hang(hang(start, 'c', 'b'), 'b', 'a')];
    expect(made(a, editsBetween(a, b))).toEqual(b);
  });
  test('what is locked is unlocked for it, and locked again', () => {
    const a = made(start, [changePart('a', { visible: false }), changePart('a', { locked: true }), changePart('b', { locked: true })]);
    const b = made(start, [changePart('a', { locked: true }), changePart('c', { locked: true })]);
    expect(made(a, editsBetween(a, b))).toEqual(b);
    expect(made(b, editsBetween(b, a))).toEqual(a);
  });
  test('a full rack makes room for another full one; an id that is another kind of part there is another part', () => {
    const full = (name: string) =>
      made(
        createPiece('Full'),
        Array.from({ length: MAX_PARTS - 1 }, (_, i) => group(`${name}${i}`)),
      );
    const [a, b] = [full('x'), full('y')];
    expect(made(a, editsBetween(a, b))).toEqual(b);
    const other = applyEdit(
      createPiece('Crown'),
      add('parts', createSolid('a', 'a', { form: 'disc', sizeMm: [10, 10, 1], roundMm: 0, wallMm: 1, open: [] })),
    );
    expect(made(start, editsBetween(start, other))).toEqual(other);
  });
});
