/** A garment's bones on the body's: by names and tree as a figure's, then what is left of the trunk by where it lies. */
import { Vector3 } from 'three';
import type { BodySkeleton } from '../../form/body/pose';
import { type Model, nodeMatrices, restPose } from '../../model';
import { toldSkeleton } from '.';
import { readName } from './names';

const TRUNK = ['hips', 'spine', 'chest', 'upperChest'] as const;
const MIDDLE = [...TRUNK, 'neck', 'head'] as const;
const OF_TRUNK = /^(spine|chest|back|torso|breast|thorax|ribs?|trunk|abdomen|waist|belly)$/;

/**
 * Node → bone of the body. Of a cape there may be a piece of the back alone: its bones go to the body's trunk by their height, in order.
 * Where nothing tells, the root that lies nearest to the middle of the body goes with it.
 */
export function garmentBones(model: Model, rest: BodySkeleton): Map<number, string> {
  const { nodeOf, others } = toldSkeleton(model);
  const out = new Map([...nodeOf].map(([bone, node]) => [node, bone]));
  const world = nodeMatrices(model, restPose(model));
  const at = (n: number) => new Vector3().setFromMatrixPosition(world[n]);
  const rises = [...out].map(([n, bone]) => rest.rest[bone].place.y - at(n).y).sort((a, b) => a - b);
  // a garment that was made elsewhere than on the floor is lifted by what is told of it
  const rise = rises.length > 0 ? rises[rises.length >> 1] : 0;
  const free = TRUNK.filter((bone) => !nodeOf.has(bone));
  const back = others.filter((n) => OF_TRUNK.test(readName(model.nodes[n].name).word)).sort((a, b) => at(a).y - at(b).y);
  let from = 0;
  for (const [k, n] of back.entries()) {
    // leaves one for each that comes after it
    const upTo = free.length - (back.length - k - 1);
    const near = free.slice(from, Math.max(from, upTo)).map((bone, i) => ({
      i: from + i,
      far: Math.abs(rest.rest[bone].place.y - rise - at(n).y),
    }));
    const best = near.sort((a, b) => a.far - b.far)[0];
    if (!best) break;
    out.set(n, free[best.i]);
    from = best.i + 1;
  }
  if (out.size > 0) return out;
  const joints = new Set(model.skins.flatMap((s) => s.joints));
  const roots = [...joints].filter((n) => !joints.has(model.nodes[n].parent));
  const pairs = roots.flatMap((n) => MIDDLE.map((bone) => ({ n, bone, far: rest.rest[bone].place.distanceTo(at(n)) })));
  const nearest = pairs.sort((a, b) => a.far - b.far)[0];
  return nearest ? new Map([[nearest.n, nearest.bone]]) : out;
}
