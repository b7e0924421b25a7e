/** Triangles of solids, kept for all that have the same measures. */
import type { SolidShape } from '../parts/solid';
import { type SolidMesh, solidMesh } from '../parts/solidmesh';

const meshes = new WeakMap<SolidShape, SolidMesh>();
const equal = new Map<string, WeakRef<SolidMesh>>();
/** The triangles of a solid, made once for all that have the same measures. */
export function meshOf(shape: SolidShape): SolidMesh {
  let mesh = meshes.get(shape);
  if (mesh) return mesh;
  const key = JSON.stringify(shape);
  mesh = equal.get(key)?.deref() ?? solidMesh(shape);
  meshes.set(shape, mesh);
  equal.set(key, new WeakRef(mesh));
  if (equal.size > 2_000) for (const [k, r] of equal) if (!r.deref()) equal.delete(k);
  return mesh;
}
