import * as z from 'zod';
import { defineStep } from './define';

/** Width of the plane a picture hangs as; the height follows. */
export const PlaneSettings = z.strictObject({ widthMm: z.number().min(0.01).max(1e6) });

export const plane = defineStep({
  settings: PlaneSettings,
  for: ['picture', 'sequence'],
  effect: 'media',
  once: true,
  rank: 3,
});
