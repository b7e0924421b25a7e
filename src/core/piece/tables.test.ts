/** A table is one entry of the registry and the schema of its row: shown by one that is not in the house. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import * as z from 'zod';
import { Id, Name, Sha256 } from '../words/values';
import { arbitraryEdits } from './arbitrary';
import { apply, invert, type LooseEdit, spelledOut } from './change';
import { createPiece } from './defaults';
import { blobsOfDoc, documentSchema, editSchemas, faultsOf, nameEntity, sayEdit } from './document';
import { changedBetween, Entities, touchedBy } from './entities';
import { PIECE_SCHEMA } from './schema';
import { type Doc, type DocKind, sameValue, type TableDef, tableOf } from './table';
import { PIECE_KIND } from './tables';

// the row's schema and the entry: all there is to a new table
const Pin = z.strictObject({
  id: Id,
  text: Name.default('a pin'),
  parts: z.array(Id).max(8).default([]),
  picture: Sha256.nullable().default(null),
});
const pins: TableDef = {
  schema: Pin,
  refers: [{ path: 'parts.*', table: 'parts', onRemove: 'clear' }],
  order: true,
  most: 100,
  word: ['pin', 'pins'],
  label: (row) => String(row.text),
  blobs: (row) => (row.picture ? [String(row.picture)] : []),
};
const KIND: DocKind = { ...PIECE_KIND, tables: { ...PIECE_KIND.tables, pins } };

const piece = createPiece('Pinned') as unknown as Doc;
const start = { ...piece, pins: {}, orders: { ...piece.orders, pins: [] } } as unknown as Doc;
const run = (edits: LooseEdit[], doc: Doc = start) => edits.reduce((d, e) => apply(KIND, d, e), doc);
const pin = (row: object): LooseEdit => ({ kind: 'add', table: 'pins', row: row as never });

describe('a table added to the registry', () => {
  test('is in the schema, and its rows may leave out what has a default', () => {
    const { edit } = editSchemas(KIND);
    const read = edit.parse({ kind: 'add', table: 'pins', row: { id: 'a' } }) as LooseEdit;
    const doc = run([read]);
    expect(tableOf(doc, 'pins').a).toEqual({ id: 'a', text: 'a pin', parts: [], picture: null });
    expect(documentSchema(KIND, PIECE_SCHEMA).safeParse(doc).success).toBe(true);
    expect(documentSchema(KIND, PIECE_SCHEMA).safeParse({ ...doc, orders: { ...doc.orders, pins: [] } }).success).toBe(false);
    expect(() => apply(KIND, start, { kind: 'add', table: 'stars', row: { id: 'a' } })).toThrow(/no table stars/);
  });

  test('refuses what dangles, is told by name, and names its blobs', () => {
    expect(() => run([pin({ id: 'a', parts: ['nobody'] })])).toThrow(/needs part nobody/);
    const doc = run([pin({ id: 'a', text: 'Here', parts: ['head-block'], picture: 'c'.repeat(64) })]);
    expect(sayEdit(KIND, doc, { kind: 'change', table: 'pins', id: 'a', set: { text: 'There' } })).toBe('text of Here');
    const several = [
      { kind: 'remove', table: 'pins', id: 'b' },
      { kind: 'change', table: 'pins', id: 'a', set: { text: 'There' } },
    ] as never[];
    // the last of several is what was meant, the others lead up to it
    expect(sayEdit(KIND, doc, { kind: 'batch', edits: several })).toBe('text of Here');
    expect(sayEdit(KIND, doc, { kind: 'batch', edits: [] })).toBe('nothing');
    expect(nameEntity(KIND, 'pins:a.text', doc)).toBe('Here');
    expect(blobsOfDoc(KIND, doc)).toEqual(['c'.repeat(64)]);
    expect(touchedBy(KIND, pin({ id: 'b', parts: ['head-block'] }))).toEqual({ writes: ['pins:b'], reads: ['parts:head-block.id'] });
  });

  test('what it refers to is cleared when that is removed, and comes back with undo', () => {
    const doc = run([pin({ id: 'a', parts: ['head-block'] })]);
    const off: LooseEdit = { kind: 'remove', table: 'parts', id: 'head-block' };
    expect(spelledOut(KIND, doc, off)).toEqual([{ kind: 'change', table: 'pins', id: 'a', set: { parts: [] } }, off]);
    const without = apply(KIND, doc, off);
    expect(tableOf(without, 'pins').a).toMatchObject({ parts: [] });
    expect(sameValue(apply(KIND, without, invert(KIND, doc, off)), doc)).toBe(true);
  });

  test('property: its edits are undone exactly, and change only what they name', () => {
    const seen = new Set<string>();
    fc.assert(
      fc.property(arbitraryEdits(KIND, start), ({ edits }) => {
        let doc = start;
        for (const e of edits) {
          for (const s of e.kind === 'batch' ? e.edits : [e]) if ('table' in s) seen.add(`${s.kind} ${s.table}`);
          const next = apply(KIND, doc, e);
          expect(faultsOf(KIND, next)).toEqual([]);
          expect(sameValue(apply(KIND, next, invert(KIND, doc, e)), doc)).toBe(true);
          const named = new Entities(touchedBy(KIND, { kind: 'batch', edits: spelledOut(KIND, doc, e) }).writes);
          for (const c of changedBetween(KIND, doc, next)) expect(named.meets(c), `${c} by ${JSON.stringify(e)}`).toBe(true);
          doc = next;
        }
      }),
      { seed: 21, numRuns: 60 },
    );
    for (const what of ['add pins', 'change pins', 'remove pins', 'order pins']) expect(seen).toContain(what);
  });
});
