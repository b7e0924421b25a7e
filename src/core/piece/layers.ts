/** The stacking: layers back to front, each drawn on top of what is before it. */
import * as z from 'zod';
import { MAIN_LAYER_ID } from '../parts/common';
import { Matte, type MatteName } from '../words/mattes';
import { Id, Name } from '../words/values';

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
