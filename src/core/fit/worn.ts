/**
 * A rigged garment on the body: each of its bones goes with a joint. Its own rest pose is undone first: a bone is turned, moved and drawn
 * long so that it lies on the body's bone of that name, and from there goes where the joint goes. Bones that are no body's keep their place
 * on the bone they hang from.
 */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { jointMatrix } from '../form/body/carry';
import type { BodySkeleton } from '../form/body/pose';
import type { Model } from '../model/model';
import { type LocalPose, nodeMatrices, restPose } from '../model/pose';
import { type BodyArea, fingerBones, HUMANOID_BONES, HUMANOID_FINGERS, keptParent, mirrorName } from '../words/humanoid';

/** What is said of a part that the body wears. */
export interface WornSaid {
  /** Node of its model → bone of the body. */
  bones: Readonly<Record<string, string>>;
  hides: readonly BodyArea[];
  under: readonly BodyArea[];
}

/** A bone of a garment on a joint of the body. */
export interface WornBone {
  node: number;
  /** Bone of the body, and its number among the 52. */
  bone: string;
  joint: number;
  /** Joint's frame from the bone's own: constant. */
  fit: Matrix4;
  /** By how much its rest pose is turned against the body's, °; null where it leads nowhere. */
  turnedDeg: number | null;
  /** By how much it is drawn long; null where it leads nowhere. */
  long: number | null;
}

/** Bone → what it leads to, along the middle of the body and out to the ends of its limbs. */
const ONWARD: Readonly<Record<string, string>> = (() => {
  const of: Record<string, string> = {};
  const line = (...names: string[]) => {
    for (let i = 1; i < names.length; i++) of[names[i - 1]] = names[i];
  };
  line('hips', 'spine', 'chest', 'upperChest', 'neck', 'head');
  for (const s of ['left', 'right']) {
    const side = (n: string) => (s === 'left' ? n : mirrorName(n));
    line(...['leftShoulder', 'leftUpperArm', 'leftLowerArm', 'leftHand', 'leftMiddleProximal'].map(side));
    line(...['leftUpperLeg', 'leftLowerLeg', 'leftFoot', 'leftToes'].map(side));
    for (const f of HUMANOID_FINGERS) line(...fingerBones(f).map(side));
  }
  return of;
})();
export function leadsTo(bone: string, has: ReadonlySet<string>): string | null {
  let q: string | undefined = ONWARD[bone];
  while (q && !has.has(q)) q = ONWARD[q];
  return q ?? null;
}

const median = (of: number[]) => [...of].sort((a, b) => a - b)[of.length >> 1];
/** A garment as short as a quarter of the body's bone, or four times as long, is another thing. */
const [LEAST, MOST] = [0.25, 4];

/** Which way a figure stands: from its own left and up. Without a pair of sides as the body does. */
function standing(place: ReadonlyMap<string, Vector3>): Quaternion {
  const sides = [...place.keys()].filter((n) => n.startsWith('left') && place.has(mirrorName(n)));
  const middle = HUMANOID_BONES.filter((n) => place.has(n) && mirrorName(n) === n);
  if (sides.length === 0) return new Quaternion();
  const left = new Vector3();
  for (const n of sides) left.add(place.get(n) as Vector3).sub(place.get(mirrorName(n)) as Vector3);
  const up = new Vector3(0, 1, 0);
  if (middle.length > 1) {
    up.subVectors(place.get(middle[middle.length - 1]) as Vector3, place.get(middle[0]) as Vector3);
  }
  left.normalize();
  up.addScaledVector(left, -up.dot(left));
  if (!(up.length() > 1e-6)) return new Quaternion();
  up.normalize();
  return new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(left, up, new Vector3().crossVectors(left, up)));
}

/** Fits the bones of a garment to a body at rest; parents first. Names that no node or no joint has are left out. */
export function fitWorn(model: Model, bones: WornSaid['bones'], rest: BodySkeleton): WornBone[] {
  const world = nodeMatrices(model, restPose(model));
  const node = new Map<string, number>();
  for (const [name, bone] of Object.entries(bones)) {
    const at = model.nodes.findIndex((n) => n.name === name);
    if (at >= 0 && HUMANOID_BONES.includes(bone)) node.set(bone, at);
  }
  const has = new Set(node.keys());
  const place = new Map([...node].map(([bone, n]) => [bone, new Vector3().setFromMatrixPosition(world[n])]));
  const bodyPlace = new Map([...has].map((bone) => [bone, rest.rest[bone].place]));
  const base = standing(bodyPlace).multiply(standing(place).invert());
  const ways = new Map(
    [...has].map((bone) => {
      const on = leadsTo(bone, has);
      if (on === null) return [bone, null] as const;
      const own = (place.get(on) as Vector3).clone().sub(place.get(bone) as Vector3);
      const body = rest.rest[on].place.clone().sub(rest.rest[bone].place);
      return [bone, own.length() > 1e-6 ? { own, body, long: body.length() / own.length() } : null] as const;
    }),
  );
  const longs = [...ways.values()].flatMap((w) => (w ? [Math.min(MOST, Math.max(LEAST, w.long))] : []));
  // across, all of it is larger by one measure: what is between two bones must not be torn
  const broad = longs.length > 0 ? median(longs) : 1;
  const turns = new Map<string, Quaternion>();
  const out: WornBone[] = [];
  for (const [joint, bone] of HUMANOID_BONES.entries()) {
    const n = node.get(bone);
    if (n === undefined) continue;
    const above = keptParent(bone, [...has]);
    const turn = (above ? (turns.get(above) as Quaternion) : base).clone();
    const way = ways.get(bone) ?? null;
    const scale = new Matrix4().makeScale(broad, broad, broad);
    let turnedDeg: number | null = null;
    if (way) {
      const to = way.body.clone().normalize();
      const from = way.own.clone().normalize();
      turnedDeg = (from.clone().applyQuaternion(base).angleTo(to) * 180) / Math.PI;
      turn.premultiply(new Quaternion().setFromUnitVectors(from.applyQuaternion(turn), to));
      const more = Math.min(MOST, Math.max(LEAST, way.long)) - broad;
      const { x, y, z } = to;
      // I·broad + (long − broad)·d dᵀ: longer along the bone alone
      scale.set(
        broad + more * x * x,
        more * x * y,
        more * x * z,
        0,
        more * x * y,
        broad + more * y * y,
        more * y * z,
        0,
        more * x * z,
        more * y * z,
        broad + more * z * z,
        0,
        0,
        0,
        0,
        1,
      );
    }
    turns.set(bone, turn);
    const at = rest.rest[bone];
    const own = world[n].clone().setPosition(0, 0, 0);
    const back = jointMatrix(at).invert();
    if (node.size === 1) {
      // one bone alone does not say where the garment lies: it stays where its file has it
      out.push({ node: n, bone, joint, fit: back.multiply(world[n]), turnedDeg: null, long: null });
      continue;
    }
    const fit = back
      .multiply(new Matrix4().makeTranslation(at.place.x, at.place.y, at.place.z))
      .multiply(scale)
      .multiply(new Matrix4().makeRotationFromQuaternion(turn))
      .multiply(own);
    out.push({ node: n, bone, joint, fit, turnedDeg, long: way ? way.long : null });
  }
  return out;
}

/** A model's pose with its bones where the body's joints are. @param joint world of a joint, in the frame that the model is placed in */
export function wornPose(model: Model, pose: LocalPose, worn: readonly WornBone[], joint: (number: number) => Matrix4): LocalPose {
  const said = new Map(worn.map((w) => [w.node, joint(w.joint).clone().multiply(w.fit)]));
  const locals = new Map<number, Matrix4>();
  const free = nodeMatrices(model, { ...pose, locals: new Map() });
  const world = new Map<number, Matrix4>();
  const worldOf = (n: number): Matrix4 => {
    const known = said.get(n) ?? world.get(n);
    if (known) return known;
    const { parent } = model.nodes[n];
    // its own place in its parent, from where both are without the body
    const made = parent < 0 ? free[n] : worldOf(parent).clone().multiply(free[parent].clone().invert().multiply(free[n]));
    world.set(n, made);
    return made;
  };
  for (const [n, m] of said) {
    const { parent } = model.nodes[n];
    locals.set(n, parent < 0 ? m : worldOf(parent).clone().invert().multiply(m));
  }
  return { ...pose, locals };
}
