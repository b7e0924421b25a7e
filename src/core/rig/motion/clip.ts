/** A motion on a rigged figure as a clip: keys of its bones, how much its standing feet slip, how well its end meets its beginning. */
import type { Document } from '@gltf-transform/core';
import { Quaternion, Vector3 } from 'three';
import { type BodyPose, MOTIONS } from '../../form/body';
import { readModel } from '../../model';
import { MOTION_SPEEDS, type MotionName } from '../../words/humanoid';
import { RigError } from '../middle';
import { type MovedFigure, movedFigure, type Stance } from './figure';

export interface MotionAsked {
  motion: MotionName;
  /** In its unit; null: the usual one. */
  speed: number | null;
  /** Of the trunk's, the arms' and the head's turns about their mean: 0 none, 1 as it is. Legs keep to the ground. */
  energy: number;
  /** On the spot; else the figure travels as far as its feet carry it. */
  inPlace: boolean;
}

export interface MotionClip {
  name: string;
  seconds: number;
  times: Float32Array;
  /** Node → four numbers a key. */
  turns: Map<number, Float32Array>;
  hips: { node: number; places: Float32Array };
  /** Greatest way of a foot over the ground from key to key while it stands, mm of the model; keys blended at the end are not counted. */
  footSlipMm: number;
  /** Greatest turn between a bone's last key and its first. */
  loopGapDeg: number;
}

export const RATE = 30;
/** What stands on the ground, and is not made more or less of. */
export const LEGS = /hips|Leg|Foot|Toes/;
/** A point of a sole stands when it is this near to its height at rest, metres of a body. */
const ON_FLOOR = 0.0015;
const HEEL_M = 0.025;

/** @throws {RigError} `rig/no-figure` bones that motion needs are missing; `rig/speed` one beyond what the motion bears */
export function motionClip(document: Document, asked: MotionAsked): MotionClip {
  const def = MOTIONS[asked.motion];
  const bears = MOTION_SPEEDS[asked.motion];
  const speed = asked.speed ?? bears?.usual ?? 1;
  if (asked.speed !== null && (!bears || !(speed >= bears.least && speed <= bears.most)))
    throw new RigError(
      'rig/speed',
      bears
        ? `${asked.motion} goes at ${bears.least} to ${bears.most} ${bears.unit}, not ${asked.speed}.`
        : `${asked.motion} has no speed of its own.`,
    );
  const figure = movedFigure(readModel(document));
  const seconds = def.seconds(figure.stander, speed);
  const keys = Math.max(2, Math.round(seconds * RATE)) + 1;
  const times = Float32Array.from({ length: keys }, (_, k) => (seconds * k) / (keys - 1));
  const poses = withEnergy(
    [...times].map((t) => def.at(figure.stander, t, speed)),
    asked.energy,
  );
  const stances = poses.map((pose, k) => {
    const way = asked.inPlace ? 0 : def.travels(speed) * times[k];
    const root = pose.root ?? { position: [0, 0, 0], yawDeg: 0 };
    return figure.stanceIn({ ...pose, root: { ...root, position: [root.position[0], root.position[1], root.position[2] + way] } });
  });
  return {
    name: asked.motion,
    ...keysOf(figure, times, stances),
    footSlipMm: slipOf(figure, poses, (k) => def.travels(speed) * times[k]) * figure.scale * 1000,
  };
}

/** Keys of a figure's nodes for how it is held at each time. @param also turns of nodes that are no bones */
export function keysOf(
  figure: MovedFigure,
  times: Float32Array,
  stances: readonly Stance[],
  also?: (k: number) => ReadonlyMap<number, Quaternion>,
): Pick<MotionClip, 'seconds' | 'times' | 'turns' | 'hips' | 'loopGapDeg'> {
  const keys = times.length;
  const places = new Float32Array(keys * 3);
  const turns = new Map<number, Float32Array>();
  const key = (node: number, k: number, q: Quaternion) => {
    const own = turns.get(node) ?? new Float32Array(keys * 4);
    turns.set(node, own);
    // the nearer of two that are the same turn, so that keys are joined the short way
    const before = k > 0 ? new Quaternion().fromArray(own, k * 4 - 4) : q;
    const near = before.dot(q) < 0 ? new Quaternion(-q.x, -q.y, -q.z, -q.w) : q;
    near.toArray(own, k * 4);
  };
  stances.forEach((stance, k) => {
    const others = also?.(k);
    const at = figure.apply(stance, others);
    at.hips.toArray(places, k * 3);
    for (const [node, q] of [...at.turns, ...(others ?? [])]) key(node, k, q);
  });
  let gap = 0;
  for (const own of turns.values())
    gap = Math.max(gap, turnBetween(new Quaternion().fromArray(own, 0), new Quaternion().fromArray(own, keys * 4 - 4)));
  return {
    seconds: times[keys - 1],
    times,
    turns,
    hips: { node: (figure.bones.find((b) => b.name === 'hips') as { node: number }).node, places },
    loopGapDeg: Math.round(gap * 1e4) / 1e4,
  };
}

/** Degrees; by the sine of the half, which small ones are told by. */
function turnBetween(a: Quaternion, b: Quaternion): number {
  const q = a.clone().invert().multiply(b);
  return (2 * Math.asin(Math.min(1, Math.hypot(q.x, q.y, q.z))) * 180) / Math.PI;
}

/** Turns of all but the legs about their mean, more or less of them. */
function withEnergy(poses: readonly BodyPose[], energy: number): BodyPose[] {
  if (energy === 1) return [...poses];
  const names = [...new Set(poses.flatMap((p) => Object.keys(p.joints ?? {})))].filter((n) => !LEGS.test(n));
  const of = (p: BodyPose, n: string) => (p.joints?.[n] as Quaternion | undefined) ?? new Quaternion();
  const means = new Map(names.map((n) => [n, mean(poses.map((p) => of(p, n)))]));
  return poses.map((p) => ({
    ...p,
    joints: {
      ...p.joints,
      ...Object.fromEntries(names.map((n) => [n, about(means.get(n) as Quaternion, of(p, n), energy)])),
    },
  }));
}

/** A turn that is so much farther from another, or nearer: 0 that other, 1 itself, 2 twice as far. */
export function about(middle: Quaternion, q: Quaternion, energy: number): Quaternion {
  const off = middle.clone().invert().multiply(q);
  if (off.w < 0) off.set(-off.x, -off.y, -off.z, -off.w);
  const axis = new Vector3(off.x, off.y, off.z);
  const half = Math.atan2(axis.length(), off.w) * energy;
  return middle.clone().multiply(new Quaternion().setFromAxisAngle(axis.normalize(), 2 * half));
}

/** Of turns that are not far apart. */
export function mean(list: readonly Quaternion[]): Quaternion {
  const sum = new Quaternion(0, 0, 0, 0);
  for (const q of list) {
    const k = q.dot(list[0]) < 0 ? -1 : 1;
    sum.set(sum.x + k * q.x, sum.y + k * q.y, sum.z + k * q.z, sum.w + k * q.w);
  }
  return sum.normalize();
}

/** Heel and ball of each foot, carried by it: how far they go while they stand as high as at rest. */
function slipOf(figure: MovedFigure, poses: readonly BodyPose[], way: (k: number) => number): number {
  const points = (['left', 'right'] as const).flatMap((s) => {
    const foot = figure.stander.joint(`${s}Foot`);
    const [x, , z] = figure.stander.heel(s);
    // where a heel rolls: a little in from its skin
    return [new Vector3(x, HEEL_M, z + HEEL_M), figure.stander.joint(`${s}Toes`)].map((p) => ({
      bone: `${s}Foot`,
      rest: p.y,
      off: p.sub(foot),
    }));
  });
  const paths = poses.map((pose, k) => {
    const places = figure.placesIn(figure.stanceIn(pose));
    return points.map(({ bone, off }) => {
      const { place, turn } = places.get(bone) as { place: Vector3; turn: Quaternion };
      return off
        .clone()
        .applyQuaternion(turn)
        .add(place)
        .add(new Vector3(0, 0, way(k)));
    });
  });
  let most = 0;
  for (const [i, { rest }] of points.entries())
    for (let k = 2; k + 1 < paths.length; k++) {
      // a foot that swings goes through that height too, and is gone at the next key
      if ([k - 2, k - 1, k, k + 1].some((n) => Math.abs(paths[n][i].y - rest) > ON_FLOOR)) continue;
      const [a, b] = [paths[k - 1][i], paths[k][i]];
      most = Math.max(most, Math.hypot(a.x - b.x, a.z - b.z));
    }
  return most;
}

/** The clip as an animation of the document; one of its name is replaced. */
export function addClip(document: Document, clip: MotionClip): void {
  const root = document.getRoot();
  const nodes = root.listNodes();
  const buffer = root.listBuffers()[0] ?? document.createBuffer();
  for (const a of root.listAnimations()) if (a.getName() === clip.name) a.dispose();
  const animation = document.createAnimation(clip.name);
  const input = document.createAccessor().setType('SCALAR').setArray(clip.times).setBuffer(buffer);
  const track = (node: number, path: 'rotation' | 'translation', values: Float32Array) => {
    const output = document
      .createAccessor()
      .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
      .setArray(values)
      .setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
    animation
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setSampler(sampler).setTargetNode(nodes[node]).setTargetPath(path));
  };
  for (const [node, values] of clip.turns) track(node, 'rotation', values);
  track(clip.hips.node, 'translation', clip.hips.places);
}
