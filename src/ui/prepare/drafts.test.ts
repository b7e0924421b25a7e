import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RecipeStep } from '@/core/piece';

const prune: RecipeStep = { id: 'a', step: 'prune', on: true, settings: {} };
const reorder: RecipeStep = { id: 'b', step: 'reorder', on: true, settings: {} };
const bits = (positionBits: number): RecipeStep => ({
  id: 'c',
  step: 'quantise',
  on: true,
  settings: { positionBits, normalBits: 8, uvBits: 12 },
});

describe('drafts of recipes', () => {
  let kept: Map<string, string>;
  beforeEach(() => {
    kept = new Map();
    vi.stubGlobal('window', {});
    vi.stubGlobal('localStorage', { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => kept.set(k, v) });
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.useRealTimers();
  });
  const open = async () => {
    vi.resetModules();
    return import('./drafts');
  };
  const ids = (steps: readonly RecipeStep[] | undefined) => steps?.map((s) => s.id).join('');

  it('are undone and done again, also after a reload; one that is kept is gone', async () => {
    const d = await open();
    d.setDraft('p s', [], [prune]);
    d.setDraft('p s', [], [prune, reorder]);
    d.undoDraft('p s');
    const again = await open();
    expect(ids(again.useDrafts.getState().all['p s'].steps)).toBe('a');
    again.redoDraft('p s');
    expect(ids(again.useDrafts.getState().all['p s'].steps)).toBe('ab');
    again.undoDraft('p s');
    again.undoDraft('p s');
    again.undoDraft('p s');
    expect(ids(again.useDrafts.getState().all['p s'].steps)).toBe('');
    again.dropDraft('p s');
    expect((await open()).useDrafts.getState().all).toEqual({});
  });

  it('changes of one step in a row are one; a rest, or another step, begins anew', async () => {
    const { setDraft, useDrafts } = await open();
    setDraft('p s', [bits(14)], [bits(13)]);
    for (const n of [12, 11, 10]) setDraft('p s', [], [bits(n)]);
    expect(useDrafts.getState().all['p s'].past).toHaveLength(1);
    vi.advanceTimersByTime(2_000);
    setDraft('p s', [], [bits(9)]);
    expect(useDrafts.getState().all['p s'].past).toHaveLength(2);
  });

  it('the oldest of more than fifty goes', async () => {
    const { setDraft, useDrafts } = await open();
    for (let i = 0; i < 51; i++) setDraft(`p ${i}`, [], [prune]);
    expect(Object.keys(useDrafts.getState().all)).toHaveLength(50);
    expect(useDrafts.getState().all['p 0']).toBeUndefined();
  });
});
