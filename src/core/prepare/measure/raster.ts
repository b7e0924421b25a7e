/**
 * A small z-buffer rasteriser: what is nearest at every pixel of an orthographic view, the same in the command line, a worker and a
 * test, without a graphics card. (Pineda, A parallel algorithm for polygon rasterization, 1988.)
 */
import type { Vector3 } from 'three';
import type { Shape } from './shape';

/** An orthographic camera: `right`, `up` and `back` (towards the eye) are unit and at right angles. */
export interface Camera {
  right: Vector3;
  up: Vector3;
  back: Vector3;
  centre: Vector3;
  /** Pixels a metre. */
  scale: number;
  width: number;
  height: number;
}
export const NEAR_ZERO = 1e-12;

/** Triangle setup in pixels: corner positions and depths. */
export interface Screen {
  x: Float32Array;
  y: Float32Array;
  /** Larger is nearer. */
  z: Float32Array;
}

export function project(shape: Pick<Shape, 'positions'>, cam: Camera): Screen {
  const n = shape.positions.length / 3;
  const out = { x: new Float32Array(n), y: new Float32Array(n), z: new Float32Array(n) };
  const { right: r, up: u, back: b, centre: c, scale: s } = cam;
  const p = shape.positions;
  for (let i = 0; i < n; i++) {
    const [X, Y, Z] = [p[i * 3] - c.x, p[i * 3 + 1] - c.y, p[i * 3 + 2] - c.z];
    out.x[i] = cam.width / 2 + (X * r.x + Y * r.y + Z * r.z) * s;
    out.y[i] = cam.height / 2 - (X * u.x + Y * u.y + Z * u.z) * s;
    out.z[i] = (X * b.x + Y * b.y + Z * b.z) * s;
  }
  return out;
}

/** Calls `put` for every pixel centre inside the triangle, with its depth and its weights on the second and third corner. */
export function scan(
  sc: Screen,
  ia: number,
  ib: number,
  ic: number,
  width: number,
  height: number,
  both: boolean,
  put: (pixel: number, z: number, v: number, w: number) => void,
): void {
  const ax = sc.x[ia];
  const ay = sc.y[ia];
  const ux = sc.x[ib] - ax;
  const uy = sc.y[ib] - ay;
  const wx = sc.x[ic] - ax;
  const wy = sc.y[ic] - ay;
  const area = ux * wy - uy * wx;
  // rows go down: what turns left in the world turns right here
  if (!(Math.abs(area) > NEAR_ZERO) || !Number.isFinite(area) || (area > 0 && !both)) return;
  const x0 = Math.max(0, Math.ceil(ax + Math.min(0, ux, wx) - 0.5));
  const x1 = Math.min(width - 1, Math.floor(ax + Math.max(0, ux, wx) - 0.5));
  const y0 = Math.max(0, Math.ceil(ay + Math.min(0, uy, wy) - 0.5));
  const y1 = Math.min(height - 1, Math.floor(ay + Math.max(0, uy, wy) - 0.5));
  const za = sc.z[ia];
  const zu = sc.z[ib] - za;
  const zw = sc.z[ic] - za;
  for (let y = y0; y <= y1; y++) {
    const dy = y + 0.5 - ay;
    for (let x = x0; x <= x1; x++) {
      const dx = x + 0.5 - ax;
      const v = (dx * wy - dy * wx) / area;
      const w = (ux * dy - uy * dx) / area;
      if (v < -1e-6 || w < -1e-6 || v + w > 1 + 1e-6) continue;
      put(y * width + x, za + v * zu + w * zw, v, w);
    }
  }
}

/** What is nearest at every pixel: its depth, which triangle, and where on it. */
export interface Front {
  depth: Float32Array;
  owner: Int32Array;
  v: Float32Array;
  w: Float32Array;
}

/** `scan` for what hides all behind it, without a call per pixel: a view of 40 000 triangles takes a quarter less. */
export function fill(
  sc: Screen,
  ia: number,
  ib: number,
  ic: number,
  width: number,
  height: number,
  both: boolean,
  id: number,
  front: Front,
): void {
  const ax = sc.x[ia];
  const ay = sc.y[ia];
  const ux = sc.x[ib] - ax;
  const uy = sc.y[ib] - ay;
  const wx = sc.x[ic] - ax;
  const wy = sc.y[ic] - ay;
  const area = ux * wy - uy * wx;
  if (!(Math.abs(area) > NEAR_ZERO) || !Number.isFinite(area) || (area > 0 && !both)) return;
  const x0 = Math.max(0, Math.ceil(ax + Math.min(0, ux, wx) - 0.5));
  const x1 = Math.min(width - 1, Math.floor(ax + Math.max(0, ux, wx) - 0.5));
  const y0 = Math.max(0, Math.ceil(ay + Math.min(0, uy, wy) - 0.5));
  const y1 = Math.min(height - 1, Math.floor(ay + Math.max(0, uy, wy) - 0.5));
  const za = sc.z[ia];
  const zu = sc.z[ib] - za;
  const zw = sc.z[ic] - za;
  const inv = 1 / area;
  const { depth, owner } = front;
  for (let y = y0; y <= y1; y++) {
    const dy = y + 0.5 - ay;
    for (let x = x0; x <= x1; x++) {
      const dx = x + 0.5 - ax;
      const v = (dx * wy - dy * wx) * inv;
      const w = (ux * dy - uy * dx) * inv;
      if (v < -1e-6 || w < -1e-6 || v + w > 1 + 1e-6) continue;
      const z = za + v * zu + w * zw;
      const px = y * width + x;
      if (z <= depth[px]) continue;
      depth[px] = z;
      owner[px] = id;
      front.v[px] = v;
      front.w[px] = w;
    }
  }
}

export const frontOf = (size: number): Front => ({
  depth: new Float32Array(size).fill(-Infinity),
  owner: new Int32Array(size).fill(-1),
  v: new Float32Array(size),
  w: new Float32Array(size),
});

/** Nearest depth of every pixel, −∞ where nothing is: what visibility is judged from. Pixels as in `Camera`. */
export function depthMap(shape: Shape, cam: Camera): Float32Array {
  const front = frontOf(cam.width * cam.height);
  const sc = project(shape, cam);
  const t = shape.triangles;
  for (let i = 0; i < t.length; i += 3) {
    const wear = shape.wears[shape.wear[i / 3]];
    // glass hides nothing, nor does a single-sided sheet from behind
    if (wear.alpha === 'opaque' && !wear.clear) fill(sc, t[i], t[i + 1], t[i + 2], cam.width, cam.height, wear.doubleSided, i, front);
  }
  return front.depth;
}
