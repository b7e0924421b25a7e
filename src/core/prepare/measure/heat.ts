/** The geometric error where it is: how far each vertex of the original lies from the prepared surface. */
import { surfaceOf } from './distance';
import { nearest } from './nearest';
import type { Shape } from './shape';

export interface Heat extends Pick<Shape, 'positions' | 'normals' | 'triangles'> {
  /** One a vertex; infinite where nothing is left of the model. */
  gapMm: Float32Array;
}

/** @param before the original, in the place of what was made of it */
export function heatOf(before: Shape, after: Shape): Heat {
  const { positions, normals, triangles } = before;
  const gapMm = new Float32Array(positions.length / 3).fill(Number.POSITIVE_INFINITY);
  const surface = surfaceOf(after);
  if (surface) {
    const at = nearest();
    for (let v = 0; v < gapMm.length; v++)
      gapMm[v] = surface.tree.ask(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2], at).distance * 1000;
  }
  return { positions, normals, triangles, gapMm };
}
