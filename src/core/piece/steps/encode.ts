import * as z from 'zod';
import { defineStep } from './define';
import { ENCODINGS } from './values';

export const EncodeSettings = z.strictObject({ format: z.enum(ENCODINGS), quality: z.int().min(1).max(100) });

export const encode = defineStep({
  settings: EncodeSettings,
  for: ['picture'],
  effect: 'media',
  once: true,
  rank: 2,
});
