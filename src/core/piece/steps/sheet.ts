import * as z from 'zod';
import { defineStep } from './define';

/** Longest edge of a sequence's sheet. */
export const SheetSettings = z.strictObject({ maxEdge: z.int().min(64).max(16384) });

export const sheet = defineStep({
  settings: SheetSettings,
  for: ['sequence'],
  effect: 'media',
  once: true,
  rank: 2,
});
