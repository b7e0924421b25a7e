/** What is said of blends and maps. */
import type { Blend, FinishKind, MapRole, UvSource } from './words';

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
  opacity: 'opacity',
};

export const FINISH_KIND_WORDS: Readonly<Record<FinishKind, readonly [label: string, use: string]>> = {
  surface: ['surface', 'Is seen: cloth, metal, glass, print'],
  occluder: ['occluder', 'Hides what is behind it and is not seen: a stand-in for a real thing'],
  patch: ['live picture', 'Shows the camera’s picture as it is there: a window through what lies behind it'],
};

export const UV_WORDS: Readonly<Record<UvSource, readonly [label: string, use: string]>> = {
  0: ['UVs', 'Laid out by the mesh: it moves with the part'],
  1: ['second UVs', 'Laid out by the mesh’s second set'],
  screen: ['screen', 'Laid over the picture: it stays while the part moves'],
};

/** What each channel of a role's picture is for, in the order of red, green, blue, alpha; all of it is shown first. */
export const CHANNELS: Readonly<Record<MapRole, readonly (readonly [channel: 0 | 1 | 2 | 3, means: string])[]>> = {
  base: [[3, 'alpha']],
  metalRough: [
    [1, 'roughness'],
    [2, 'metal'],
  ],
  normal: [],
  occlusion: [[0, 'occlusion']],
  glow: [],
  opacity: [[1, 'opacity']],
};
/** Roles whose pictures are colours (sRGB); the others are numbers. */
export const COLOUR_ROLES: ReadonlySet<MapRole> = new Set(['base', 'glow']);
