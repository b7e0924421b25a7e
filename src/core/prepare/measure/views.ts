/** The fixed views a model is looked at from: a ring of eight, one from above and one from below. */
import { Vector3 } from 'three';
import type { Kind } from '../../intake/placing/kinds';
import type { Camera } from './raster';

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

/** Pixels a metre at one metre: a picture of 1080 px over 60° (*common practice* for a phone's short side). */
const PIXELS = 1080 / (2 * Math.tan(Math.PI / 6));
const [LEAST, MOST] = [96, 320];
const MARGIN = 8;

/** The ring of cameras round a box, at the size the model is seen from `distanceM`; the longest side of a picture is 96 to 320 px. */
export function ringOf(box: { min: Vector3; max: Vector3 }, distanceM: number): Camera[] {
  const centre = box.min.clone().add(box.max).multiplyScalar(0.5);
  const size = box.max.clone().sub(box.min);
  const across = Math.max(size.length(), 1e-9);
  const scale = Math.min(MOST, Math.max(LEAST, (across * PIXELS) / distanceM)) / across;
  return VIEW_RING.map(({ bearingDeg, heightDeg }) => {
    const [b, h] = [(bearingDeg * Math.PI) / 180, (heightDeg * Math.PI) / 180];
    const back = new Vector3(Math.sin(b) * Math.cos(h), Math.sin(h), Math.cos(b) * Math.cos(h));
    const right = new Vector3(Math.cos(b), 0, -Math.sin(b));
    const up = new Vector3().crossVectors(back, right);
    const reach = (d: Vector3) => Math.abs(d.x) * size.x + Math.abs(d.y) * size.y + Math.abs(d.z) * size.z;
    const edge = (d: Vector3) => Math.ceil(reach(d) * scale) + 2 * MARGIN;
    return { right, up, back, centre, scale, width: edge(right), height: edge(up) };
  });
}
