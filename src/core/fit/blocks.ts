/** Whether something stands between an eye and a place. */
import { DoubleSide, Ray, type Vector3 } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';

export interface Blocks {
  /** Whether anything stands between the two, but for what lies so near the second. */
  blocks(eye: Vector3, at: Vector3, selfM: number): boolean;
}

const ray = /* @__PURE__ */ new Ray();
export function standsBetween(tree: MeshBVH, eye: Vector3, at: Vector3, selfM: number): boolean {
  ray.origin.copy(eye);
  ray.direction.subVectors(at, eye);
  const far = ray.direction.length();
  ray.direction.divideScalar(far || 1);
  return tree.raycastFirst(ray, DoubleSide, 0, far - selfM) !== null;
}
