/** Bones that hold nothing: no vertex follows them, nor any bone below them. */
import type { Model } from '../model';

/** @returns places in the list of all joints of all skins, as `sparsOf` has them */
export function unhungBones(model: Model): number[] {
  const joints = [...new Set(model.skins.flatMap((s) => s.joints))];
  const busy = new Set<number>();
  for (const node of model.nodes) {
    const skin = node.skin >= 0 && node.mesh >= 0 ? model.skins[node.skin] : null;
    for (const { joints: of, weights } of skin ? model.meshes[node.mesh].primitives : [])
      if (of && weights)
        for (let i = 0; i < of.length; i++) if (weights[i] > 0) busy.add((skin as (typeof model.skins)[number]).joints[of[i]]);
  }
  // what carries a busy one is not idle; a shape that is no skin's follows as a child
  model.nodes.forEach((n, i) => {
    if (n.mesh >= 0 && n.skin < 0) busy.add(i);
  });
  for (const n of [...busy]) for (let p = model.nodes[n]?.parent ?? -1; p >= 0 && !busy.has(p); p = model.nodes[p].parent) busy.add(p);
  return joints.flatMap((j, i) => (busy.has(j) ? [] : [i]));
}
