import * as z from 'zod';
import { Sha256 } from '../../words/values';
import { defineStep } from './define';

/** Keys, of thirty a second. */
export const MOST_BLEND = 60;

const Taken = z.strictObject({
  /** SHA-256 of the motion as it is used: a GLB of bones and clips. */
  motion: Sha256,
  /** Of its file. */
  name: z.string().min(1).max(1000),
  /** Of its clips; null: the first. */
  clip: z.string().max(1000).nullable(),
  /** 1 as it was captured. */
  speed: z.number().min(0.25).max(4),
  /** Of all that does not stand on the ground, about its mean: 0 none, 1 as it was. */
  energy: z.number().min(0).max(2),
  /** On the spot; else as far as the figure went. */
  inPlace: z.boolean(),
  /** Keys at the end that go over to the beginning: 0, it ends as it was captured. */
  blend: z.int().min(0).max(MOST_BLEND),
  /** Feet that stand are held where they stand. */
  standing: z.boolean(),
});
export const RetargetSettings = z.strictObject({ clips: z.array(Taken).min(1).max(40) });
export type RetargetSettings = z.infer<typeof RetargetSettings>;

/** Motions of Stock on a figure: on its own bones, or on those that the file came with. */
export const retarget = defineStep({
  settings: RetargetSettings,
  for: ['model'],
  effect: 'shape',
  links: ({ clips }) => clips.map(({ motion, name }) => ({ file: motion, name })),
});
