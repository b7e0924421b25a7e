import { expect, test } from 'vitest';
import { namedBlobs } from './blobs';
import type { Knex } from './db';

const sha = (n: number) => n.toString(16).padStart(64, '0');
type Row = Record<string, unknown>;

/** A database as far as what reads it page by page asks: rows of tables, in order. */
const tables = (rows: Readonly<Record<string, readonly Row[]>>) =>
  ((table: string) => {
    let [most, from] = [Infinity, 0];
    const query = {
      select: () => query,
      orderBy: () => query,
      limit: (n: number) => {
        most = n;
        return query;
      },
      offset: (n: number) => {
        if (!(n >= 0)) throw new RangeError(`OFFSET ${n}`);
        from = n;
        return query;
      },
      // biome-ignore lint/suspicious/noThenProperty: a query is awaited
      then: (done: (rows: readonly Row[]) => unknown) => done((rows[table] ?? []).slice(from, from + most)),
    };
    return query;
  }) as unknown as Knex;

test('names stand on every page of a table, and what a named file speaks of is named with it', async () => {
  const pieces = Array.from({ length: 450 }, (_, i) => ({
    document: `{"original":"${sha(i)}","model":"${sha(10_000 + i)}"}`,
    cover_sha256: null,
  }));
  const assets = [
    ...Array.from({ length: 450 }, (_, i) => ({ original: sha(i), model: sha(10_000 + i), facts: `{"picture":"${sha(20_000 + i)}"}` })),
    // no piece speaks of it: what it speaks of is not named either
    { original: sha(900), model: sha(901), facts: `{"picture":"${sha(902)}"}` },
    // of half of it one does
    { original: sha(1), model: sha(905), facts: `{"picture":"${sha(906)}"}` },
  ];
  const named = await namedBlobs(tables({ pieces, assets, documents: [{ document: sha(7_000) }], revisions: [{ edits: sha(7_001) }] }));
  for (const i of [0, 199, 200, 201, 399, 400, 449])
    for (const at of [i, 10_000 + i, 20_000 + i]) expect(named.has(sha(at)), String(at)).toBe(true);
  for (const at of [900, 901, 902, 905, 906]) expect(named.has(sha(at)), String(at)).toBe(false);
  for (const at of [7_000, 7_001]) expect(named.has(sha(at))).toBe(true);
  expect(named.size).toBe(450 * 3 + 2);
});

test('no page holds more than all there are: a table that ends with its page is read once more, and ends', async () => {
  const pieces = Array.from({ length: 400 }, (_, i) => ({ document: sha(i), cover_sha256: sha(5_000 + i) }));
  expect((await namedBlobs(tables({ pieces }))).size).toBe(800);
});
