/** Two mends of one file at once: the second reads the recipe when its turn comes, and none is lost. */
import { afterEach, expect, test, vi } from 'vitest';
import { add, applyEdit, commit, createHistory, createModelItem, createPiece, type Edit, type History } from '@/core/piece';
import { mend, setSteps } from './mending';

afterEach(() => vi.unstubAllGlobals());

const sha = (n: number) => n.toString(16).padStart(64, '0');

test('what is asked for while another is under way comes after it', async () => {
  let history: History = createHistory(
    applyEdit(createPiece('x'), add('stock', createModelItem({ id: 's', name: 'a.glb', original: sha(1), model: sha(2), bytes: 1 }))),
  );
  const asked: string[][] = [];
  let results = 10;
  vi.stubGlobal('fetch', async (_: string, init?: RequestInit) => {
    const { steps } = JSON.parse(String(init?.body)) as { steps: { step: string }[] };
    asked.push(steps.map((s) => s.step));
    // the first takes longer than the second
    await new Promise((r) => setTimeout(r, asked.length === 1 ? 30 : 1));
    return Response.json({ asset: { original: sha(1), model: sha(results++), facts: null }, unmatched: [] });
  });
  const store = {
    id: 'piece',
    get history() {
      return history;
    },
    assets: [],
    addAsset: () => undefined,
    commit: (e: Edit) => {
      history = commit(history, e);
      return true;
    },
  };
  const get = () => store as never;
  const only = { keepFit: true, all: false };
  await Promise.all([mend(get, 's', [{ step: 'prune', settings: {} }], only), mend(get, 's', [{ step: 'ground', settings: {} }], only)]);
  expect(asked).toEqual([['prune'], ['prune', 'ground']]);
  expect(history.doc.recipes.s.steps.map((s) => s.step)).toEqual(['prune', 'ground']);
  expect(history.doc.recipes.s.result).toBe(sha(11));
  // one that fails does not hold up the next
  vi.stubGlobal('fetch', async () => Response.json({ error: { code: 'x/y', message: 'no' } }, { status: 422 }));
  await expect(mend(get, 's', [{ step: 'prune', settings: {} }], only)).rejects.toThrow();
  await setSteps(get, 's', [], true);
  expect(history.doc.recipes.s).toBeUndefined();
});
