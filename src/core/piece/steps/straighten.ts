import * as z from 'zod';
import { defineStep } from './define';
import { Edge, Pixels } from './values';

/** The picture's four corners in the photograph (upper left, upper right, lower right, lower left) become a rectangle. */
export const StraightenSettings = z.strictObject({
  corners: z.tuple([z.tuple([Pixels, Pixels]), z.tuple([Pixels, Pixels]), z.tuple([Pixels, Pixels]), z.tuple([Pixels, Pixels])]),
  width: Edge,
  height: Edge,
});
export type StraightenSettings = z.infer<typeof StraightenSettings>;

export const straighten = defineStep({
  settings: StraightenSettings,
  for: ['picture'],
  effect: 'media',
});
