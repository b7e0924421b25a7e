import * as z from 'zod';
import { defineStep } from './define';
import { Edge } from './values';

/** Drawn anew at a width in pixels, for pictures made of shapes. */
export const RasterSettings = z.strictObject({ width: Edge });

export const raster = defineStep({
  settings: RasterSettings,
  for: ['picture'],
  effect: 'media',
  once: true,
  rank: 0,
});
