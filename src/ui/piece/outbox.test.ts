/** What an older page of this browser kept unsent is read by this one, and none of it is lost. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { applyEdit, PIECE_SCHEMA, PieceFormatError, readPiece, sameValue } from '@/core/piece';
import { type Outbox, readOutbox } from './outbox';

const work = JSON.parse(readFileSync(new URL('../../core/piece/samples/schema-3-work.json', import.meta.url), 'utf8')) as {
  start: unknown;
  edits: unknown[];
  end: unknown;
}[];
const box = (change: Partial<Outbox>): Outbox => ({
  key: 'k',
  piece: 'p',
  base: work[0].start,
  revision: 7,
  inflight: null,
  pending: [],
  ...change,
});

describe('readOutbox', () => {
  test.each(work.map((w, i) => [i, w] as const))('edits of schema 3, half of them sent: sample %i comes to the same piece', (_, w) => {
    const half = w.edits.length >> 1;
    const read = readOutbox(box({ base: w.start, inflight: { saveId: 's', edits: w.edits.slice(0, half) }, pending: w.edits.slice(half) }));
    if (!read) throw new Error('nothing was read');
    expect([read.revision, read.inflight?.saveId]).toEqual([7, 's']);
    const end = [...(read.inflight?.edits ?? []), ...read.pending].reduce(applyEdit, read.base);
    expect(sameValue(end, readPiece(w.end))).toBe(true);
  });
  test('nothing kept is nothing; what a newer page kept is refused, not guessed at', () => {
    expect(readOutbox(null)).toBeNull();
    expect(() => readOutbox(box({ schema: PIECE_SCHEMA + 1, pending: [{ kind: 'fly' }] }))).toThrow(PieceFormatError);
    expect(() => readOutbox(box({ base: { ...(work[0].start as object), schema: 99 } }))).toThrow(PieceFormatError);
  });
});
