/** Live masks of the picture that a device gives, and how one is used. */
import * as z from 'zod';

export const MATTE_NAMES = ['person', 'face', 'hair', 'hands', 'sky'] as const;
export type MatteName = (typeof MATTE_NAMES)[number];

export const Matte = z.strictObject({
  name: z.enum(MATTE_NAMES),
  invert: z.boolean().default(false),
  /** How far its edge is moved out, or in where it is under nought, px of the picture. */
  growPx: z.number().min(-64).max(64).default(0),
  /** How far its edge is softened, px of the picture. */
  featherPx: z.number().min(0).max(64).default(0),
});
export type Matte = z.infer<typeof Matte>;
