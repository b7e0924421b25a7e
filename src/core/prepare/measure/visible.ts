/** Which points of a surface can be seen from outside at all. */
import { Vector3 } from 'three';
import { type Camera, depthMap } from './raster';
import { type Shape, shapeBox } from './shape';

const DIRECTIONS = 42;
const EDGE = 384;

/** Directions spread evenly over the ball. (Fibonacci lattice: Swinbank and Purser 2006.) */
export function evenDirections(count: number): Vector3[] {
  const golden = Math.PI * (3 - Math.sqrt(5));
  return Array.from({ length: count }, (_, i) => {
    const y = 1 - (2 * i + 1) / count;
    const r = Math.sqrt(1 - y * y);
    return new Vector3(Math.cos(golden * i) * r, y, Math.sin(golden * i) * r);
  });
}

export interface Lookout {
  cameras: Camera[];
  depths: Float32Array[];
}

/** Depth maps of a shape from all sides; `from` limits the sides. */
export function lookout(shape: Shape, from: Vector3[] = evenDirections(DIRECTIONS)): Lookout {
  const box = shapeBox(shape);
  const centre = box.min.clone().add(box.max).multiplyScalar(0.5);
  const across = Math.max(box.max.distanceTo(box.min), 1e-9);
  const cameras = from.map((back): Camera => {
    const right = (Math.abs(back.y) > 0.9 ? new Vector3(1, 0, 0) : new Vector3(0, 1, 0)).cross(back).normalize();
    return { right, up: new Vector3().crossVectors(back, right), back, centre, scale: (EDGE - 4) / across, width: EDGE, height: EDGE };
  });
  return { cameras, depths: cameras.map((c) => depthMap(shape, c)) };
}

/** Depths that differ by this many pixels are the same: the map knows one depth a pixel, a slope runs through it. */
const SLACK = 2.5;

/** Whether a point is seen from any of the directions. */
export function isSeen(look: Lookout, x: number, y: number, z: number): boolean {
  for (let i = 0; i < look.cameras.length; i++) {
    const { right: r, up: u, back: b, centre: c, scale, width, height } = look.cameras[i];
    const [X, Y, Z] = [x - c.x, y - c.y, z - c.z];
    const px = Math.floor(width / 2 + (X * r.x + Y * r.y + Z * r.z) * scale);
    const py = Math.floor(height / 2 - (X * u.x + Y * u.y + Z * u.z) * scale);
    if (px < 0 || py < 0 || px >= width || py >= height) return true;
    if ((X * b.x + Y * b.y + Z * b.z) * scale >= look.depths[i][py * width + px] - SLACK) return true;
  }
  return false;
}
