/**
 * A motion of one figure on another: each bone points where the other's does, whatever their rest poses, proportions, names and extra
 * joints; the way of the hips goes by their height; feet that stand stay.
 */
import type { Document } from '@gltf-transform/core';
import { Quaternion, Vector3 } from 'three';
import { type Model, nodeMatrices, poseAt, readModel } from '../../model';
import { HUMANOID_BONES, HUMANOID_PARENT } from '../../words/humanoid';
import { RigError } from '../middle';
import { about, keysOf, LEGS, type MotionClip, mean, RATE } from './clip';
import { slipWhile, stand, standsOf } from './feet';
import { type MovedFigure, movedFigure, type Stance } from './figure';

export interface RetargetAsked {
  /** Of the clip that is made. */
  name: string;
  /** Of the one that is taken; null: the first. */
  clip: string | null;
  /** 1 as it was, 2 twice as fast. */
  speed: number;
  /** Of the trunk's, the arms' and the head's turns about their mean: 0 none, 1 as it is. */
  energy: number;
  /** On the spot; else as far as the figure went. */
  inPlace: boolean;
  /** Keys at the end that go over to the beginning, so that it comes round; 0 none. */
  blend: number;
  /** Feet that stand are held where they stand. */
  standing: boolean;
}

/** What a clip that is taken is called: as there, else as its file without its ending. */
export const retargetName = ({ clip, name }: { clip: string | null; name: string }): string => clip || name.replace(/\.\w+$/, '') || name;

/** @throws {RigError} `rig/no-figure` of either the bones that are missing; `rig/no-clip` a motion that is not there */
export function retargetClip(document: Document, source: Model, asked: RetargetAsked): MotionClip {
  const from = inWords('The motion', () => movedFigure(source));
  const model = readModel(document);
  const to = movedFigure(model);
  const clip = asked.clip === null ? source.clips[0] : source.clips.find((c) => c.name === asked.clip);
  if (!clip)
    throw new RigError(
      'rig/no-clip',
      asked.clip === null
        ? 'The file holds no motion.'
        : `The file holds no motion ${asked.clip}. It holds ${source.clips.map((c) => c.name).join(', ') || 'none'}.`,
    );
  const seconds = clip.seconds / asked.speed;
  const keys = Math.max(2, Math.round(seconds * RATE)) + 1;
  const times = Float32Array.from({ length: keys }, (_, k) => (seconds * k) / (keys - 1));
  // its last key is its last, not its first again
  const held = { ...source, clips: [{ ...clip, loop: false }] };
  const poses = [...times].map((t) => poseAt(held, 0, t * asked.speed));
  const theirs = poses.map((p) => from.stanceOf(nodeMatrices(source, p)));
  const moved = withEnergy(
    theirs.map((s) => upright(s, from)),
    asked.energy,
  ).map((s) => atRest(s, to));
  // while the end goes over to the beginning feet step over: none stands
  const whole = keys - 1 - Math.min(asked.blend, keys - 1);
  const stands = standsOf(from, theirs, RATE).flatMap((s) => (s.from < whole ? [{ ...s, to: Math.min(s.to, whole) }] : []));
  const standing = asked.standing ? stand(to, moved, stands) : moved;
  const way = asked.inPlace ? pathOf(standing, asked.speed) : evenWay(standing);
  const done = round(standing, asked.blend, way);
  return {
    name: asked.name,
    ...keysOf(
      to,
      times,
      asked.inPlace ? done.map((s, k) => ({ ...s, hips: s.hips.clone().sub(way(k)) })) : done,
      othersOf(source, model, from, to, poses),
    ),
    footSlipMm: slipWhile(to, done, stands) * to.scale * 1000,
  };
}

function inWords<T>(what: string, run: () => T): T {
  try {
    return run();
  } catch (error) {
    throw error instanceof RigError ? new RigError(error.code, `${what} is of no figure that is known: ${error.message}`) : error;
  }
}

/** Away from a body that stands upright with its arms out, instead of away from a rest of its own. */
const upright = (s: Stance, figure: MovedFigure): Stance => ({
  ...s,
  turns: new Map([...s.turns].map(([n, q]) => [n, q.clone().multiply(figure.rest.get(n) ?? new Quaternion())])),
});
const atRest = (s: Stance, figure: MovedFigure): Stance => ({
  ...s,
  turns: new Map([...s.turns].map(([n, q]) => [n, q.clone().multiply((figure.rest.get(n) ?? new Quaternion()).clone().invert())])),
});

/** Turns of all but the legs in their parents, more or less of them about their mean. */
function withEnergy(stances: readonly Stance[], energy: number): Stance[] {
  if (energy === 1) return [...stances];
  const inParent = (s: Stance, n: string) => {
    const own = s.turns.get(n) as Quaternion;
    const parent = HUMANOID_PARENT[n];
    return parent ? (s.turns.get(parent) as Quaternion).clone().invert().multiply(own) : own.clone();
  };
  const means = new Map(HUMANOID_BONES.map((n) => [n, mean(stances.map((s) => inParent(s, n)))]));
  return stances.map((s) => {
    const turns = new Map<string, Quaternion>();
    for (const n of HUMANOID_BONES) {
      const parent = HUMANOID_PARENT[n];
      if (LEGS.test(n)) turns.set(n, s.turns.get(n) as Quaternion);
      else
        turns.set(
          n,
          (parent ? (turns.get(parent) as Quaternion).clone() : new Quaternion()).multiply(
            about(means.get(n) as Quaternion, inParent(s, n), energy),
          ),
        );
    }
    return { ...s, turns };
  });
}

/** How far along the ground the figure has come by a key, as if it went evenly. */
function evenWay(stances: readonly Stance[]): (k: number) => Vector3 {
  const all = stances[stances.length - 1].hips.clone().sub(stances[0].hips).setY(0);
  return (k) => all.clone().multiplyScalar(k / (stances.length - 1));
}

/** Half of what a path is a mean over, seconds as captured: about a step, and shorter than turning back takes. */
const PATH_S = 0.35;

/** The path it went along the ground, from where it is at rest, without what sways on the way: what is left stays on the spot. */
function pathOf(stances: readonly Stance[], speed: number): (k: number) => Vector3 {
  const reach = Math.round((PATH_S * RATE) / speed);
  const last = stances.length - 1;
  // evenly to both sides, so that a start or an end does not pull
  const at = (k: number) => {
    const own = Math.min(reach, k, last - k);
    const sum = new Vector3();
    for (let i = k - own; i <= k + own; i++) sum.add(stances[i].hips);
    return sum.divideScalar(2 * own + 1).setY(0);
  };
  const path = stances.map((_, k) => at(k));
  return (k) => path[k];
}

/** The last keys go over to the first, at the place it has come to. */
function round(stances: readonly Stance[], blend: number, way: (k: number) => Vector3): Stance[] {
  const n = Math.min(blend, stances.length - 1);
  if (n <= 0) return [...stances];
  const last = stances.length - 1;
  const first = stances[0];
  return stances.map((s, k) => {
    const u = (k - (last - n)) / n;
    if (u <= 0) return s;
    const share = u * u * (3 - 2 * u);
    return {
      turns: new Map([...s.turns].map(([name, q]) => [name, q.clone().slerp(first.turns.get(name) as Quaternion, share)])),
      hips: s.hips.clone().lerp(first.hips.clone().add(way(k)).sub(way(0)), share),
    };
  });
}

/** Joints that are none of a figure's, and that both have by one name, go as they went there. */
function othersOf(
  source: Model,
  model: Model,
  from: MovedFigure,
  to: MovedFigure,
  poses: readonly { trs: Float32Array | Float64Array }[],
): ((k: number) => ReadonlyMap<number, Quaternion>) | undefined {
  const there = new Map(from.others.map((n) => [source.nodes[n].name, n]));
  const pairs = to.others.flatMap((n) => {
    const other = there.get(model.nodes[n].name);
    return other === undefined || model.nodes[n].name === '' ? [] : [[n, other] as const];
  });
  if (pairs.length === 0) return undefined;
  const inSource = pairs.map(([, o]) => new Quaternion(...source.nodes[o].rotation).invert());
  return (k) =>
    new Map(
      pairs.map(([n, o], i) => {
        const [x, y, z, w] = poses[k].trs.slice(o * 10 + 3, o * 10 + 7);
        return [
          n,
          new Quaternion(...model.nodes[n].rotation).multiply(inSource[i].clone().multiply(new Quaternion(x, y, z, w))).normalize(),
        ];
      }),
    );
}
