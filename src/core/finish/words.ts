/** How a finish is laid over what is behind it, which faces it has, and what its maps are for. */

export const BLENDS = ['opaque', 'cut', 'over', 'add', 'multiply', 'screen'] as const;
export type Blend = (typeof BLENDS)[number];

export const FACES = ['front', 'back', 'both'] as const;
export type Faces = (typeof FACES)[number];

export const MAP_ROLES = ['base', 'metalRough', 'normal', 'occlusion', 'glow'] as const;
export type MapRole = (typeof MAP_ROLES)[number];

/** Every material of a part that nothing else is said of. */
export const EVERY = '*';
/** What a material of that name wears; null: nothing. */
export function finishFor<F>(wears: Readonly<Record<string, F>>, material: string): F | null {
  if (Object.hasOwn(wears, material)) return wears[material];
  return Object.hasOwn(wears, EVERY) ? wears[EVERY] : null;
}
