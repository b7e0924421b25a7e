import * as z from 'zod';
import { REST_STANCE_NAMES } from '../../words/stances';
import { defineStep } from './define';

export const StanceSettings = z.strictObject({
  /** How its arms are held at rest from now on. */
  rest: z.enum(REST_STANCE_NAMES),
});
export type StanceSettings = z.infer<typeof StanceSettings>;

export const stance = defineStep({
  settings: StanceSettings,
  for: ['model'],
  effect: 'pose',
});
