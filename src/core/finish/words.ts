/** How a finish is laid over what is behind it, which faces it has, and what its maps are for. */

export const BLENDS = ['opaque', 'cut', 'over', 'add', 'multiply', 'screen'] as const;
export type Blend = (typeof BLENDS)[number];
export const BLEND_WORDS: Readonly<Record<Blend, readonly [label: string, use: string]>> = {
  opaque: ['solid', 'Hides what is behind it; its alpha is not looked at'],
  cut: ['cut', 'There or not there: leaves, lace, holes; never sorts wrongly'],
  over: ['over', 'Lets through what is behind it by its alpha: glass, veils'],
  add: ['add', 'Adds its light: glow, sparks; black is nothing'],
  multiply: ['multiply', 'Darkens like ink or a stain; white is nothing'],
  screen: ['screen', 'Lightens and never burns out: mist, shafts of light'],
};

export const FACES = ['front', 'back', 'both'] as const;
export type Faces = (typeof FACES)[number];

export const MAP_ROLES = ['base', 'metalRough', 'normal', 'occlusion', 'glow'] as const;
export type MapRole = (typeof MAP_ROLES)[number];
export const MAP_LABELS: Readonly<Record<MapRole, string>> = {
  base: 'base colour',
  metalRough: 'metal and roughness',
  normal: 'normal',
  occlusion: 'occlusion',
  glow: 'glow',
};

/** Every material of a part that nothing else is said of. */
export const EVERY = '*';
/** What a material of that name wears; null: nothing. */
export function finishFor<F>(wears: Readonly<Record<string, F>>, material: string): F | null {
  if (Object.hasOwn(wears, material)) return wears[material];
  return Object.hasOwn(wears, EVERY) ? wears[EVERY] : null;
}
