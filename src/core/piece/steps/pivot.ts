import * as z from 'zod';
import { defineStep } from './define';
import { Point } from './values';

/** Where the model's origin comes to lie: under the middle of its base, in the middle of its box, or at a point of it. */
export const PivotSettings = z.strictObject({ to: z.enum(['base', 'centre', 'point']), pointM: Point });
export type PivotSettings = z.infer<typeof PivotSettings>;

export const pivot = defineStep({
  settings: PivotSettings,
  for: ['model'],
  effect: 'place',
});
