import * as z from 'zod';
import { HUMANOID_DETAILS } from '../../words/humanoid';
import { WEIGHT_METHODS } from './chains';
import { defineStep } from './define';
import { Point } from './values';

export const FigureSettings = z.strictObject({
  /** Bones raised. */
  detail: z.literal(HUMANOID_DETAILS),
  /** Joints put by hand, metres of the model, by VRM humanoid bone; the others are found. */
  jointsM: z.record(z.string().min(1).max(40), Point),
  weights: z.enum(WEIGHT_METHODS),
});
export type FigureSettings = z.infer<typeof FigureSettings>;

export const figure = defineStep({
  settings: FigureSettings,
  for: ['model'],
  effect: 'rig',
});
