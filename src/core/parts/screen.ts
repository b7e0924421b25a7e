/** A picture, a colour or an environment fixed to the edges of the camera's picture: backdrop or foreground, by its layer. */
import * as z from 'zod';
import { Colour, Id, Share } from '../words/values';
import { PartCommon, type PartDef } from './common';

/** How a picture of another shape fills the screen: covers it and is cut, lies within it, is stretched to its edges. */
export const SCREEN_FITS = ['cover', 'within', 'stretch'] as const;
export type ScreenFit = (typeof SCREEN_FITS)[number];

export const ScreenPart = z.strictObject({
  ...PartCommon,
  kind: z.literal('screen'),
  /** A picture or environment of Stock; null: the colour alone. */
  stock: Id.nullable().default(null),
  /** Where the picture leaves room, or all of it without one; null: nothing. */
  colour: Colour.nullable().default(null),
  /** Of a picture; an environment fills all, as the camera turned in it would see it. */
  fit: z.enum(SCREEN_FITS).default('cover'),
  /** Of an environment: about the upright axis, right-handed; at 0 its middle lies where the wearer looks. */
  turnDeg: z.number().min(-360).max(360).default(0),
  /** Of an environment: how much brighter it is shown than it says, in stops. */
  exposureEv: z.number().min(-16).max(16).default(0),
  opacity: Share.default(1),
});
export type ScreenPart = z.infer<typeof ScreenPart>;

export const screen = {
  schema: ScreenPart,
  label: 'Screen',
  use: 'a picture, colour or environment fixed to the picture’s edges, as a backdrop or before everything',
  anchors: ['screen'],
  onParts: false,
  drawnIn: 'screen',
  role: 'fills',
  stockFields: ['stock'],
} as const satisfies PartDef;
