/**
 * A finish: how a surface looks, in the terms of glTF's metallic-roughness model and its ratified extensions, and how it is laid over what
 * is behind it. Colours as people give them (sRGB hex, IEC 61966-2-1), shares 0 … 1, lengths in millimetres.
 */
import * as z from 'zod';
import { Matte } from '../words/mattes';
import { Colour, Id, Name, Share } from '../words/values';
import { BLENDS, FACES, FINISH_KINDS, MAP_ROLES, type MapRole, UV_SOURCES } from './words';

const index = z.number().min(1).max(2.333);
const pair = (least: number, most: number) => z.tuple([z.number().min(least).max(most), z.number().min(least).max(most)]);
/** A picture of Stock: by which UVs of the mesh, moved and repeated so often, turned (KHR_texture_transform: in that order from the right). */
const MapSet = z.strictObject({
  stock: Id,
  uv: z.literal(UV_SOURCES).default(0),
  offset: pair(-1000, 1000).default([0, 0]),
  repeat: pair(-1000, 1000).default([1, 1]),
  turnDeg: z.number().min(-360).max(360).default(0),
});
export type MapSet = z.infer<typeof MapSet>;
/** `own`: what the material that it is worn on has in that role; null: none. */
const MapUse = z
  .union([z.literal('own'), MapSet])
  .nullable()
  .default('own');

export const FinishRow = z.strictObject({
  id: Id,
  name: Name,
  /** `occluder`: hides, and is not seen; `patch`: shows the camera's picture as it is there. */
  kind: z.enum(FINISH_KINDS).default('surface'),
  /** Shows its colour as it is, in any light (KHR_materials_unlit). */
  unlit: z.boolean().default(false),
  colour: Colour.default('#ffffff'),
  opacity: Share.default(1),
  metal: Share.default(0),
  roughness: Share.default(0.6),
  /** How deep the normal map goes, × what it says. */
  relief: z.number().min(0).max(4).default(1),
  /** How much the occlusion map darkens. */
  occlusion: Share.default(1),
  /** Light it gives, and how strong (KHR_materials_emissive_strength). */
  glow: Colour.default('#000000'),
  glowStrength: z.number().min(0).max(1000).default(1),
  /** KHR_materials_clearcoat. */
  clearcoat: Share.default(0),
  clearcoatRoughness: Share.default(0.05),
  /** KHR_materials_sheen. */
  sheen: Colour.default('#000000'),
  sheenRoughness: Share.default(0.5),
  /** KHR_materials_transmission, _ior, _volume, _dispersion. */
  transmission: Share.default(0),
  ior: index.default(1.5),
  thicknessMm: z.number().min(0).max(10_000).default(0),
  tint: Colour.default('#ffffff'),
  /** White light has the tint after so far; null: it keeps white. */
  tintMm: z.number().min(0.01).max(100_000).nullable().default(null),
  dispersion: z.number().min(0).max(20).default(0),
  /** KHR_materials_specular. */
  specular: Share.default(1),
  specularColour: Colour.default('#ffffff'),
  /** KHR_materials_iridescence: a film of so many nanometres. */
  iridescence: Share.default(0),
  iridescenceIor: index.default(1.3),
  filmNm: z.number().min(0).max(2000).default(400),
  /** KHR_materials_anisotropy. */
  anisotropy: Share.default(0),
  anisotropyDeg: z.number().min(-360).max(360).default(0),
  blend: z.enum(BLENDS).default('opaque'),
  /** `cut`: what is clearer is not there. */
  cutAt: Share.default(0.5),
  faces: z.enum(FACES).default('front'),
  depthTest: z.boolean().default(true),
  /** null: as its blend has it. */
  depthWrite: z.boolean().nullable().default(null),
  /** A live mask of the picture as its opacity, besides its own. */
  matte: Matte.nullable().default(null),
  /** Whose maps `own` means, of the file's materials by name; null: those of the one that wears it. */
  ownOf: z.string().max(1000).nullable().default(null),
  maps: z
    .strictObject(Object.fromEntries(MAP_ROLES.map((r) => [r, MapUse])) as Record<MapRole, typeof MapUse>)
    .default(() => Object.fromEntries(MAP_ROLES.map((r) => [r, 'own'])) as Record<MapRole, 'own'>),
});
export type FinishRow = z.infer<typeof FinishRow>;
/** A map as it is drawn: its picture by the SHA-256 of its GLB; null: not at hand. */
export type DrawnMap = 'own' | null | (Omit<MapSet, 'stock'> & { file: string | null });
export type DrawnFinish = Omit<FinishRow, 'maps'> & { maps: Readonly<Record<MapRole, DrawnMap>> };
