import * as z from 'zod';
import { defineStep } from './define';

export const BonesSettings = z.strictObject({
  dropUnused: z.boolean(),
  fourInfluences: z.boolean(),
  /** Most bones a skin may have; the least moving are merged into their parents. null: any. */
  limit: z.int().min(1).max(10_000).nullable(),
});
export type BonesSettings = z.infer<typeof BonesSettings>;

export const bones = defineStep({
  settings: BonesSettings,
  for: ['model'],
  effect: 'shape',
});
