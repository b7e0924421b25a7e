/** What the skins of a model hold: its bones and each vertex' shares of them, on the welded surface. Any file's, not only ours. */
import type { Model } from '../model';
import type { Bone } from './bone';
import { sparsOf } from './spars';
import { type Surface, surfaceOf } from './surface';
import type { Binding } from './weights/bind';

export interface Held {
  surface: Surface;
  bones: Bone[];
  /** Node of the model, by bone. */
  joints: readonly number[];
  /** Four a vertex; a vertex of no skin has shares of 0. */
  binding: Pick<Binding, 'bones' | 'shares'>;
}

/** null where nothing is skinned. Of more than four influences the greatest four count. */
export function heldBy(model: Model): Held | null {
  const joints = [...new Set(model.skins.flatMap((s) => s.joints))];
  if (joints.length === 0) return null;
  const place = new Map(joints.map((j, i) => [j, i]));
  const surface = surfaceOf(model);
  const bones = new Uint16Array(surface.piece.length * 4);
  const shares = new Float32Array(surface.piece.length * 4);
  for (const { primitive, vertices } of surface.sources) {
    const skin = model.skins[model.nodes[primitive.node].skin];
    const { joints: of, weights, influences } = model.meshes[primitive.mesh].primitives[primitive.primitive];
    if (!skin || !of || !weights) continue;
    vertices.forEach((v, i) => {
      const own = Array.from({ length: influences }, (_, k) => ({
        bone: place.get(skin.joints[of[i * influences + k]]) ?? 0,
        share: weights[i * influences + k],
      }))
        .filter((o) => o.share > 0)
        .sort((a, b) => b.share - a.share)
        .slice(0, 4);
      const sum = own.reduce((s, o) => s + o.share, 0);
      own.forEach((o, k) => {
        bones[v * 4 + k] = o.bone;
        shares[v * 4 + k] = o.share / sum;
      });
    });
  }
  const { spars } = sparsOf(model);
  return { surface, bones: spars.map((s, limb) => ({ ...s, limb })), joints, binding: { bones, shares } };
}

/** Share of each vertex that one bone holds. */
export function sharesOf({ binding, surface }: Pick<Held, 'binding' | 'surface'>, bone: number): Float64Array {
  return Float64Array.from({ length: surface.piece.length }, (_, v) => {
    let sum = 0;
    for (let k = 0; k < 4; k++) if (binding.bones[v * 4 + k] === bone) sum += binding.shares[v * 4 + k];
    return sum;
  });
}
