/** Finishes of our own, by numbers alone: no maps. */
import { FinishRow } from './row';
import { MAP_ROLES } from './words';

type Said = Partial<Omit<FinishRow, 'id' | 'maps'>> & { name: string };
const BARE = Object.fromEntries(MAP_ROLES.map((r) => [r, null])) as FinishRow['maps'];

/** Values chosen by eye; indices of refraction by *common practice*. */
const SAID: Readonly<Record<string, Said>> = {
  // as a solid is drawn that wears nothing (`SOLID_LOOK`)
  plain: { name: 'Plain', colour: '#c5c0b5', roughness: 0.85 },
  brass: { name: 'Brass', colour: '#c99a4b', metal: 1, roughness: 0.24 },
  oilskin: { name: 'Oilskin', colour: '#d9a514', roughness: 0.42, clearcoat: 0.55, clearcoatRoughness: 0.3, faces: 'both' },
  seaGlass: {
    name: 'Sea glass',
    colour: '#bfe3d8',
    roughness: 0.45,
    transmission: 0.85,
    ior: 1.5,
    thicknessMm: 6,
    tint: '#6fc7b0',
    tintMm: 12,
  },
  smokedGlass: {
    name: 'Smoked glass',
    colour: '#ffffff',
    roughness: 0.03,
    transmission: 1,
    ior: 1.5,
    thicknessMm: 2,
    tint: '#4f5357',
    tintMm: 2,
  },
  amberGlass: {
    name: 'Amber glass',
    colour: '#ffffff',
    roughness: 0.03,
    transmission: 1,
    ior: 1.5,
    thicknessMm: 2,
    tint: '#c8803a',
    tintMm: 2,
  },
  roseGlass: {
    name: 'Rose glass',
    colour: '#ffffff',
    roughness: 0.03,
    transmission: 1,
    ior: 1.5,
    thicknessMm: 2,
    tint: '#c9808f',
    tintMm: 2,
  },
  lacquer: { name: 'Lacquer', colour: '#7d1420', roughness: 0.5, clearcoat: 1, clearcoatRoughness: 0.03 },
  felt: { name: 'Felt', colour: '#3d4a63', roughness: 1, sheen: '#8f9cb8', sheenRoughness: 0.6, specular: 0.3 },
  pearl: {
    name: 'Pearl',
    colour: '#efe6dc',
    roughness: 0.28,
    iridescence: 0.8,
    iridescenceIor: 1.6,
    filmNm: 420,
    clearcoat: 0.5,
    ior: 1.53,
  },
  wetStone: { name: 'Wet stone', colour: '#4a4c4b', roughness: 0.75, clearcoat: 0.9, clearcoatRoughness: 0.12, ior: 1.33 },
  sailcloth: { name: 'Sailcloth', colour: '#e7ddc7', roughness: 0.95, sheen: '#5b5445', sheenRoughness: 0.8, faces: 'both' },
  lamplight: { name: 'Lamplight', colour: '#ffd9a0', unlit: true, blend: 'add' },
  darkIron: { name: 'Dark iron', colour: '#3a3b3d', metal: 1, roughness: 0.62 },
};
export const LIBRARY = Object.keys(SAID).filter((key) => key !== 'plain');

/** One of them as a row. */
export const libraryFinish = (key: string, id: string): FinishRow => FinishRow.parse({ ...SAID[key], maps: BARE, id });
export const libraryName = (key: string): string => SAID[key].name;
