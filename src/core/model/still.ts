import type { Model } from './model';
import { sceneNodes } from './pose';

/** Mesh nodes that no bone, clip, instance list or skin depends on: their turn and size could as well be in the shape. */
export function stillMeshNodes(model: Model): number[] {
  const moved = new Set(model.clips.flatMap((c) => c.channels.map((ch) => ch.node)));
  const joints = new Set(model.skins.flatMap((s) => s.joints));
  const carried = (n: number) => {
    for (let at = n; at >= 0; at = model.nodes[at].parent) if (moved.has(at) || joints.has(at)) return true;
    return false;
  };
  const uses = new Map<number, number>();
  for (const n of model.nodes) if (n.mesh >= 0) uses.set(n.mesh, (uses.get(n.mesh) ?? 0) + 1);
  return sceneNodes(model).filter((n) => {
    const { mesh, skin, instances } = model.nodes[n];
    return mesh >= 0 && skin < 0 && !instances && uses.get(mesh) === 1 && !carried(n);
  });
}
