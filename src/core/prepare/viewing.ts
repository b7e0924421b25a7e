/** From where and from how far models are looked at: a ring of eight, one from above and one from below. Light enough for a page. */
import type { Kind } from '../words/kinds';

/** Bearing about up from the fore axis towards the wearer's left, and height over the horizon, degrees. */
export const VIEW_RING: readonly { name: string; bearingDeg: number; heightDeg: number }[] = [
  ...Array.from({ length: 8 }, (_, i) => ({ name: `bearing ${i * 45}°`, bearingDeg: i * 45, heightDeg: i % 2 ? -12 : 18 })),
  { name: 'from above', bearingDeg: 20, heightDeg: 72 },
  { name: 'from below', bearingDeg: 200, heightDeg: -65 },
];

/**
 * From how far a thing is looked at, metres (*common practice*: a phone held at arm's length for what is worn on a head, a step
 * back for what is worn on a body, a step or two for what stands in a room).
 */
const DISTANCE_M: Record<Kind, number> = {
  eyewear: 0.5,
  headwear: 0.5,
  earring: 0.5,
  mask: 0.5,
  fullhead: 0.5,
  neckwear: 0.5,
  backpiece: 1.5,
  garment: 1.5,
  prop: 1,
  figure: 2,
};
/** Half a metre is what the thresholds in millimetres are meant for. */
export const REFERENCE_M = 0.5;
export const viewingDistance = (kind: Kind | null): number => (kind ? DISTANCE_M[kind] : REFERENCE_M);
