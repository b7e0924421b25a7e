/** What a piece is lit by and seen under: an environment, turned, as bright as asked, and the exposure of the picture. */
import * as z from 'zod';
import { SKIES } from '../words/skies';
import { Id, Share } from '../words/values';

/** `fitting`: the even light that things are fitted in; one of ours; or an environment of Stock. */
export const Environment = z.union([z.literal('fitting'), z.enum(SKIES), z.strictObject({ stock: Id })]);
export type Environment = z.infer<typeof Environment>;

export const Surroundings = z.strictObject({
  environment: Environment.default('fitting'),
  /** About up, counter-clockwise from above. */
  turnDeg: z.number().min(-360).max(360).default(0),
  /** × its own light. */
  strength: z.number().min(0).max(16).default(1),
  /** How blurred it stands behind the wearer: as a surface so rough mirrors it. */
  blur: Share.default(0.12),
  /** Of the whole picture, in stops. */
  exposureEv: z.number().min(-6).max(6).default(0),
});
export type Surroundings = z.infer<typeof Surroundings>;
export const usualSurroundings = (): Surroundings => ({ environment: 'fitting', turnDeg: 0, strength: 1, blur: 0.12, exposureEv: 0 });
