import { distancesFrom } from '../geodesic';
import type { Vec } from '../middle';
import type { Surface } from '../surface';

/** A way along edges is at most so much longer than the straight one over triangles of even meshes: across a square's other diagonal. */
const DETOUR = 1.42;

/**
 * What a hand on the surface reaches: every vertex within a radius, metres, and how much of it, all in the middle, none at the border, level
 * at both. Straight distances, which do not show how the triangles lie; but no further than the surface leads, not through the air.
 * @param seed the vertex nearest to the place: it is the middle, however far apart vertices are
 */
export function reachedFrom(surface: Surface, seed: number, at: Vec, radiusM: number): Map<number, number> {
  const { far } = distancesFrom(surface, [seed], radiusM * DETOUR);
  const out = new Map<number, number>();
  const { positions } = surface;
  const straight = (v: number) => Math.hypot(positions[v * 3] - at[0], positions[v * 3 + 1] - at[1], positions[v * 3 + 2] - at[2]);
  const nearest = straight(seed);
  for (let v = 0; v < far.length; v++) {
    if (far[v] === Infinity) continue;
    const t = v === seed ? 1 : 1 - Math.max((straight(v) - nearest) / Math.max(radiusM - nearest, 1e-9), far[v] / DETOUR / radiusM);
    if (t > 0) out.set(v, t * t * (3 - 2 * t));
  }
  return out;
}
