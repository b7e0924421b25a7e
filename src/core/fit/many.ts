/** One finish on many materials at once, of many parts: picked one by one, or by a pattern of names. */
import type { Model } from '../model/model';
import type { Part } from '../parts';
import { applyEdit, batch, type Edit, type SingleEdit } from '../piece/edits';
import type { Piece } from '../piece/schema';
import { rackOf } from '../piece/selectors';
import { type Slot, slotsOf, wearFinish } from './dress';

export interface Wearable extends Slot {
  part: Part;
  /** All of its part. */
  slots: readonly Slot[];
  /** Names of the meshes that wear it. */
  meshes: readonly string[];
}

/** Everything of a piece that can wear a finish, in the order of the rack; models that are not at hand are left out. */
export function wearables(piece: Piece, modelOf: (part: Part) => Pick<Model, 'meshes' | 'materials'> | null): Wearable[] {
  return rackOf(piece).flatMap((part): Wearable[] => {
    if (part.locked || (part.kind !== 'model' && part.kind !== 'solid')) return [];
    const model = modelOf(part);
    if (part.kind === 'model' && !model) return [];
    const slots = slotsOf(model);
    const meshes = new Map<string, string[]>();
    for (const mesh of model?.meshes ?? [])
      for (const p of mesh.primitives) {
        const name = p.material < 0 ? '' : (model?.materials[p.material].name ?? '');
        meshes.set(name, [...new Set([...(meshes.get(name) ?? []), mesh.name])]);
      }
    return slots.map((s) => ({ ...s, part, slots, meshes: meshes.get(s.material) ?? [] }));
  });
}

/** Whether a pattern is in one of the names: `*` stands for anything; case does not count. '' is in none. */
export function named(pattern: string, names: readonly string[]): boolean {
  const parts = pattern.trim().toLowerCase().split('*');
  if (parts.every((p) => p === '')) return false;
  const source = parts.map((p) => p.replace(/[.+?^${}()|[\]\\]/g, '\\$&')).join('.*');
  const found = new RegExp(source, 'su');
  return names.some((n) => found.test(n.toLowerCase()));
}
export const namesOf = ({ part, material, meshes }: Wearable): string[] => [part.name, material, ...meshes];

/** One finish on all of them. @param id null: as their files have it */
export function wearMany(piece: Piece, on: readonly Wearable[], id: string | null): Edit | null {
  const edits: SingleEdit[] = [];
  let now = piece;
  for (const { part, slots, material } of on) {
    const slot = slots.find((s) => s.material === material) ?? null;
    const edit = wearFinish(now, now.parts[part.id], slots, slot, id);
    edits.push(edit);
    now = applyEdit(now, edit);
  }
  return edits.length > 0 ? batch(edits) : null;
}
