import * as z from 'zod';
import { defineStep } from './define';

export const PACKINGS = ['meshopt', 'draco'] as const;
export const CompressSettings = z.strictObject({ method: z.enum(PACKINGS) });
export type CompressSettings = z.infer<typeof CompressSettings>;

export const compress = defineStep({
  settings: CompressSettings,
  for: ['model'],
  effect: 'pack',
});
