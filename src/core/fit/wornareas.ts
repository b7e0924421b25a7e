/** Areas of the body under a garment: what of it is not drawn, and what of the body hides nothing below it. */
import { Matrix4, Vector3 } from 'three';
import { barest, hidingTriangles } from '../form/body/bare';
import type { DrawnBody } from '../form/body/body';
import type { Model } from '../model/model';
import { nodeMatrices, restPose, sceneNodes } from '../model/pose';
import { trianglesWithout } from '../model/without';
import { areaOf, BODY_AREAS, type BodyArea, HUMANOID_BONES } from '../words/humanoid';
import { leadsTo, type WornSaid } from './worn';

/** Joints of a garment whose shape is not drawn: those on a hidden area, and what hangs from them. */
export function wornWithout(model: Model, { bones, hides }: WornSaid): number[] {
  if (hides.length === 0) return [];
  const hidden = (n: number): boolean => {
    for (let at = n; at >= 0; at = model.nodes[at].parent) {
      const bone = bones[model.nodes[at].name];
      if (bone !== undefined) return hides.includes(areaOf(bone));
    }
    return false;
  };
  return [...new Set(model.skins.flatMap((s) => s.joints))].filter(hidden);
}

/** The areas of a body that hide nothing under a garment: what lies over them and is drawn. */
export const bareUnder = ({ hides, under }: WornSaid): BodyArea[] => under.filter((a) => !hides.includes(a));

/** Of a body's triangles those that lie in no area left out. */
export function outsideAreas(triangles: Uint32Array, body: Pick<DrawnBody, 'skinIndices' | 'skinWeights'>, without: readonly BodyArea[]) {
  if (without.length === 0) return triangles;
  const isOut = HUMANOID_BONES.map((bone) => without.includes(areaOf(bone)));
  return trianglesWithout(triangles, body.skinIndices, body.skinWeights, 4, (j) => isOut[j]);
}

/** A body's triangles that hide, without areas and what is bare. */
export function hidingOf(body: DrawnBody, without: readonly BodyArea[], bare: readonly string[]): Uint32Array {
  const levels = barest(bare, body.positions.length / 3);
  const left = outsideAreas(body.indices, body, without);
  return levels ? hidingTriangles(left, levels) : left;
}

/** A sleeve lies all round its bone: the mean of the ways to it is short. A sheet behind it has them all one way. */
const ALL_ROUND = 0.5;

/** The areas of the body that a garment lies over all round, by its shape at rest. */
export function coveredAreas(model: Model, bones: WornSaid['bones']): BodyArea[] {
  const world = nodeMatrices(model, restPose(model));
  const boneOf = (n: number) => bones[model.nodes[n].name];
  const place = new Map(
    model.nodes.flatMap((node, n) =>
      bones[node.name] ? [[bones[node.name], new Vector3().setFromMatrixPosition(world[n])] as const] : [],
    ),
  );
  const has = new Set(place.keys());
  const ways = new Map<BodyArea, { sum: Vector3; count: number }>();
  const v = new Vector3();
  for (const n of sceneNodes(model)) {
    const { mesh, skin } = model.nodes[n];
    if (mesh < 0 || skin < 0) continue;
    const { joints, inverseBind } = model.skins[skin];
    for (const p of model.meshes[mesh].primitives) {
      if (!p.joints || !p.weights) continue;
      for (const i of p.drawn) {
        let k = 0;
        for (let j = 1; j < p.influences; j++) if (p.weights[i * p.influences + j] > p.weights[i * p.influences + k]) k = j;
        const joint = p.joints[i * p.influences + k];
        const bone = boneOf(joints[joint]);
        const from = bone === undefined ? undefined : place.get(bone);
        if (bone === undefined || !from) continue;
        v.fromArray(p.positions, i * 3)
          .applyMatrix4(new Matrix4().fromArray(inverseBind, joint * 16).premultiply(world[joints[joint]]))
          .sub(from);
        const on = leadsTo(bone, has);
        if (on !== null) {
          const along = (place.get(on) as Vector3).clone().sub(from).normalize();
          v.addScaledVector(along, -v.dot(along));
        }
        if (v.length() < 1e-6) continue;
        const area = areaOf(bone);
        const way = ways.get(area) ?? { sum: new Vector3(), count: 0 };
        way.sum.add(v.normalize());
        way.count++;
        ways.set(area, way);
      }
    }
  }
  return BODY_AREAS.filter((a) => {
    const way = ways.get(a);
    return way !== undefined && way.sum.length() / way.count < ALL_ROUND;
  });
}
