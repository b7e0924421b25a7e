/** How a finish is laid over what is behind it, which faces it has, and what its maps are for. */

export const BLENDS = ['opaque', 'cut', 'over', 'add', 'multiply', 'screen'] as const;
export type Blend = (typeof BLENDS)[number];

export const FACES = ['front', 'back', 'both'] as const;
export type Faces = (typeof FACES)[number];

export const MAP_ROLES = ['base', 'metalRough', 'normal', 'occlusion', 'glow', 'opacity'] as const;
export type MapRole = (typeof MAP_ROLES)[number];

/** By a set of the mesh's UVs, or by the picture: its left upper corner is 0 0, its right lower one 1 1. */
export const UV_SOURCES = [0, 1, 'screen'] as const;
export type UvSource = (typeof UV_SOURCES)[number];

export const FINISH_KINDS = ['surface', 'occluder', 'patch'] as const;
export type FinishKind = (typeof FINISH_KINDS)[number];

/** Every material of a part that nothing else is said of. */
export const EVERY = '*';
/** What a material of that name wears; null: nothing. */
export function finishFor<F>(wears: Readonly<Record<string, F>>, material: string): F | null {
  if (Object.hasOwn(wears, material)) return wears[material];
  return Object.hasOwn(wears, EVERY) ? wears[EVERY] : null;
}
