import * as z from 'zod';
import { defineStep } from './define';
import { Point } from './values';

const Pressed = z.strictObject({
  name: z.string().min(1).max(100).nullable(),
  rootM: Point,
  tipM: Point,
  bones: z.int().min(1).max(24).nullable(),
});
const ChainName = z.string().min(1).max(100);
const Joint = z.int().min(1).max(23);
/** What is other than the shape or the presses gave; what is left out is as it was found. */
const Change = z.strictObject({
  bones: z.int().min(1).max(24).optional(),
  name: ChainName.optional(),
  struck: z.boolean().optional(),
  reversed: z.boolean().optional(),
  /** Name of the chain it hangs from; null: the root. */
  from: ChainName.nullable().optional(),
  /** Chains that go on, one after the other, at its tip. */
  goesOn: z.array(ChainName).max(200).optional(),
  /** Joints at which another chain begins. */
  cuts: z.array(Joint).max(23).optional(),
  /** Joints put elsewhere, by their number: 0 is the root. */
  jointsM: z.record(z.string().regex(/^(1?\d|2[0-4])$/), Point).optional(),
});
export const WEIGHT_METHODS = ['auto', 'heat', 'voxel'] as const;
export const ChainsSettings = z.strictObject({
  /** all: one in every limb of the shape. Else where they were pressed, metres of the model; bones null: as many as the line asks for. */
  chains: z.union([z.literal('all'), z.array(Pressed).min(1).max(200)]),
  /** Chains pressed beside those in all limbs. */
  more: z.array(Pressed).max(200).default([]),
  /** By the names chains were found under, which stay whatever they are called. */
  changes: z.record(ChainName, Change).default({}),
  weights: z.enum(WEIGHT_METHODS),
});
export type ChainsSettings = z.infer<typeof ChainsSettings>;

export const chains = defineStep({
  settings: ChainsSettings,
  for: ['model'],
  effect: 'rig',
});
