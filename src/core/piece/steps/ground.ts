import * as z from 'zod';
import { defineStep } from './define';

/** The lowest point comes to lie at height nought. */
export const GroundSettings = z.strictObject({});

export const ground = defineStep({
  settings: GroundSettings,
  for: ['model'],
  effect: 'place',
});
