/** A staged part as triangles in the world: what asks about sight, size and clearance works on. */
import { Matrix4 } from 'three';
import { type Box, emptyBox, growBox } from '../math/box';
import { posedPrimitives } from '../model/pose';
import type { SolidShape } from '../parts/solid';
import { type SolidMesh, solidMesh } from '../parts/solidmesh';
import type { Assets } from './show';
import type { StagePart } from './state';

export interface WorldShape {
  /** Metres; instances one after another. */
  positions: Float32Array;
  instances: number;
  /** Of one instance. */
  triangles: Uint32Array;
  /** Alpha of its material where it blends, else 1. */
  alpha: number;
}

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

/** Empty for what has no triangles of its own: groups, screens, occluders of the form, models not at hand. */
export function worldShapes(part: StagePart, assets: Assets): WorldShape[] {
  const world = new Matrix4().fromArray(part.matrix);
  if (part.shape?.type === 'solid') {
    const { positions, indices } = meshOf(part.shape.solid);
    const e = world.elements;
    const out = new Float32Array(positions.length);
    for (let i = 0; i < out.length; i += 3) {
      const [x, y, z] = [positions[i], positions[i + 1], positions[i + 2]];
      for (let k = 0; k < 3; k++) out[i + k] = e[k] * x + e[4 + k] * y + e[8 + k] * z + e[12 + k];
    }
    return [{ positions: out, instances: 1, triangles: indices, alpha: 1 }];
  }
  if (part.shape?.type !== 'glb' || !part.shape.pose) return [];
  const model = assets.models[part.shape.model];
  if (!model) return [];
  return posedPrimitives(model, part.shape.pose, world).map((p) => {
    const { triangles, alpha } = model.meshes[p.mesh].primitives[p.primitive];
    return { positions: p.positions, instances: p.instances, triangles, alpha };
  });
}

/** Box of everything shown of some parts, metres of the world; null where there is nothing. */
export function worldBox(parts: readonly StagePart[], assets: Assets): Box | null {
  let box = emptyBox();
  for (const p of parts) if (p.shown) for (const s of worldShapes(p, assets)) box = growBox(box, s.positions);
  return box[0] > box[3] ? null : box;
}
