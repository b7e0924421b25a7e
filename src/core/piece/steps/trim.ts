import * as z from 'zod';
import { defineStep } from './define';

/** What is kept of a sound, in seconds. */
export const TrimSettings = z.strictObject({ fromS: z.number().min(0).max(86_400), toS: z.number().min(0).max(86_400) });

export const trim = defineStep({
  settings: TrimSettings,
  for: ['sound'],
  effect: 'media',
  once: true,
});
