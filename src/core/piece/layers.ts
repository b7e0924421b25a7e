/** The stacking: layers back to front, each drawn on top of what is before it. */
import * as z from 'zod';
import { MAIN_LAYER_ID } from '../parts/common';
import { Id, Name } from '../words/values';

/** Live masks of the picture that a device gives. */
export const MATTE_NAMES = ['person', 'face', 'hair', 'hands', 'sky'] as const;
export type MatteName = (typeof MATTE_NAMES)[number];
export const MATTE_LABELS: Readonly<Record<MatteName, string>> = {
  person: 'Wearer again',
  face: 'Face again',
  hair: 'Hair again',
  hands: 'Hands again',
  sky: 'Sky again',
};
/** The picture again everywhere but there. */
const ELSE_LABELS: Readonly<Record<MatteName, string>> = {
  person: 'All but the wearer again',
  face: 'All but the face again',
  hair: 'All but the hair again',
  hands: 'All but the hands again',
  sky: 'All but the sky again',
};
export const Matte = z.strictObject({
  name: z.enum(MATTE_NAMES),
  invert: z.boolean().default(false),
  /** How far its edge is moved out, or in where it is under nought, px of the picture. */
  growPx: z.number().min(-64).max(64).default(0),
  /** How far its edge is softened, px of the picture. */
  featherPx: z.number().min(0).max(64).default(0),
});
export type Matte = z.infer<typeof Matte>;

const common = { id: Id /** null: named by its kind. */, name: Name.nullable().default(null), visible: z.boolean().default(true) };
export const CameraLayer = z.strictObject({ ...common, kind: z.literal('camera') });
export const ScreenLayer = z.strictObject({ ...common, kind: z.literal('screen') });
export const PartsLayer = z.strictObject({
  ...common,
  kind: z.literal('parts'),
  /** By how far things are, or by their place in the rack. Depth is cleared before either. */
  sort: z.enum(['depth', 'order']).default('depth'),
});
/** The camera's picture again, only inside a matte: the wearer stands before what is behind it. */
export const MatteLayer = z.strictObject({ ...common, kind: z.literal('matte'), matte: Matte });
export const Layer = z.discriminatedUnion('kind', [CameraLayer, ScreenLayer, PartsLayer, MatteLayer]);
export type Layer = z.infer<typeof Layer>;
export type LayerKind = Layer['kind'];

export const CAMERA_LAYER_ID = 'camera';
export const LAYER_LABELS: Readonly<Record<LayerKind, string>> = {
  camera: 'Camera picture',
  screen: 'Screen',
  parts: 'Parts',
  matte: 'Wearer again',
};
export const layerName = (l: Layer): string =>
  l.name ??
  (l.id === MAIN_LAYER_ID
    ? 'Main'
    : l.kind === 'matte'
      ? (l.matte.invert ? ELSE_LABELS : MATTE_LABELS)[l.matte.name]
      : LAYER_LABELS[l.kind]);
