import * as z from 'zod';
import { defineStep } from './define';

/** How a sequence plays. */
export const PlaySettings = z.strictObject({ fps: z.number().min(0.1).max(240), loop: z.boolean() });
export type PlaySettings = z.infer<typeof PlaySettings>;

export const play = defineStep({
  settings: PlaySettings,
  for: ['sequence'],
  effect: 'media',
  once: true,
  rank: 1,
});
