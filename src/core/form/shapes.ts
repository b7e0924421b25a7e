/** Shapes as implicit surfaces, and how they join: negative inside, millimetres. */
import { sat } from './vec';

export const smin = (a: number, b: number, k: number) => {
  const h = Math.max(k - Math.abs(a - b), 0) / k;
  return Math.min(a, b) - h * h * k * 0.25;
};
export const smax = (a: number, b: number, k: number) => -smin(-a, -b, k);
/** Asked millions of times: Math.hypot guards against overflow, which lengths of bodies do not need, and takes five times as long. */
export const length = (x: number, y: number, z = 0) => Math.sqrt(x * x + y * y + z * z);
/** Ellipsoid, nearly a distance. */
export function ell(x: number, y: number, z: number, cx: number, cy: number, cz: number, rx: number, ry: number, rz: number) {
  x -= cx;
  y -= cy;
  z -= cz;
  const k0 = length(x / rx, y / ry, z / rz),
    k1 = length(x / (rx * rx), y / (ry * ry), z / (rz * rz));
  return k1 < 1e-9 ? -Math.min(rx, ry, rz) : (k0 * (k0 - 1)) / k1;
}
/** Capsule with linearly varying radius (soft, not exact distance) */
export function cone(
  x: number,
  y: number,
  z: number,
  ax: number,
  ay: number,
  az: number,
  ra: number,
  bx: number,
  by: number,
  bz: number,
  rb: number,
) {
  const ux = bx - ax,
    uy = by - ay,
    uz = bz - az;
  const t = sat(((x - ax) * ux + (y - ay) * uy + (z - az) * uz) / (ux * ux + uy * uy + uz * uz));
  return length(x - ax - ux * t, y - ay - uy * t, z - az - uz * t) - (ra + (rb - ra) * t);
}
