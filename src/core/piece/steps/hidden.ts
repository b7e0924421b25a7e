import * as z from 'zod';
import { defineStep } from './define';
import { ItsName } from './values';

/** Takes out what cannot be seen: inside closed shapes, and what the named meshes hide from every side. */
export const HiddenSettings = z.strictObject({ inside: z.boolean(), behind: z.array(ItsName).max(500) });
export type HiddenSettings = z.infer<typeof HiddenSettings>;

export const hidden = defineStep({
  settings: HiddenSettings,
  for: ['model'],
  effect: 'shape',
});
