/** Cameras of the fixed views. */
import { Vector3 } from 'three';
import { VIEW_RING } from '../viewing';
import type { Camera } from './raster';

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
