/** What is said of blends and maps. */
import type { Blend, MapRole } from './words';

export const BLEND_WORDS: Readonly<Record<Blend, readonly [label: string, use: string]>> = {
  opaque: ['solid', 'Hides what is behind it; its alpha is not looked at'],
  cut: ['cut', 'There or not there: leaves, lace, holes; never sorts wrongly'],
  over: ['over', 'Lets through what is behind it by its alpha: glass, veils'],
  add: ['add', 'Adds its light: glow, sparks; black is nothing'],
  multiply: ['multiply', 'Darkens like ink or a stain; white is nothing'],
  screen: ['screen', 'Lightens and never burns out: mist, shafts of light'],
};

export const MAP_LABELS: Readonly<Record<MapRole, string>> = {
  base: 'base colour',
  metalRough: 'metal and roughness',
  normal: 'normal',
  occlusion: 'occlusion',
  glow: 'glow',
};
