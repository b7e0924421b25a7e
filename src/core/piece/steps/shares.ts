import * as z from 'zod';
import { defineStep } from './define';
import { Point } from './values';

const Bone = z.string().min(1).max(1000);
const RadiusM = z.number().positive().max(100);
/** What was put right at one place of the surface, metres of the model. */
const Edit = z.discriminatedUnion('kind', [
  /** All of the piece there follows one bone: a rivet, a button, a lamp. */
  z.strictObject({ kind: z.literal('piece'), atM: Point, bone: Bone }),
  /** Within so far along the surface a bone has this share in the middle, and less of it towards the border. */
  z.strictObject({ kind: z.literal('region'), atM: Point, radiusM: RadiusM, bone: Bone, share: z.number().min(0).max(1) }),
  /** Within so far shares go over into their neighbours'. */
  z.strictObject({ kind: z.literal('smooth'), atM: Point, radiusM: RadiusM, rounds: z.int().min(1).max(50) }),
]);
export const SharesSettings = z.strictObject({
  edits: z.array(Edit).min(1).max(500),
  /** Each is done on the other side of the shape's middle too, to the bone of the other side. */
  mirrored: z.boolean(),
});
export type SharesSettings = z.infer<typeof SharesSettings>;

/** Weights put right by hand, in the order it was done. */
export const shares = defineStep({
  settings: SharesSettings,
  for: ['model'],
  effect: 'rig',
});
