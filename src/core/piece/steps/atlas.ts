import * as z from 'zod';
import { defineStep } from './define';

/** Small pictures of materials that draw alike become parts of one, at most so large; their materials become one. */
export const AtlasSettings = z.strictObject({ maxEdge: z.int().min(64).max(16384) });
export type AtlasSettings = z.infer<typeof AtlasSettings>;

export const atlas = defineStep({
  settings: AtlasSettings,
  for: ['model'],
  effect: 'pictures',
});
