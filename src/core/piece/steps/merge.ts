import * as z from 'zod';
import { defineStep } from './define';

export const MergeSettings = z.strictObject({ materials: z.boolean(), meshes: z.boolean() });
export type MergeSettings = z.infer<typeof MergeSettings>;

export const merge = defineStep({
  settings: MergeSettings,
  for: ['model'],
  effect: 'shape',
});
