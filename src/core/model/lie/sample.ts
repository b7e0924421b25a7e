/** Points spread evenly over the drawn surface: what orientation and symmetry are read from. */
import { seededRandom } from '../../math';
import type { Model } from '../model';
import { posedPrimitives, restPose } from '../pose';

export interface SurfaceSample {
  count: number;
  /** x, y, z in metres, model space. */
  points: Float32Array;
  /** 1 where the surface can be looked through. */
  glass: Uint8Array;
}

const MAX_TRIANGLES = 2_000_000;

/**
 * `count` points, by area, seeded. Triangles that are not finite are left out; none at all gives no points.
 * @param seeThrough mesh, primitive → whether its material is glass
 */
export function sampleSurface(model: Model, seeThrough: (mesh: number, primitive: number) => boolean, count = 3_000): SurfaceSample {
  const corners: [Float32Array, number, number, number][] = [];
  const areas: number[] = [];
  const clear: boolean[] = [];
  let total = 0;
  for (const p of posedPrimitives(model, restPose(model), undefined, false)) {
    const t = model.meshes[p.mesh].primitives[p.primitive].triangles;
    const glass = seeThrough(p.mesh, p.primitive);
    const step = p.positions.length / p.instances / 3;
    for (let i = 0; i < p.instances; i++)
      for (let k = 0; k + 2 < t.length && areas.length < MAX_TRIANGLES; k += 3) {
        const [a, b, c] = [t[k] + i * step, t[k + 1] + i * step, t[k + 2] + i * step];
        const area = triangleArea(p.positions, a, b, c);
        if (!(area > 0) || !Number.isFinite(area)) continue;
        total += area;
        areas.push(total);
        corners.push([p.positions, a, b, c]);
        clear.push(glass);
      }
  }
  if (corners.length === 0) return { count: 0, points: new Float32Array(), glass: new Uint8Array() };
  const random = seededRandom(7);
  const points = new Float32Array(count * 3);
  const glass = new Uint8Array(count);
  let t = 0;
  for (let i = 0; i < count; i++) {
    // one draw a stratum: even, and in the order of the triangles
    const at = ((i + random()) / count) * total;
    while (t < areas.length - 1 && areas[t] < at) t++;
    const [p, a, b, c] = corners[t];
    let [u, v] = [random(), random()];
    if (u + v > 1) [u, v] = [1 - u, 1 - v];
    for (let k = 0; k < 3; k++) {
      const o = p[a * 3 + k];
      points[i * 3 + k] = o + u * (p[b * 3 + k] - o) + v * (p[c * 3 + k] - o);
    }
    glass[i] = clear[t] ? 1 : 0;
  }
  return { count, points, glass };
}

export function triangleArea(p: ArrayLike<number>, a: number, b: number, c: number): number {
  const [ux, uy, uz] = [p[b * 3] - p[a * 3], p[b * 3 + 1] - p[a * 3 + 1], p[b * 3 + 2] - p[a * 3 + 2]];
  const [vx, vy, vz] = [p[c * 3] - p[a * 3], p[c * 3 + 1] - p[a * 3 + 1], p[c * 3 + 2] - p[a * 3 + 2]];
  return 0.5 * Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
}
