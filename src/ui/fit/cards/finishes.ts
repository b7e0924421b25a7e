/** What a part's materials wear, and what pressing does to that. */
import { EVERY, type FinishRow, finishFor, finishOfMaterial, libraryFinish, libraryName } from '@/core/finish';
import type { Model } from '@/core/model';
import { add, batch, changePart, type Part, type Piece } from '@/core/piece';

/** A material of what a part is made of; '' where it has none. */
export interface Slot {
  material: string;
  /** Triangles that wear it. */
  triangles: number;
}

/** Materials of one name are one; @param model null: a solid, which has none */
export function slotsOf(model: Model | null): Slot[] {
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

/** What it wears: a finish of the piece, or null: as the file has it. */
export function wornFinish({ finishes }: Piece, { wears }: Part, { material }: Slot): FinishRow | null {
  const id = finishFor(wears, material);
  return id ? finishes[id] : null;
}

/** Another finish on one slot, or on all of them. @param id null: as the file has it */
export function wearFinish(part: Part, slots: readonly Slot[], slot: Slot | null, id: string | null) {
  if (!slot) return changePart(part.id, { wears: id ? { [EVERY]: id } : {} });
  // what all wore is now worn by each of the others
  const each = slots.flatMap((s) => {
    const worn = s === slot ? id : finishFor(part.wears, s.material);
    return worn ? [[s.material, worn] as const] : [];
  });
  return changePart(part.id, { wears: Object.fromEntries(each) });
}

const freeName = ({ finishes }: Piece, wish: string): string => {
  const names = new Set(Object.values(finishes).map((f) => f.name));
  // names in files may hold anything
  const base =
    wish
      .replace(/\p{Cc}/gu, ' ')
      .slice(0, 110)
      .trim() || 'Finish';
  if (!names.has(base)) return base;
  for (let n = 2; ; n++) if (!names.has(`${base} ${n}`)) return `${base} ${n}`;
};

/** One of our own finishes joins the piece and is worn. */
export function bringFinish(doc: Piece, part: Part, slots: readonly Slot[], slot: Slot | null, key: string, id: string) {
  const row = { ...libraryFinish(key, id), name: freeName(doc, libraryName(key)) };
  return batch([add('finishes', row), wearFinish(part, slots, slot, id)]);
}

/** Another finish like one, by another name. */
export const finishLike = (doc: Piece, of: FinishRow, id: string) => add('finishes', { ...of, id, name: freeName(doc, of.name) });

/** Another finish like one, worn on a slot in its place. */
export function copyFinish(doc: Piece, part: Part, slots: readonly Slot[], slot: Slot, of: FinishRow, id: string) {
  return batch([finishLike(doc, of, id), wearFinish(part, slots, slot, id)]);
}

/** The file's own look as a finish that can be changed. */
export function ownFinish(doc: Piece, part: Part, model: Model | null, slots: readonly Slot[], slot: Slot, id: string) {
  const material = model?.materials.find((m) => m.name === slot.material) ?? null;
  const name = freeName(doc, slot.material || `${part.name}, surface`);
  const row = model ? finishOfMaterial(material, id, name) : { ...libraryFinish('plain', id), name };
  return batch([add('finishes', row), wearFinish(part, slots, slot, id)]);
}
