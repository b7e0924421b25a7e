/** What a part's materials wear, usually or in a colourway, and what pressing does to that. */
import { EVERY, type FinishRow, finishFor, finishOfMaterial, libraryFinish, libraryName, type SetMaps, withSet } from '../finish';
import type { ModelMaterial } from '../model/material';
import type { Model } from '../model/model';
import type { Part } from '../parts';
import type { ColourwayRow } from '../piece/colourwayrow';
import { shownColourway, type Wearing, wearersOf, wearing, wearingIn } from '../piece/colourways';
import { add, applyEdit, batch, change, changePart, type Edit, type SingleEdit, settings, singles } from '../piece/edits';
import type { Piece } from '../piece/schema';

/** A material of what a part is made of; '' where it has none. */
export interface Slot {
  material: string;
  /** Triangles that wear it. */
  triangles: number;
}

/** Materials of one name are one; @param model null: a solid, which has none */
export function slotsOf(model: Pick<Model, 'meshes' | 'materials'> | null): Slot[] {
  if (!model) return [{ material: '', triangles: 0 }];
  const triangles = new Map<string, number>();
  for (const mesh of model.meshes)
    for (const p of mesh.primitives) {
      const name = p.material < 0 ? '' : model.materials[p.material].name;
      triangles.set(name, (triangles.get(name) ?? 0) + p.triangles.length / 3);
    }
  return [...triangles].map(([material, count]) => ({ material, triangles: count }));
}

export const slotName = ({ material }: Slot, many: boolean): string => material || (many ? 'without a material' : 'Surface');

/** What it wears now: a finish of the piece, or null: as the file has it. */
export function wornFinish(piece: Piece, part: Part, { material }: Slot): FinishRow | null {
  const id = finishFor(wearing(piece, part), material);
  return id ? piece.finishes[id] : null;
}

/** Whether the colourway shown says itself what a slot wears; always, where none is shown. */
export function saidHere(piece: Piece, part: Part, { material }: Slot): boolean {
  const of = shownColourway(piece);
  return !of || of.looks.some((l) => l.part === part.id && (l.material === material || l.material === EVERY));
}

const UNNAMED = /^Colourway( \d+)?$/;
const colourwayName = ({ colourways }: Piece, wish: string): string =>
  freeName(
    Object.values(colourways).map((c) => c.name),
    wish,
    'Colourway',
  );

type Wears = Record<string, string | null>;
/** What a part wears besides one slot, or all of it. */
function worn(now: Wearing, slots: readonly Slot[], slot: Slot | null, id: string | null): Wears {
  if (!slot) return { [EVERY]: id };
  // what all wore is now worn by each of the others
  return Object.fromEntries(slots.map((s) => [s.material, s.material === slot.material ? id : finishFor(now, s.material)]));
}

const withLooks = (looks: ColourwayRow['looks'], part: string, wears: Wears): ColourwayRow['looks'] => [
  ...looks.filter((l) => l.part !== part),
  ...Object.entries(wears).map(([material, finish]) => ({ part, material, finish })),
];

/**
 * Another finish on one slot, or on all of them, in the colourway shown or usually. A colourway that nobody has named and that says
 * nothing yet is named after it.
 * @param id null: as the file has it @param called the name of a finish that is only coming
 */
export function wearFinish(
  piece: Piece,
  part: Part,
  slots: readonly Slot[],
  slot: Slot | null,
  id: string | null,
  called = id === null ? null : (piece.finishes[id]?.name ?? null),
): SingleEdit {
  const of = shownColourway(piece);
  if (!of) {
    const wears = worn(part.wears, slots, slot, id);
    return changePart(part.id, { wears: Object.fromEntries(Object.entries(wears).filter(([, f]) => f !== null)) as Part['wears'] });
  }
  const now = wearingIn(part, of);
  // what it wears as usual is not said in a colourway, so that it goes on following
  const usual = (material: string) => finishFor(part.wears, material);
  const said = slot && !Object.hasOwn(now, EVERY) ? { ...saidOf(of, part.id), [slot.material]: id } : worn(now, slots, slot, id);
  const more = Object.fromEntries(Object.entries(said).filter(([m, f]) => m === EVERY || f !== usual(m)));
  const unnamed = called !== null && of.looks.length === 0 && UNNAMED.test(of.name);
  const name = unnamed && { name: colourwayName(piece, called) };
  return change('colourways', of.id, { looks: withLooks(of.looks, part.id, more), ...name });
}
const saidOf = ({ looks }: ColourwayRow, part: string): Wears =>
  Object.fromEntries(looks.flatMap((l) => (l.part === part ? [[l.material, l.finish]] : [])));

/** A slot, or all of a part, in the colourway shown as it is usually. */
export function asUsual(piece: Piece, part: Part, slots: readonly Slot[], slot: Slot | null): SingleEdit | null {
  const of = shownColourway(piece);
  if (!of) return null;
  return slot
    ? wearFinish(piece, part, slots, slot, finishFor(part.wears, slot.material))
    : change('colourways', of.id, { looks: withLooks(of.looks, part.id, {}) });
}

/** A name that no other has: a number where it is taken. */
export function freeName(taken: Iterable<string>, wish: string, otherwise: string): string {
  const names = new Set(taken);
  // names in files may hold anything
  const base =
    wish
      .replace(/\p{Cc}/gu, ' ')
      .slice(0, 110)
      .trim() || otherwise;
  if (!names.has(base)) return base;
  for (let n = 2; ; n++) if (!names.has(`${base} ${n}`)) return `${base} ${n}`;
}
/** A name of a file as one of ours. */
const cleanName = (name: string) => freeName([], name, 'Colourway');
const finishName = ({ finishes }: Piece, wish: string): string =>
  freeName(
    Object.values(finishes).map((f) => f.name),
    wish,
    'Finish',
  );

/** One of our own finishes joins the piece and is worn. */
export function bringFinish(piece: Piece, part: Part, slots: readonly Slot[], slot: Slot | null, key: string, id: string): Edit {
  const row = { ...libraryFinish(key, id), name: finishName(piece, libraryName(key)) };
  return batch([add('finishes', row), wearFinish(piece, part, slots, slot, id, row.name)]);
}

/** Another finish like one, by another name. */
export const finishLike = (piece: Piece, of: FinishRow, id: string, name = of.name) =>
  add('finishes', { ...of, id, name: finishName(piece, name) });

/** Another finish like one, worn on a slot in its place. */
export function copyFinish(piece: Piece, part: Part, slots: readonly Slot[], slot: Slot, of: FinishRow, id: string): Edit {
  const here = shownColourway(piece);
  return batch([finishLike(piece, of, id, here ? `${of.name}, ${here.name}` : of.name), wearFinish(piece, part, slots, slot, id)]);
}

/** The look that a slot has by its file, as a finish that is in no piece yet. */
export function fileFinish(part: Part, model: Pick<Model, 'materials'> | null, { material }: Slot): FinishRow {
  const name = cleanName(material || `${part.name}, surface`);
  const own = model?.materials.find((m) => m.name === material) ?? null;
  return model ? finishOfMaterial(own, 'own', name) : { ...libraryFinish('plain', 'own'), name };
}

/** The file's own look as a finish that can be changed. */
export function ownFinish(piece: Piece, part: Part, model: Model | null, slots: readonly Slot[], slot: Slot, id: string): Edit {
  const here = shownColourway(piece);
  const own = fileFinish(part, model, slot);
  const row = { ...own, id, name: finishName(piece, here ? `${own.name}, ${here.name}` : own.name) };
  return batch([add('finishes', row), wearFinish(piece, part, slots, slot, id)]);
}

/**
 * Sets of maps on what they are meant for: each material wears a finish of its own with those.
 * @param sets by material @returns null: there is none for any of them
 */
export function dressSet(
  piece: Piece,
  part: Part,
  model: Model | null,
  slots: readonly Slot[],
  sets: ReadonlyMap<string, SetMaps>,
  newId: () => string,
): Edit | null {
  const edits: SingleEdit[] = [];
  let now = piece;
  const put = (edit: Edit) => {
    edits.push(...singles(edit));
    now = applyEdit(now, edit);
  };
  for (const slot of slots) {
    const set = sets.get(slot.material);
    if (!set) continue;
    const worn = wornFinish(now, now.parts[part.id], slot);
    const id = worn && saidHere(now, part, slot) && wearersOf(now, worn.id) === 1 ? worn.id : newId();
    if (id !== worn?.id)
      put(worn ? copyFinish(now, now.parts[part.id], slots, slot, worn, id) : ownFinish(now, now.parts[part.id], model, slots, slot, id));
    const { id: _, name: _name, ...look } = withSet(now.finishes[id], set);
    put(change('finishes', id, look));
  }
  return edits.length > 0 ? batch(edits) : null;
}

/** A colourway joins the piece and is shown. */
export function addColourway(piece: Piece, id: string, like: ColourwayRow | null = null): Edit {
  const name = colourwayName(piece, like?.name ?? 'Colourway');
  return batch([add('colourways', { id, name, looks: like?.looks ?? [] }), settings({ colourway: id })]);
}

/** Colourways of files whose parts hang here, by part; without those that were taken in before. */
export function offeredColourways(
  piece: Piece,
  modelOf: (part: Part) => Pick<Model, 'variants'> | null,
): { part: Part; names: string[] }[] {
  const said = new Set(Object.values(piece.colourways).flatMap((c) => c.looks.map((l) => `${l.part} ${c.name}`)));
  return Object.values(piece.parts).flatMap((part) => {
    const names = (modelOf(part)?.variants ?? []).filter((v) => Object.keys(v.instead).length > 0).map((v) => v.name);
    const fresh = names.filter((n) => !said.has(`${part.id} ${cleanName(n)}`));
    return fresh.length > 0 ? [{ part, names: fresh }] : [];
  });
}

/**
 * The colourways of a part's file as the piece's own; of one that the piece has by that name already, only this part's looks.
 * @returns null: there is none that could be taken in
 */
export function takeColourways(
  piece: Piece,
  part: Part,
  model: Pick<Model, 'variants' | 'materials'>,
  names: readonly string[],
  newId: () => string,
): Edit | null {
  const edits: SingleEdit[] = [];
  const finishes = new Map<string, string>();
  const taken = new Set(Object.values(piece.finishes).map((f) => f.name));
  const finishOf = (material: ModelMaterial): string => {
    const known = finishes.get(material.name);
    if (known) return known;
    const id = newId();
    const name = freeName(taken, material.name, 'Finish');
    taken.add(name);
    finishes.set(material.name, id);
    edits.push(add('finishes', { ...finishOfMaterial(material, id, name), ownOf: material.name }));
    return id;
  };
  for (const { name, instead } of model.variants) {
    if (!names.includes(name)) continue;
    const wears: Wears = {};
    for (const [from, to] of Object.entries(instead)) {
      const material = model.materials.find((m) => m.name === to);
      // what stands in for itself is as it comes
      if (from === to) wears[from] = null;
      else if (material) wears[from] = finishOf(material);
    }
    const there = Object.values(piece.colourways).find((c) => c.name === cleanName(name));
    if (there) edits.push(change('colourways', there.id, { looks: withLooks(there.looks, part.id, wears) }));
    else edits.push(add('colourways', { id: newId(), name: cleanName(name), looks: withLooks([], part.id, wears) }));
  }
  return edits.length > 0 ? batch(edits.flatMap(singles)) : null;
}
