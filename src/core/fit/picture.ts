/** What of a part lies in the picture: its triangles clipped against the camera's frustum (Sutherland–Hodgman, from memory). */
import { Matrix4, type PerspectiveCamera, Vector3 } from 'three';

export interface InPicture {
  /** World points on the part inside the picture, metres; at most about `SAMPLES`. */
  points: Vector3[];
  /** Longest edge of what is in the picture, pixels. */
  pixels: number;
}

const SAMPLES = 600;

/** Clip coordinates x, y, z, w and world x, y, z. */
type Corner = readonly [number, number, number, number, number, number, number];

/** Distances to the six planes: inside where all are ≥ 0. */
const PLANES: readonly ((c: Corner) => number)[] = [
  (c) => c[3] + c[0],
  (c) => c[3] - c[0],
  (c) => c[3] + c[1],
  (c) => c[3] - c[1],
  (c) => c[3] + c[2],
  (c) => c[3] - c[2],
];

const between = (a: Corner, b: Corner, t: number) => a.map((v, i) => v + (b[i] - v) * t) as unknown as Corner;

/** The part of a triangle inside the frustum; empty where none is. */
function clip(triangle: readonly Corner[]): readonly Corner[] {
  let polygon = triangle;
  for (const plane of PLANES) {
    const d = polygon.map(plane);
    if (d.every((x) => x >= 0)) continue;
    if (d.every((x) => x < 0)) return [];
    const kept: Corner[] = [];
    polygon.forEach((c, i) => {
      const next = (i + 1) % polygon.length;
      if (d[i] >= 0) kept.push(c);
      if (d[i] >= 0 !== d[next] >= 0) kept.push(between(c, polygon[next], d[i] / (d[i] - d[next])));
    });
    polygon = kept;
  }
  return polygon;
}

/** Triangles in the world: what of them is in a picture does not depend on what they are of. */
export interface SeenShape {
  positions: Float32Array;
  instances: number;
  triangles: Uint32Array;
  alpha: number;
}

/** Looks at every triangle of a part, instances included. */
export function partInPicture(shapes: readonly SeenShape[], camera: PerspectiveCamera, widthPx: number, heightPx: number): InPicture {
  const e = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).elements;
  const corner = (p: Float32Array, i: number): Corner => {
    const [x, y, z] = [p[i], p[i + 1], p[i + 2]];
    return [
      e[0] * x + e[4] * y + e[8] * z + e[12],
      e[1] * x + e[5] * y + e[9] * z + e[13],
      e[2] * x + e[6] * y + e[10] * z + e[14],
      e[3] * x + e[7] * y + e[11] * z + e[15],
      x,
      y,
      z,
    ];
  };
  const found: Vector3[] = [];
  const lo = [Infinity, Infinity];
  const hi = [-Infinity, -Infinity];
  for (const { positions, instances, triangles } of shapes) {
    const step = positions.length / instances;
    for (let n = 0; n < instances; n++)
      for (let t = 0; t + 2 < triangles.length; t += 3) {
        const triangle = [0, 1, 2].map((k) => corner(positions, n * step + triangles[t + k] * 3));
        if (!triangle.every((c) => Number.isFinite(c[3]))) continue;
        const inside = clip(triangle);
        if (inside.length < 3) continue;
        const middle = new Vector3();
        for (const c of inside) {
          middle.add(new Vector3(c[4], c[5], c[6]).divideScalar(inside.length));
          for (const k of [0, 1]) {
            lo[k] = Math.min(lo[k], c[k] / c[3]);
            hi[k] = Math.max(hi[k], c[k] / c[3]);
          }
        }
        // the middle, and points near the corners: a large triangle may be covered only in part
        found.push(middle, ...inside.map((c) => new Vector3(c[4], c[5], c[6]).lerp(middle, 0.1)));
      }
  }
  const stride = Math.max(1, Math.floor(found.length / SAMPLES));
  return {
    points: found.filter((_, i) => i % stride === 0),
    pixels: found.length === 0 ? 0 : Math.max(((hi[0] - lo[0]) / 2) * widthPx, ((hi[1] - lo[1]) / 2) * heightPx),
  };
}
