/** What is wrong with bones and what they hold. */
import type { Model } from '../model';
import { heldBy } from './held';
import type { Vec } from './middle';

/** Bones that hold nothing: no vertex follows them, nor any bone below them. */

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

/** Most influences that a vertex has in engines (glTF 2.0, section 3.7.3.3: one set of four is all that must be supported). */
const FOUR = 4;

/** Vertices that follow more than four bones. */
export function overFour(model: Model): number {
  let over = 0;
  for (const { weights, influences } of model.meshes.flatMap((m) => m.primitives)) {
    if (!weights || influences <= FOUR) continue;
    for (let v = 0; v < weights.length; v += influences) {
      let n = 0;
      for (let k = 0; k < influences; k++) if (weights[v + k] > 0) n++;
      if (n > FOUR) over++;
    }
  }
  return over;
}

export interface LoosePiece {
  /** Of its shape. */
  name: string;
  /** A place on it, metres of the model. */
  atM: Vec;
  /** What the place nearest to it follows most. */
  bone: string;
}

/** Pieces that stay behind when bones move: no skin holds them, nor does their node hang from a bone. */
export function loosePieces(model: Model): LoosePiece[] {
  const joints = new Set(model.skins.flatMap((s) => s.joints));
  if (joints.size === 0) return [];
  const carried = (n: number): boolean => n >= 0 && (joints.has(n) || carried(model.nodes[n].parent));
  const held = (n: number) => {
    const { mesh, skin } = model.nodes[n];
    return skin < 0 ? carried(n) : model.meshes[mesh].primitives.every((p) => p.weights?.some((w) => w > 0));
  };
  if (model.nodes.every((node, n) => node.mesh < 0 || held(n))) return [];
  const { surface, bones, binding } = heldBy(model) as NonNullable<ReturnType<typeof heldBy>>;
  const follows = new Uint8Array(surface.pieces);
  for (let v = 0; v < surface.piece.length; v++) if (binding.shares[v * FOUR] > 0) follows[surface.piece[v]] = 1;
  const found = new Map<number, LoosePiece>();
  for (const { primitive, vertices } of surface.sources) {
    if (model.nodes[primitive.node].skin < 0 && carried(primitive.node)) continue;
    for (const v of vertices) {
      const piece = surface.piece[v];
      if (follows[piece] || found.has(piece)) continue;
      const [x, y, z] = [0, 1, 2].map((k) => surface.positions[v * 3 + k]);
      let [seat, least] = [-1, Infinity];
      for (let u = 0; u < surface.piece.length; u++) {
        if (binding.shares[u * FOUR] === 0) continue;
        const d = (surface.positions[u * 3] - x) ** 2 + (surface.positions[u * 3 + 1] - y) ** 2 + (surface.positions[u * 3 + 2] - z) ** 2;
        if (d < least) [seat, least] = [u, d];
      }
      const name = model.nodes[primitive.node].name || model.meshes[primitive.mesh].name || 'a shape without a name';
      found.set(piece, { name, atM: [x, y, z], bone: bones[binding.bones[Math.max(seat, 0) * FOUR]].name });
    }
  }
  return [...found.values()];
}
