import { describe, expect, it } from 'vitest';
import type { PieceSummary } from '@/api';
import { arrange } from './sorting';

const piece = (id: string, name: string, day: number, more: Partial<PieceSummary> = {}): PieceSummary => ({
  id,
  name,
  revision: 1,
  profile: 'pocket',
  reached: 'stock',
  createdAt: `2026-01-${10 + day}`,
  updatedAt: `2026-02-${20 - day}`,
  deletedAt: null,
  coverRevision: null,
  findings: { blocker: 0, warning: 0, note: 0 },
  ...more,
});
const pieces = [
  piece('a', 'Crown 10', 1, { findings: { blocker: 1, warning: 0, note: 0 } }),
  piece('b', 'Crown 9', 2, { reached: 'deliver' }),
  piece('c', 'Écume', 3, { profile: 'light' }),
];
const weights = { a: { revision: 1, bytes: 2_000_000 }, b: null, c: { revision: 1, bytes: 1_500_000 } };
const ids = (order: 'changed' | 'made' | 'name' | 'weight', shows: 'all' | 'found' | 'over' | 'ready' = 'all', words = '') =>
  arrange(pieces, { order, shows, words }, weights)
    .map((p) => p.id)
    .join('');

describe('pieces of a yard', () => {
  it('come newest first, by name as one counts, or by what is known of their weight', () => {
    expect([ids('changed'), ids('made'), ids('name'), ids('weight')]).toEqual(['abc', 'cba', 'bac', 'acb']);
  });
  it('are those that are asked for', () => {
    expect([ids('name', 'found'), ids('name', 'over'), ids('name', 'ready')]).toEqual(['a', 'c', 'b']);
  });
  it('are found by any words of their name, without accents and case', () => {
    expect([ids('name', 'all', 'ecu'), ids('name', 'all', '10 crown'), ids('name', 'all', 'kelp')]).toEqual(['c', 'a', '']);
  });
});
