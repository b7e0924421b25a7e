import * as z from 'zod';
import { defineStep } from './define';
import { Point } from './values';

export const WEIGHT_METHODS = ['auto', 'heat', 'voxel'] as const;
export const ChainsSettings = z.strictObject({
  /** all: one in every limb of the shape. Else where they were pressed, metres of the model; bones null: as many as the line asks for. */
  chains: z.union([
    z.literal('all'),
    z
      .array(
        z.strictObject({
          name: z.string().min(1).max(100).nullable(),
          rootM: Point,
          tipM: Point,
          bones: z.int().min(1).max(24).nullable(),
        }),
      )
      .min(1)
      .max(200),
  ]),
  weights: z.enum(WEIGHT_METHODS),
});
export type ChainsSettings = z.infer<typeof ChainsSettings>;

export const chains = defineStep({
  settings: ChainsSettings,
  for: ['model'],
  effect: 'shape',
});
