'use client';
/** What the arrival sheet does to a model: runs recipes on the server, then commits what came of them as one edit. */
import { ulid } from 'ulid';
import { type AssetFacts, api } from '@/api';
import { isUnseen, judgeFindings, judgeStock, picturesAtHand } from '@/core/intake';
import {
  anchorOf,
  batch,
  change,
  changePart,
  combineTransforms,
  type Edit,
  isUponForm,
  type MediaItem,
  type ModelItem,
  type Piece,
  partsOf,
  type Recipe,
  type RecipeStep,
  type SingleEdit,
  STEPS,
  type StepDraft,
  type StockItem,
  setRecipe,
  singles,
  stepFits,
  type TransformSettings,
} from '@/core/piece';
import { divideOffset, FIX_ROUNDS, mergeDrafts } from '@/core/prepare';
import type { PieceState } from '../piece/store';
import { sendGroup } from './arrivals';

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
export const wearers = (doc: Piece, stockId: string) => partsOf(doc, stockId).filter((p) => anchorOf(doc, p) !== null);

const turns = new Map<string, Promise<unknown>>();
/** Work on one stock file waits for what is under way on it, and reads the recipe when its turn comes: none is lost. */
function serially<T>(stockId: string, work: () => Promise<T>): Promise<T> {
  const turn = (turns.get(stockId) ?? Promise.resolve()).then(work, work);
  const over: Promise<unknown> = turn.catch(() => undefined).finally(() => turns.get(stockId) === over && turns.delete(stockId));
  turns.set(stockId, over);
  return turn;
}

/** Edits that set a recipe and, where wished, divide the offset of every part that wears the model by what changed. */
export function recipeEdit(doc: Piece, stockId: string, recipe: Recipe | null, change: TransformSettings | null, keepFit: boolean): Edit {
  const edits: SingleEdit[] = [];
  if (change && keepFit)
    for (const p of wearers(doc, stockId)) {
      if (p.locked) edits.push(changePart(p.id, { locked: false }));
      edits.push(changePart(p.id, { offset: divideOffset(p.offset, change) }));
      if (p.locked) edits.push(changePart(p.id, { locked: true }));
    }
  // last, so that the history names the edit by it
  edits.push(...setRecipe(doc, stockId, recipe));
  return batch(edits);
}

type Store = Pick<PieceState, 'id' | 'history' | 'assets' | 'addAsset' | 'commit'>;

async function prepare(
  get: () => Store,
  item: Pick<StockItem, 'original' | 'model' | 'name'>,
  steps: RecipeStep[],
): Promise<{ asset: AssetFacts; unmatched: string[] }> {
  const answer = await api.prepare(get().id, { original: item.original, model: item.model, name: item.name, steps });
  get().addAsset(answer.asset);
  return answer;
}

/** Adds fixes to a model's recipe. `all`: asks again for fixes that mending brought to light. Rejects with the server's sentence. */
export const mend = (
  get: () => Store,
  stockId: string,
  drafts: readonly StepDraft[],
  how: { keepFit: boolean; all: boolean },
): Promise<void> => serially(stockId, () => mendNow(get, stockId, drafts, how));

async function mendNow(
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
  for (let round = 1; all && round < FIX_ROUNDS && answer.asset.facts?.kind === 'model'; round++) {
    const found = judgeFindings(answer.asset.facts, {
      kind: item.stated,
      credit: item.credit,
      changed: true,
      uponForm: isUponForm([...before, ...added]),
      pictures: picturesAtHand(doc, get().assets),
    });
    const letBe = new Set(item.dismissed.map((d) => `${d.code} ${d.where}`));
    const more = mergeDrafts(found.flatMap((f): StepDraft[] => (isUnseen(f) && !letBe.has(`${f.code} ${f.where ?? ''}`) ? [f.fix] : [])));
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

const rankOf = (s: StepDraft) => STEPS[s.step].rank ?? 1;

/** Adds steps to the recipe of a file that is no model, or puts a newer choice in an older one's place. */
export const mendOther = (get: () => Store, stockId: string, drafts: readonly StepDraft[]): Promise<void> =>
  serially(stockId, () => mendOtherNow(get, stockId, drafts));

async function mendOtherNow(get: () => Store, stockId: string, drafts: readonly StepDraft[]): Promise<void> {
  const before = get().history.doc.recipes[stockId]?.steps ?? [];
  const fresh = asSteps(mergeDrafts(drafts));
  const kept = before.filter((s) => !STEPS[s.step].once || !fresh.some((f) => f.step === s.step));
  const steps = [...kept, ...fresh].map((s, i) => ({ s, i })).sort((a, b) => rankOf(a.s) - rankOf(b.s) || a.i - b.i);
  await setStepsNow(
    get,
    stockId,
    steps.map(({ s }) => s),
    true,
  );
}
export const putStep = (get: () => Store, stockId: string, draft: StepDraft) => mendOther(get, stockId, [draft]);

/** A newer file in the place of one that is no model; its recipe is run again. */
export async function replaceOther(get: () => Store, old: MediaItem, files: readonly File[]): Promise<void> {
  const answer = await sendGroup(
    get().id,
    files.map((file) => ({ name: file.webkitRelativePath || file.name, file })),
  );
  const [came] = answer.items;
  if (came?.item.kind !== old.kind) throw new Error(`A ${old.kind} can only be replaced by another ${old.kind}.`);
  await putInPlace(get, old, came.item, came.asset);
}

export const putInPlace = (get: () => Store, old: MediaItem, incoming: Omit<MediaItem, 'id'>, asset: AssetFacts): Promise<void> =>
  serially(old.id, () => putInPlaceNow(get, old, incoming, asset));

async function putInPlaceNow(get: () => Store, old: MediaItem, incoming: Omit<MediaItem, 'id'>, asset: AssetFacts): Promise<void> {
  get().addAsset(asset);
  const item: MediaItem = { ...incoming, id: old.id, name: old.name, credit: old.credit, dismissed: old.dismissed };
  const steps = (get().history.doc.recipes[old.id]?.steps ?? []).filter((s) => stepFits(item.kind, s.step));
  const recipe = steps.length > 0 ? { steps, result: (await prepare(get, item, steps)).asset.model } : null;
  get().commit(batch([...(recipe ? setRecipe(get().history.doc, old.id, recipe) : []), replaceItem(item)]));
}

/** Sets the whole recipe and runs it, unless what it yields is at hand; without steps the file is as delivered again. */
export const setSteps = (
  get: () => Store,
  stockId: string,
  steps: RecipeStep[],
  keepFit: boolean,
  ready: AssetFacts | null = null,
): Promise<void> => serially(stockId, () => setStepsNow(get, stockId, steps, keepFit, ready));

async function setStepsNow(
  get: () => Store,
  stockId: string,
  steps: RecipeStep[],
  keepFit: boolean,
  ready: AssetFacts | null = null,
): Promise<void> {
  const { doc } = get().history;
  const item = doc.stock[stockId];
  if (!item) return;
  const before = wholeTransform(doc.recipes[stockId]?.steps ?? []);
  if (ready) get().addAsset(ready);
  const recipe = steps.length > 0 ? { steps, result: (ready ?? (await prepare(get, item, steps)).asset).model } : null;
  const change = between(before, wholeTransform(steps));
  get().commit(recipeEdit(get().history.doc, stockId, recipe, change, keepFit));
}

/** Recipes that were run on many models, kept as one edit: one undo takes all of them back. */
export function keepMany(get: () => Store, made: readonly { stock: string; steps: RecipeStep[]; asset: AssetFacts }[]): void {
  const edits = made.flatMap(({ stock, steps, asset }): SingleEdit[] => {
    get().addAsset(asset);
    const { doc } = get().history;
    const change = between(wholeTransform(doc.recipes[stock]?.steps ?? []), wholeTransform(steps));
    const edit = recipeEdit(doc, stock, { steps, result: asset.model }, change, true);
    return singles(edit);
  });
  get().commit(batch(edits));
}

const NONE: TransformSettings = { factor: 1, turnDeg: { yaw: 0, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: false };

/** What takes a model that was changed by `a` to one changed by `b`. */
function between(a: TransformSettings | null, b: TransformSettings | null): TransformSettings | null {
  if (!a && !b) return null;
  return combineTransforms(inverse(a ?? NONE), b ?? NONE);
}

function inverse(t: TransformSettings): TransformSettings {
  // a turn back is three turns back, the last first
  const only = (turnDeg: Partial<TransformSettings['turnDeg']>): TransformSettings => ({
    ...NONE,
    turnDeg: { ...NONE.turnDeg, ...turnDeg },
  });
  const back = [only({ yaw: -t.turnDeg.yaw }), only({ pitch: -t.turnDeg.pitch }), only({ roll: -t.turnDeg.roll })].reduce(
    combineTransforms,
  );
  const moved = { ...NONE, shiftM: t.shiftM.map((x) => -x) as [number, number, number] };
  return combineTransforms(moved, { ...back, factor: 1 / t.factor });
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
  const done = steps.length > 0 ? await serially(stockId, () => prepare(get, item, steps)) : null;
  const recipe = done ? { steps, result: done.asset.model } : null;
  const unmatched = done?.unmatched.map((u) => `${u[0].toUpperCase()}${u.slice(1)}; the link stays in the recipe.`) ?? [];
  const was = judgeStock(doc, stockId, get().assets)?.facts;
  const is = (done?.asset ?? asset).facts;
  if (was?.kind === 'model' && is?.kind === 'model') {
    const gone = (a: readonly { name: string }[], b: readonly { name: string }[]) =>
      a.filter((x) => !b.some((y) => y.name === x.name)).map((x) => x.name);
    for (const name of gone(was.meshList, is.meshList)) unmatched.push(`The shape ${name} is not in the new file.`);
    for (const name of gone(was.clips, is.clips)) unmatched.push(`The clip ${name} is not in the new file.`);
    const materials = (f: typeof was) => [...new Set(f.meshList.flatMap((m) => m.materials))].map((name) => ({ name }));
    for (const name of gone(materials(was), materials(is))) unmatched.push(`The material ${name} is not in the new file.`);
    const next = judgeStock(
      {
        ...doc,
        stock: { ...doc.stock, [stockId]: item },
        recipes: recipe ? { ...doc.recipes, [stockId]: { id: stockId, ...recipe } } : doc.recipes,
      },
      stockId,
      get().assets,
    );
    for (const d of old.dismissed)
      if (next && !next.dismissed.some((f) => f.code === d.code && (f.where ?? '') === d.where))
        unmatched.push(`You let “${d.code}” be${d.where ? ` at ${d.where}` : ''}; it is not found in the new file. Your reason stays.`);
  }
  return { item, asset, recipe, unmatched };
}

/** A stock file's row with another file in it. */
function replaceItem(item: StockItem): SingleEdit {
  const { id, kind: _kind, ...set } = item;
  return change('stock', id, set);
}

export const replacementEdit = (doc: Piece, r: Replacement): Edit =>
  batch([...(r.recipe || doc.recipes[r.item.id] ? setRecipe(doc, r.item.id, r.recipe) : []), replaceItem(r.item)]);
