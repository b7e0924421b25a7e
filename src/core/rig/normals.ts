import { Vector3 } from 'three';
import type { Surface } from './surface';

/** Normals of a surface's vertices, not of length 1, by the areas of what meets there. */
export function normalsOf({ positions, triangles }: Surface): Float64Array {
  const out = new Float64Array(positions.length);
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  for (let t = 0; t < triangles.length; t += 3) {
    const [i, j, k] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    a.fromArray(positions, i * 3);
    b.fromArray(positions, j * 3).sub(a);
    c.fromArray(positions, k * 3).sub(a);
    b.cross(c);
    for (const v of [i, j, k]) for (let d = 0; d < 3; d++) out[v * 3 + d] += b.getComponent(d);
  }
  return out;
}
