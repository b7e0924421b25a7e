/**
 * Bones and weights of what lies on the body, from the nearest place of its skin: garments, straps, gloves. In which of its poses the body
 * lies in it, and whether the origin is the body's or the head form's, is found by which leaves least air.
 */
import { Matrix4, Vector3 } from 'three';
import type { FormSize } from '../../form';
import { type Body, type BodyBase, type BodyPoseName, poseBody, shapeBody } from '../../form/body';
import { HUMANOID_SETS, type HumanoidDetail, keptParent } from '../../words/humanoid';
import type { Bone } from '../bone';
import { RigError, type Vec } from '../middle';
import { normalsOf } from '../normals';
import { ride } from '../plan';
import type { Surface } from '../surface';
import { type Binding, fourOf } from './bind';
import { Skin } from './skin';

export interface LaidAsked {
  form: FormSize;
  detail: HumanoidDetail;
  /** How often weights are evened out along edges. */
  smooth: number;
}
export interface Laid {
  bones: Bone[];
  binding: Binding;
  /** In what pose of the body it was made. */
  stance: BodyPoseName;
  /** Where its origin is: under the body on the floor, or in the head between the tragions. */
  frame: 'body' | 'head';
  /** Half of it is nearer to the skin than this, mm. */
  awayMm: number;
}

/** Poses that garments are made in. */
const STANCES: readonly BodyPoseName[] = ['A', 'T', 'armsHalf', 'armsDown'];
const SAMPLES = 400;
/** Another stance must leave this much less air to be taken. */
const BETTER_M = 0.001;
/** A garment of which half is further off lies on something else. */
const FAR_M = 0.08;
/** Of the shape's diagonal: a smaller piece, a button, follows whole what it lies on. */
const RIGID = 0.06;
/** Where most of it looks away from the skin below it, its faces say which side is out. */
const OUTWARD = 0.6;

const ONWARD: Readonly<Record<string, string>> = {
  hips: 'spine',
  chest: 'upperChest',
  upperChest: 'neck',
  leftHand: 'leftMiddleProximal',
  rightHand: 'rightMiddleProximal',
};

const skinOf = ({ positions, indices, groups }: Body) =>
  new Skin(positions, indices.slice(0, groups.find((p) => p.name === 'eyes')?.start));

const median = (of: number[]) => (of.length > 0 ? [...of].sort((a, b) => a - b)[of.length >> 1] : Infinity);

/**
 * @throws {RigError} `rig/no-surface` it has no surface; `rig/far` it lies on no body of that size
 */
export function rigLaid(surface: Surface, base: BodyBase, { form, detail, smooth }: LaidAsked): Laid {
  const count = surface.piece.length;
  if (count === 0) throw new RigError('rig/no-surface', 'The model draws no surface, so there is nothing that lies on a body.');
  const shape = shapeBody(base, form);
  const offset = new Vector3(...shape.head.offset);
  const place = (v: number, frame: Laid['frame']) => {
    const p = new Vector3().fromArray(surface.positions, v * 3);
    return frame === 'head' ? p.add(offset) : p;
  };
  const step = Math.max(1, Math.floor(count / SAMPLES));
  const some = Array.from({ length: Math.ceil(count / step) }, (_, i) => i * step);
  let best: { body: Body; skin: Skin; stance: BodyPoseName; frame: Laid['frame']; air: number; away: number } | null = null;
  for (const stance of STANCES) {
    const body = poseBody(shape, stance, detail);
    const skin = skinOf(body);
    for (const frame of ['body', 'head'] as const) {
      const far = some.map((v) => skin.nearest(place(v, frame), null)?.far ?? Infinity);
      // what is far off is far off: by how much does not tell one pose from another
      const air = far.reduce((sum, x) => sum + Math.min(x, FAR_M * 2), 0) / far.length;
      if (!best || air < best.air - BETTER_M) best = { body, skin, stance, frame, air, away: median(far) };
    }
  }
  const { body, skin, stance, frame, away } = best as NonNullable<typeof best>;
  if (away > FAR_M)
    throw new RigError(
      'rig/far',
      `It lies on no body of form ${form}: half of it is more than ${Math.round(away * 1000)} mm from the skin, in whichever pose. Bring it to the size of a person in Prepare, standing on the floor under the origin, or with the origin between the ears.`,
    );

  const normals = normalsOf(surface);
  const outOf = (v: number) => new Vector3().fromArray(normals, v * 3).normalize();
  const agrees = some.filter((v) => {
    const hit = skin.nearest(place(v, frame), null);
    return hit !== null && hit.normal.dot(outOf(v)) > 0;
  }).length;
  const sided = agrees > some.length * OUTWARD;
  const names = HUMANOID_SETS[detail];
  const weights = names.map(() => new Float64Array(count));
  const { skinIndices, skinWeights } = body;
  for (let v = 0; v < count; v++) {
    const p = place(v, frame);
    const plain = skin.nearest(p, null);
    // the arm beside a waist is nearer than the waist: not where it looks the other way
    const own = sided ? skin.nearest(p, outOf(v)) : null;
    const hit = own && plain && own.far < plain.far * 3 + 0.02 ? own : plain;
    hit?.corners.forEach((c, k) => {
      for (let i = c * 4; i < c * 4 + 4; i++) weights[skinIndices[i]][v] += skinWeights[i] * hit.share.getComponent(k);
    });
  }
  for (let i = 0; i < smooth; i++) for (const w of weights) evenOut(surface, w);

  const back = frame === 'head' ? offset : new Vector3();
  const kept = keptBones(names, weights);
  const bones = bonesOf(body, kept, back);
  const binding = fourOf(
    surface,
    bones,
    kept.map((n) => weights[names.indexOf(n)]),
    { method: 'form', reason: `From the nearest skin of form ${form}, ${Math.round(away * 1000)} mm away in the middle.` },
  );
  ride(surface, new Int32Array(count).fill(-1), binding, RIGID);
  return { bones, binding, stance, frame, awayMm: away * 1000 };
}

/** Each vertex half of itself, half of those beside it. */
function evenOut({ start, to }: Surface, w: Float64Array): void {
  const before = w.slice();
  for (let v = 0; v < w.length; v++) {
    const [from, end] = [start[v], start[v + 1]];
    if (end === from) continue;
    let sum = 0;
    for (let e = from; e < end; e++) sum += before[to[e]];
    w[v] = (before[v] + sum / (end - from)) / 2;
  }
}

/** Bones that something follows, what they hang from, and the next on: by it a bone's way is known. */
function keptBones(names: readonly string[], weights: readonly Float64Array[]): string[] {
  const follows = new Set(names.filter((_, b) => weights[b].some((w) => w > 1e-3)));
  const keep = new Set(follows);
  const parents = new Map(names.map((n) => [n, keptParent(n, names)]));
  for (const n of follows) {
    for (let p = parents.get(n); p; p = parents.get(p)) keep.add(p);
    const below = names.filter((c) => parents.get(c) === n);
    const on = below.find((c) => c === ONWARD[n]) ?? (below.length === 1 ? below[0] : undefined);
    if (on) keep.add(on);
  }
  return names.filter((n) => keep.has(n));
}

function bonesOf(body: Body, kept: readonly string[], back: Vector3): Bone[] {
  const at = new Map<string, Vec>(
    body.joints.map((j) => {
      const p = new Vector3().setFromMatrixPosition(new Matrix4().fromArray(j.pose)).sub(back);
      return [j.name, [p.x, p.y, p.z]];
    }),
  );
  return kept.map((name, i): Bone => {
    const parent = keptParent(name, kept);
    const below = kept.filter((c) => keptParent(c, kept) === name);
    const on = below.find((c) => c === ONWARD[name]) ?? (below.length === 1 ? below[0] : undefined);
    const head = at.get(name) as Vec;
    const up = parent ? (at.get(parent) as Vec) : null;
    const tip: Vec = up ? ([0, 1, 2].map((k) => head[k] + (head[k] - up[k]) / 3) as unknown as Vec) : [head[0], head[1] + 0.1, head[2]];
    const tail = on ? (at.get(on) as Vec) : tip;
    return {
      name,
      parent: parent ? kept.indexOf(parent) : -1,
      head,
      tail,
      leads: below.flatMap((c) => (c === on ? [] : [at.get(c) as Vec])),
      limb: i,
      sure: 1,
    };
  });
}
