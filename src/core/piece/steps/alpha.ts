import * as z from 'zod';
import { defineStep, united } from './define';

export const AlphaSettings = z.strictObject({
  ops: z
    .array(z.enum(['bleed', 'drop']))
    .min(1)
    .max(2),
});

export const alpha = defineStep({
  settings: AlphaSettings,
  for: ['picture'],
  effect: 'media',
  merge: united,
});
