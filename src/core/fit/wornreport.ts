/** A garment's bones as the body moves them, told one by one. */
import { Vector3 } from 'three';
import type { BodySkeleton } from '../form/body/pose';
import type { Model } from '../model/model';
import { nodeMatrices, restPose } from '../model/pose';
import { areaOf, HUMANOID_SETS } from '../words/humanoid';
import { fitWorn, type WornSaid } from './worn';

/** What stands in a report of one bone of a garment. */
export interface WornRow {
  node: string;
  /** The body's bone it goes with; null: it is no body's, and keeps its place on what it hangs from. */
  bone: string | null;
  turnedDeg: number | null;
  long: number | null;
}
export interface WornReport {
  rows: WornRow[];
  /** Bones of the body that it lacks where it has others: of a sleeve without a hand the hand. */
  missing: string[];
  /** How far its arms are below level at rest, °; null where it has none. */
  armsDeg: number | null;
}

/** A garment's bones as they are worn, and what of them is its own. */
export function wornReport(model: Model, said: WornSaid, rest: BodySkeleton): WornReport {
  const fitted = fitWorn(model, said.bones, rest);
  const taken = new Set(fitted.map((w) => w.node));
  const own = [...new Set(model.skins.flatMap((s) => s.joints))].filter((n) => !taken.has(n));
  const world = nodeMatrices(model, restPose(model));
  const at = (bone: string) => {
    const w = fitted.find((f) => f.bone === bone);
    return w && new Vector3().setFromMatrixPosition(world[w.node]);
  };
  const arms = ['left', 'right'].flatMap((s) => {
    const [from, to] = [at(`${s}UpperArm`), at(`${s}LowerArm`) ?? at(`${s}Hand`)];
    if (!from || !to) return [];
    const way = to.sub(from).normalize();
    return [(Math.asin(-way.y) * 180) / Math.PI];
  });
  return {
    rows: [
      ...fitted.map(({ node, bone, turnedDeg, long }) => ({ node: model.nodes[node].name, bone, turnedDeg, long })),
      ...own.map((n) => ({ node: model.nodes[n].name, bone: null, turnedDeg: null, long: null })),
    ],
    missing: HUMANOID_SETS[22].filter((n) => !fitted.some((w) => w.bone === n) && fitted.some((w) => areaOf(w.bone) === areaOf(n))),
    armsDeg: arms.length > 0 ? arms.reduce((a, b) => a + b, 0) / arms.length : null,
  };
}
