'use client';
/** What the arrival sheet does to a model: runs recipes on the server, then commits what came of them as one edit. */
import { ulid } from 'ulid';
import { type AssetFacts, api } from '@/api';
import { judgeFindings, judgeStock, picturesAtHand } from '@/core/intake';
import type { Edit, ModelItem, Piece, Recipe, RecipeStep, SingleEdit, StepDraft, TransformSettings } from '@/core/piece';
import { combineTransforms, divideOffset, FIX_ROUNDS, mergeDrafts } from '@/core/prepare';
import type { PieceState } from '../piece/store';

export const asSteps = (drafts: readonly StepDraft[]): RecipeStep[] => drafts.map((d) => ({ ...d, id: ulid(), on: true }) as RecipeStep);

/** The size, turn and place the steps give the model together; null where they leave it as it is. */
export function wholeTransform(steps: readonly (StepDraft & { on?: boolean })[]): TransformSettings | null {
  const all = steps.flatMap((s) => (s.step === 'transform' && s.on !== false ? [s.settings] : []));
  if (all.length === 0) return null;
  const t = all.reduce(combineTransforms);
  const still = t.factor === 1 && t.shiftM.every((x) => x === 0) && t.turnDeg.yaw === 0 && t.turnDeg.pitch === 0 && t.turnDeg.roll === 0;
  return still ? null : t;
}

/** Parts of the piece that wear a stock file and hang somewhere. */
export const wearers = (doc: Piece, stockId: string) =>
  Object.values(doc.parts).flatMap((p) => (p.kind === 'model' && p.stockId === stockId && p.anchor !== null ? [p] : []));

/** Edits that set a recipe and, where wished, divide the offset of every part that wears the model by what changed. */
export function recipeEdit(doc: Piece, stockId: string, recipe: Recipe | null, change: TransformSettings | null, keepFit: boolean): Edit {
  const edits: SingleEdit[] = [];
  if (change && keepFit)
    for (const p of wearers(doc, stockId)) {
      const unlock = p.locked;
      if (unlock) edits.push({ kind: 'lock-part', id: p.id, locked: false });
      edits.push({ kind: 'place-part', id: p.id, offset: divideOffset(p.offset, change) });
      if (unlock) edits.push({ kind: 'lock-part', id: p.id, locked: true });
    }
  // last, so that the history names the edit by it
  edits.push({ kind: 'set-recipe', id: stockId, recipe });
  return edits.length === 1 ? edits[0] : { kind: 'batch', edits };
}

type Store = Pick<PieceState, 'id' | 'history' | 'assets' | 'addAsset' | 'commit'>;

async function prepare(
  get: () => Store,
  item: Pick<ModelItem, 'original' | 'model'>,
  steps: RecipeStep[],
): Promise<{ asset: AssetFacts; unmatched: string[] }> {
  const answer = await api.prepare(get().id, { original: item.original, model: item.model, steps });
  get().addAsset(answer.asset);
  return answer;
}

/** Adds fixes to a model's recipe. `all`: asks again for fixes that mending brought to light. Rejects with the server's sentence. */
export async function mend(
  get: () => Store,
  stockId: string,
  drafts: readonly StepDraft[],
  { keepFit, all }: { keepFit: boolean; all: boolean },
): Promise<void> {
  const doc = get().history.doc;
  const item = doc.stock[stockId];
  if (item?.kind !== 'model') return;
  const before = doc.recipes[stockId]?.steps ?? [];
  let added = asSteps(mergeDrafts(drafts));
  let answer = await prepare(get, item, [...before, ...added]);
  for (let round = 1; all && round < FIX_ROUNDS && answer.asset.facts; round++) {
    const found = judgeFindings(answer.asset.facts, {
      kind: item.stated,
      credit: item.credit,
      changed: true,
      pictures: picturesAtHand(doc, get().assets),
    });
    const letBe = new Set(item.dismissed.map((d) => `${d.code} ${d.where}`));
    const more = mergeDrafts(found.flatMap((f): StepDraft[] => (f.fix && !letBe.has(`${f.code} ${f.where ?? ''}`) ? [f.fix] : [])));
    if (more.length === 0) break;
    const next = [...added, ...asSteps(more)];
    const again = await prepare(get, item, [...before, ...next]);
    if (again.asset.model === answer.asset.model) break;
    added = next;
    answer = again;
  }
  const recipe: Recipe = { steps: [...before, ...added], result: answer.asset.model };
  get().commit(recipeEdit(get().history.doc, stockId, recipe, wholeTransform(added), keepFit));
}

/** Runs the recipe without some of its steps; without any, the model is as delivered again. */
export async function setSteps(get: () => Store, stockId: string, steps: RecipeStep[], keepFit: boolean): Promise<void> {
  const { doc } = get().history;
  const item = doc.stock[stockId];
  if (item?.kind !== 'model') return;
  const before = wholeTransform(doc.recipes[stockId]?.steps ?? []);
  const recipe = steps.length > 0 ? { steps, result: (await prepare(get, item, steps)).asset.model } : null;
  const change = between(before, wholeTransform(steps));
  get().commit(recipeEdit(get().history.doc, stockId, recipe, change, keepFit));
}

const NONE: TransformSettings = { factor: 1, turnDeg: { yaw: 0, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: false };

/** What takes a model that was changed by `a` to one changed by `b`. */
function between(a: TransformSettings | null, b: TransformSettings | null): TransformSettings | null {
  if (!a && !b) return null;
  return combineTransforms(inverse(a ?? NONE), b ?? NONE);
}

function inverse(t: TransformSettings): TransformSettings {
  // the turn back, found among the quarters: the one that undoes it
  const turns = [0, 90, 180, -90].flatMap((yaw) =>
    [0, 90, 180, -90].flatMap((pitch) => [0, 90, 180, -90].map((roll) => ({ yaw, pitch, roll }))),
  );
  const back = turns.find((turnDeg) => {
    const { yaw, pitch, roll } = combineTransforms({ ...NONE, turnDeg: t.turnDeg }, { ...NONE, turnDeg }).turnDeg;
    return yaw === 0 && pitch === 0 && roll === 0;
  });
  const only: TransformSettings = { ...NONE, factor: 1 / t.factor, turnDeg: back ?? NONE.turnDeg };
  const moved = combineTransforms({ ...NONE, shiftM: t.shiftM.map((x) => -x) as [number, number, number] }, only);
  return moved;
}

export interface Replacement {
  item: ModelItem;
  asset: AssetFacts;
  recipe: Recipe | null;
  /** What the old file had and the new one has not, in sentences. */
  unmatched: string[];
}

/** A newer file in the place of an old one: recipe run again, what no longer matches listed. Nothing is committed yet. */
export async function planReplacement(
  get: () => Store,
  stockId: string,
  incoming: Omit<ModelItem, 'id'>,
  asset: AssetFacts,
): Promise<Replacement> {
  const { doc } = get().history;
  const old = doc.stock[stockId] as ModelItem;
  get().addAsset(asset);
  const item: ModelItem = { ...incoming, id: stockId, credit: old.credit, stated: old.stated, dismissed: old.dismissed };
  const steps = doc.recipes[stockId]?.steps ?? [];
  const done = steps.length > 0 ? await prepare(get, item, steps) : null;
  const recipe = done ? { steps, result: done.asset.model } : null;
  const unmatched = done?.unmatched.map((u) => `${u[0].toUpperCase()}${u.slice(1)}; the link stays in the recipe.`) ?? [];
  const was = judgeStock(doc, stockId, get().assets)?.facts;
  const is = (done?.asset ?? asset).facts;
  if (was && is) {
    const gone = (a: readonly { name: string }[], b: readonly { name: string }[]) =>
      a.filter((x) => !b.some((y) => y.name === x.name)).map((x) => x.name);
    for (const name of gone(was.meshList, is.meshList)) unmatched.push(`The shape ${name} is not in the new file.`);
    for (const name of gone(was.clips, is.clips)) unmatched.push(`The clip ${name} is not in the new file.`);
    const materials = (f: typeof was) => [...new Set(f.meshList.flatMap((m) => m.materials))].map((name) => ({ name }));
    for (const name of gone(materials(was), materials(is))) unmatched.push(`The material ${name} is not in the new file.`);
    const next = judgeStock(
      { ...doc, stock: { ...doc.stock, [stockId]: item }, recipes: recipe ? { ...doc.recipes, [stockId]: recipe } : doc.recipes },
      stockId,
      get().assets,
    );
    for (const d of old.dismissed)
      if (next && !next.dismissed.some((f) => f.code === d.code && (f.where ?? '') === d.where))
        unmatched.push(`You let “${d.code}” be${d.where ? ` at ${d.where}` : ''}; it is not found in the new file. Your reason stays.`);
  }
  return { item, asset, recipe, unmatched };
}

export const replacementEdit = (doc: Piece, r: Replacement): Edit => ({
  kind: 'batch',
  edits: [
    ...(r.recipe || doc.recipes[r.item.id] ? [{ kind: 'set-recipe', id: r.item.id, recipe: r.recipe } as const] : []),
    { kind: 'replace-stock', id: r.item.id, item: r.item },
  ],
});
