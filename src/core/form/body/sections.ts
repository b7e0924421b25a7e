/** Sections and ends of the body's lofted tubes, as implicit surfaces. Millimetres. */
import { ell, length } from '../shapes';

/** Ellipsoid whose first axis is turned by a about X (pitch), then b about Z */
export function ellR(
  x: number,
  y: number,
  z: number,
  cx: number,
  cy: number,
  cz: number,
  rx: number,
  ry: number,
  rz: number,
  a: number,
  b = 0,
) {
  x -= cx;
  y -= cy;
  z -= cz;
  let c = Math.cos(b),
    s = Math.sin(b);
  const X = c * x + s * y,
    Y = -s * x + c * y;
  c = Math.cos(a);
  s = Math.sin(a);
  return ell(X, c * Y + s * z, -s * Y + c * z, 0, 0, 0, rx, ry, rz);
}
/** Super-ellipse section, centre (u,v), half axes by quadrant; nearly a distance */
export function sect(u: number, v: number, up: number, um: number, vp: number, vm: number, n: number) {
  const a = Math.abs(u) / (u > 0 ? up : um),
    b = Math.abs(v) / (v > 0 ? vp : vm),
    k = Math.pow(Math.pow(a, n) + Math.pow(b, n), 1 / n);
  return k < 0.05 ? -0.95 * Math.min(up, um, vp, vm) : length(u, v) * (1 - 1 / k);
}
/** Ends a tube `over` millimetres past its end. */
export const endCap = (d: number, over: number) => (over <= 0 ? d : d > 0 ? length(d, over) : Math.max(over, d));
