import * as z from 'zod';
import { defineStep } from './define';

/** How fine numbers are written, in bits; it shows where bytes are packed or written as whole numbers. */
export const QuantiseSettings = z.strictObject({
  positionBits: z.int().min(6).max(16),
  normalBits: z.int().min(4).max(16),
  uvBits: z.int().min(6).max(16),
});
export type QuantiseSettings = z.infer<typeof QuantiseSettings>;

export const quantise = defineStep({
  settings: QuantiseSettings,
  for: ['model'],
  effect: 'pack',
});
