/** A figure's bones and weights: what was found, with what the artist put right, at the detail asked for. */
import { HUMANOID_BONES, HUMANOID_PARENT, HUMANOID_SETS, type HumanoidDetail, keptParent } from '../../words/humanoid';
import type { Bone } from '../bone';
import { distancesFrom, wayTo } from '../geodesic';
import { RigError, type Vec } from '../middle';
import { ride } from '../plan';
import { nearestVertex, type Surface } from '../surface';
import { add, dot, size, sub, unit } from '../vec';
import { type Binding, bind, type WeightMethod } from '../weights/bind';
import { mostInfluences } from '../weights/shares';
import { axesOf } from './axes';
import { type FigureJoint, findFigure } from './find';
import { fingersOf } from './fingers';
import { ownFingers, wholeHead } from './whole';
import { armPits, bendAtJoints, collarBones } from './windows';

export interface FigureAsked {
  detail: HumanoidDetail;
  /** Joints put by hand, metres of the model, by bone. */
  joints: Readonly<Record<string, Vec>>;
  weights: WeightMethod | 'auto';
}

export interface RiggedFigure {
  bones: Bone[];
  binding: Binding;
  joints: FigureJoint[];
  /** Of the body: null where every joint was given and none was looked for. */
  axes: { up: Vec; front: Vec; left: Vec } | null;
  /** Ends that belong to no limb, where each leaves the body and how long it is: they can become chains. */
  others: { at: Vec; root: Vec; lengthM: number }[];
  lengthM: number;
  found: string;
}

/** Of the shape's diagonal: a piece that is smaller, a button or an eye, follows whole what it sits on. */
const RIGID = 0.06;

/** What a bone points to: the joint that goes on from it. */
const ONWARD: Readonly<Record<string, string>> = {
  hips: 'spine',
  upperChest: 'neck',
  chest: 'upperChest',
  leftHand: 'leftMiddleProximal',
  rightHand: 'rightMiddleProximal',
};

/**
 * Where joints were put by hand they stand; the others are found.
 * @throws {RigError} as `findFigure`; `rig/joints` a name that is no bone of a figure
 */
export function rigFigure(surface: Surface, { detail, joints: given, weights }: FigureAsked): RiggedFigure {
  for (const name of Object.keys(given))
    if (!HUMANOID_BONES.includes(name))
      throw new RigError(
        'rig/joints',
        `A figure has no bone ${name}. Its bones are ${HUMANOID_SETS[22].join(', ')}, and those of fingers.`,
      );
  const asked = HUMANOID_SETS[detail];
  const all = asked.every((n) => given[n]);
  const figure = all ? null : findFigure(surface);
  const found = new Map<string, FigureJoint>(figure?.joints.map((j) => [j.name, j]));
  const tips: Record<string, Vec> = { ...figure?.tips };
  if (figure && detail === 52)
    for (const side of ['left', 'right']) {
      const hand = given[`${side}Hand`] ?? found.get(`${side}Hand`)?.at;
      const fingers = hand && tips[`${side}Hand`] ? fingersOf(surface, hand, tips[`${side}Hand`], side === 'left') : null;
      for (const j of fingers?.joints ?? []) found.set(j.name, j);
      Object.assign(tips, fingers?.tips);
    }
  // a mitten gets no fingers
  const names = asked.filter((n) => given[n] || found.has(n));
  const joints = names.map((name): FigureJoint => {
    const at = given[name];
    const parent = keptParent(name, names);
    return at ? { name, parent, at, sure: 1, by: 'given' } : { ...(found.get(name) as FigureJoint), parent };
  });
  const place = new Map(joints.map((j) => [j.name, j]));
  const bones = joints.map(({ name, parent, at, sure }): Bone => {
    const below = joints.filter((j) => j.parent === name);
    const onward =
      place.get(ONWARD[name] ?? '') ?? (name === 'chest' ? place.get('neck') : undefined) ?? (below.length === 1 ? below[0] : undefined);
    const tail = onward?.at ?? (name === 'head' ? (tips.head ?? crownOf(surface, place)) : undefined) ?? tipOf(name, place, tips);
    return {
      name,
      parent: parent ? names.indexOf(parent) : -1,
      head: at,
      tail,
      leads: below.flatMap((j) => (j.at === tail ? [] : [j.at])),
      limb: names.indexOf(name),
      sure,
    };
  });
  const hips = place.get('hips')?.at;
  const others = figure && hips ? figure.others.map(({ at, lengthM }) => ({ at, lengthM, root: rootOf(surface, at, lengthM, hips) })) : [];
  const top = bones.find((b) => b.name === 'hips');
  if (top && others.length > 0) top.ends = others.map((o) => ({ rootM: o.root, tipM: o.at }));
  const binding = bind(surface, bones, weights);
  collarBones(surface, bones, binding);
  armPits(surface, bones, binding);
  bendAtJoints(surface, bones, binding);
  ownFingers(surface, bones, binding);
  const axes = figure?.axes ?? axesOf((n) => place.get(n)?.at);
  if (axes) wholeHead(surface, bones, binding, axes.front);
  binding.maxInfluences = mostInfluences(binding.shares);
  ride(surface, new Int32Array(surface.piece.length).fill(-1), binding, RIGID);
  return {
    bones,
    binding,
    joints,
    axes: figure?.axes ?? null,
    others,
    lengthM: figure?.lengthM ?? 0,
    found: figure ? 'ends, leaps, necks and bends of ways through the body' : 'joints as given',
  };
}

/** Where an end leaves the body: as far from its tip as it stands out, on the way along the surface to the hips; of a piece of its own, its other end. */
function rootOf(surface: Surface, tip: Vec, lengthM: number, hips: Vec): Vec {
  const ways = distancesFrom(surface, [nearestVertex(surface, tip)]);
  const way = wayTo(ways, nearestVertex(surface, hips));
  const far = (v: number) => ways.far[v];
  const leaves = way.length > 1 ? way.find((v) => far(v) >= lengthM) : undefined;
  const last = ways.far.reduce((b, d, v) => (Number.isFinite(d) && d > far(b) ? v : b), nearestVertex(surface, tip));
  const v = leaves ?? (way.length > 1 ? way[way.length - 1] : last);
  return [surface.positions[v * 3], surface.positions[v * 3 + 1], surface.positions[v * 3 + 2]];
}

/** Of a head whose top was not looked for: as far as anything reaches on from the neck, near the line of both. */
function crownOf({ positions }: Surface, place: ReadonlyMap<string, FigureJoint>): Vec | undefined {
  const [neck, head] = [place.get('neck')?.at, place.get('head')?.at];
  if (!neck || !head) return undefined;
  const way = unit(sub(head, neck));
  let high = 0;
  for (let v = 0; v < positions.length; v += 3) {
    const off = sub([positions[v], positions[v + 1], positions[v + 2]], head);
    const up = dot(off, way);
    // within a cone of 45°
    if (up > high && size(off) < up * Math.SQRT2) high = up;
  }
  return high > 0 ? add(head, way, high) : undefined;
}

/** Where a last bone ends: at the end that was found, else a third of its parent's length on. */
function tipOf(name: string, place: ReadonlyMap<string, FigureJoint>, tips: Readonly<Record<string, Vec>>): Vec {
  const joint = place.get(name) as FigureJoint;
  const tip = tips[name] ?? (name.endsWith('Foot') ? tips[name.replace('Foot', 'Toes')] : undefined);
  if (tip && size(sub(tip, joint.at)) > 1e-9) return tip;
  const up = place.get(HUMANOID_PARENT[name] ?? '') ?? place.get(joint.parent ?? '');
  return up ? add(joint.at, sub(joint.at, up.at), 1 / 3) : [joint.at[0], joint.at[1] + 0.1, joint.at[2]];
}
