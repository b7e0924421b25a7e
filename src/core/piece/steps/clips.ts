import * as z from 'zod';
import { defineStep } from './define';

export const ClipsSettings = z.strictObject({ resample: z.boolean(), dropConstant: z.boolean() });
export type ClipsSettings = z.infer<typeof ClipsSettings>;

export const clips = defineStep({
  settings: ClipsSettings,
  for: ['model'],
  effect: 'shape',
});
