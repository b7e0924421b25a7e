/** Poses a model is measured in besides rest: moments of its clips, its morph targets, and joints turned where no clip turns them. */
import { Quaternion, Vector3 } from 'three';
import { seededRandom } from '../../math';
import type { Model } from '../../model/model';
import { type LocalPose, poseAt, restPose } from '../../model/pose';

/** Moments that are looked at, over all clips: of one clip so many, and of many clips so many in all. */
const MOMENTS = { least: 3, most: 6 } as const;
/** Morph targets at their full weight are shared out over so many poses; then so many mixtures of some of them at a half. */
const MORPHS = { whole: 4, mixtures: 2, of: 3, weight: 0.5 } as const;
/** Poses of joints of a model without clips, and by how much a joint turns at most, radians: about 30°. */
const TURNS = { poses: 2, most: 0.5 } as const;

/** Moments of the clips at which a model is looked at, by turns over all of them. */
export function momentsOf({ clips }: Pick<Model, 'clips'>): { name: string; clip: number; seconds: number }[] {
  if (clips.length === 0) return [];
  const count = Math.min(MOMENTS.most, Math.max(MOMENTS.least, clips.length));
  return Array.from({ length: count }, (_, i) => {
    const clip = i % clips.length;
    return { name: `${clips[clip].name} ${i}`, clip, seconds: (clips[clip].seconds * (i + 0.5)) / count };
  });
}

export interface NamedPose {
  /** The same of a model before and after it was prepared. */
  name: string;
  pose: LocalPose;
}

const targetsOf = (model: Model, node: number): number =>
  Math.max(0, ...(model.meshes[model.nodes[node].mesh]?.primitives.map((p) => p.morphPositions.length) ?? []));

/** Each target at its full weight, by turns; then a few at a half together. */
function morphPoses(model: Model): NamedPose[] {
  const nodes = model.nodes.flatMap((_, n) => (targetsOf(model, n) > 0 ? [n] : []));
  const most = Math.max(0, ...nodes.map((n) => targetsOf(model, n)));
  if (most === 0) return [];
  const posed = (name: string, weightsOf: (count: number) => number[]): NamedPose => ({
    name,
    pose: { ...restPose(model), morphWeights: new Map(nodes.map((n) => [n, weightsOf(targetsOf(model, n))])) },
  });
  const poses: NamedPose[] = [];
  const every = Math.max(1, Math.ceil(most / MORPHS.whole));
  for (let k = 0; k < most; k += every)
    poses.push(posed(`target ${k}`, (count) => Array.from({ length: count }, (_, i) => (i === k % count ? 1 : 0))));
  if (most < 2) return poses;
  for (let m = 0; m < MORPHS.mixtures; m++) {
    const random = seededRandom(m + 1);
    const list = Array.from({ length: Math.min(MORPHS.of, most) }, () => Math.floor(random() * most));
    poses.push(posed(`mixture ${m}`, (count) => Array.from({ length: count }, (_, i) => (list.includes(i) ? MORPHS.weight : 0))));
  }
  return poses;
}

/** A number of a name alone: joints that were merged away change nothing for those that stay. */
const seedOf = (name: string): number => {
  let h = 2166136261;
  for (let i = 0; i < name.length; i++) h = Math.imul(h ^ name.charCodeAt(i), 16777619);
  return h >>> 0;
};

/** Every joint turned about some axis of its own. */
function turnedPoses(model: Model): NamedPose[] {
  const joints = [...new Set(model.skins.flatMap((s) => s.joints))];
  if (joints.length === 0 || model.clips.length > 0) return [];
  const [turn, axis] = [new Quaternion(), new Vector3()];
  return Array.from({ length: TURNS.poses }, (_, k) => {
    const pose = restPose(model);
    for (const n of joints) {
      const random = seededRandom(seedOf(model.nodes[n].name || `joint ${n}`) + k);
      axis.set(random() - 0.5, random() - 0.5, random() - 0.5).normalize();
      turn.setFromAxisAngle(axis, TURNS.most * (2 * random() - 1));
      new Quaternion()
        .fromArray(pose.trs, n * 10 + 3)
        .multiply(turn)
        .toArray(pose.trs, n * 10 + 3);
    }
    return { name: `joints ${k}`, pose };
  });
}

/** In which poses what bends is looked at; each has a name that the model keeps when it is prepared. */
export const posesToSee = (model: Model): NamedPose[] => [
  ...momentsOf(model).map(({ name, clip, seconds }) => ({ name, pose: poseAt(model, clip, seconds) })),
  ...morphPoses(model),
  ...turnedPoses(model),
];
