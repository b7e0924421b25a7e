import * as z from 'zod';
import { Sha256 } from '../../words/values';
import { defineStep } from './define';

const Taken = z.strictObject({
  /** SHA-256 of a skinned GLB: what was painted, or a model with good weights. */
  weights: Sha256,
  /** Of its file. */
  name: z.string().min(1).max(1000),
});
export const WeightsSettings = z.strictObject({ taken: z.array(Taken).min(1).max(100) });
export type WeightsSettings = z.infer<typeof WeightsSettings>;

/** Weights of other files by the nearest place of their surfaces, one after another: strokes of a brush, kept. */
export const weights = defineStep({
  settings: WeightsSettings,
  for: ['model'],
  effect: 'rig',
  links: ({ taken }) => taken.map(({ weights, name }) => ({ file: weights, name })),
});
