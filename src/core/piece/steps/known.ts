import * as z from 'zod';
import { HUMANOID_BONES } from '../../words/humanoid';
import { defineStep } from './define';

export const KnownSettings = z.strictObject({
  /** By the joint's name in the file: the VRM 1.0 humanoid bone it is; null: none of a figure's. What is left out is told by its name or its place. */
  joints: z.record(z.string().min(1).max(1000), z.enum(HUMANOID_BONES as [string, ...string[]]).nullable()),
});
export type KnownSettings = z.infer<typeof KnownSettings>;

/** What the bones are that a file came with. */
export const known = defineStep({
  settings: KnownSettings,
  for: ['model'],
  effect: 'rig',
});
