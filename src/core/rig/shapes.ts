/** Tubes of known middle lines, for tests and the bench: closed, of triangles as even as asked. */
import type { Vec } from './middle';

export interface Tube {
  positions: Float32Array;
  triangles: Uint32Array;
}

/**
 * A tube about a curve, with caps that close to a point at its ends.
 * @param at the curve, metres, for 0 … 1
 * @param radius metres, by the same number
 */
export function tube(at: (t: number) => Vec, radius: (t: number) => number, rings: number, round: number): Tube {
  const positions: number[] = [];
  const triangles: number[] = [];
  const sub = (a: Vec, b: Vec): Vec => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
  const unit = (a: Vec): Vec => {
    const l = Math.hypot(...a) || 1;
    return [a[0] / l, a[1] / l, a[2] / l];
  };
  const cross = (a: Vec, b: Vec): Vec => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const along = (t: number) => unit(sub(at(Math.min(1, t + 1e-4)), at(Math.max(0, t - 1e-4))));
  let side = unit(cross(along(0), Math.abs(along(0)[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]));
  positions.push(...at(0));
  for (let r = 0; r < rings; r++) {
    const t = r / (rings - 1);
    const dir = along(t);
    // the frame is carried along, so that the tube does not twist
    side = unit(cross(cross(dir, side), dir));
    const up = cross(dir, side);
    const p = at(t);
    for (let k = 0; k < round; k++) {
      const [c, s] = [Math.cos((2 * Math.PI * k) / round) * radius(t), Math.sin((2 * Math.PI * k) / round) * radius(t)];
      positions.push(p[0] + side[0] * c + up[0] * s, p[1] + side[1] * c + up[1] * s, p[2] + side[2] * c + up[2] * s);
    }
  }
  positions.push(...at(1));
  const last = positions.length / 3 - 1;
  for (let k = 0; k < round; k++) {
    const n = (k + 1) % round;
    triangles.push(0, 1 + n, 1 + k);
    for (let r = 0; r + 1 < rings; r++) {
      const [a, b, c, d] = [1 + r * round + k, 1 + r * round + n, 1 + (r + 1) * round + k, 1 + (r + 1) * round + n];
      triangles.push(a, b, d, a, d, c);
    }
    triangles.push(last, last - round + k, last - round + n);
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}
