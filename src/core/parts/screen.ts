/** A picture or a colour fixed to the edges of the camera's picture: backdrop or foreground, by its layer. */
import { z } from 'zod';
import { Colour, Id, Share } from '../words/values';
import { PartCommon, type PartDef } from './common';

/** How a picture of another shape fills the screen: covers it and is cut, lies within it, is stretched to its edges. */
export const SCREEN_FITS = ['cover', 'within', 'stretch'] as const;
export type ScreenFit = (typeof SCREEN_FITS)[number];

export const ScreenPart = z.strictObject({
  ...PartCommon,
  kind: z.literal('screen'),
  /** A picture of Stock; null: the colour alone. */
  stock: Id.nullable().default(null),
  /** Where the picture leaves room, or all of it without one; null: nothing. */
  colour: Colour.nullable().default(null),
  fit: z.enum(SCREEN_FITS).default('cover'),
  opacity: Share.default(1),
});
export type ScreenPart = z.infer<typeof ScreenPart>;

export const screen = {
  schema: ScreenPart,
  label: 'Screen',
  use: 'a picture or colour fixed to the picture’s edges, as a backdrop or before everything',
  anchors: ['screen'],
  onParts: false,
  drawnIn: 'screen',
  role: 'fills',
  stockFields: ['stock'],
} as const satisfies PartDef;
