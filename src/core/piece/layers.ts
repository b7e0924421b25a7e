/** The stacking: layers back to front, each drawn on top of what is before it. */
import * as z from 'zod';
import { MAIN_LAYER_ID } from '../parts/common';
import { Id, Name } from '../words/values';

/** Live masks of the picture that a device gives. */
export const MATTE_NAMES = ['person', 'face', 'hands'] as const;
export type MatteName = (typeof MATTE_NAMES)[number];
export const MATTE_LABELS: Readonly<Record<MatteName, string>> = { person: 'Wearer again', face: 'Face again', hands: 'Hands again' };
export const Matte = z.strictObject({
  name: z.enum(MATTE_NAMES),
  invert: z.boolean().default(false),
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
  l.name ?? (l.id === MAIN_LAYER_ID ? 'Main' : l.kind === 'matte' ? MATTE_LABELS[l.matte.name] : LAYER_LABELS[l.kind]);
