/** A rigged figure as motion sees it: its humanoid bones in a body's own axes, and the way from a body's pose back to turns of its nodes. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { type BodyPose, poseTurns, type Stander, T_TURNS } from '../../form/body';
import { type Model, nodeMatrices, restPose } from '../../model';
import { fingerBones, HUMANOID_BONES, HUMANOID_FINGERS, HUMANOID_PARENT } from '../../words/humanoid';
import { axesOf } from '../figure';
import { knownSkeleton } from '../known';
import { RigError, type Vec } from '../middle';

/** How a figure is held, in a body's axes: how each bone is turned away from the model's rest, and where the hips are, metres of a body. */
export interface Stance {
  turns: ReadonlyMap<string, Quaternion>;
  hips: Vector3;
}

export interface MovedFigure {
  stander: Stander;
  /** Nodes that are bones, parents first. */
  bones: { name: string; node: number }[];
  /** Joints that are none of a figure's. */
  others: readonly number[];
  /** Metres of the model in one of the body's. */
  scale: number;
  /** From a body that stands upright, arms out to its sides, to how a bone is at rest here; bones that are left out lie as there. */
  rest: ReadonlyMap<string, Quaternion>;
  /** What a pose of the body is here. Legs move from how they stand. */
  stanceIn(pose: BodyPose): Stance;
  /** How a pose of the model's nodes holds it. */
  stanceOf(world: readonly Matrix4[]): Stance;
  /** Turns of the bones' nodes, in their parents, and where the hips' node is in its parent. @param also turns of nodes that are no bones */
  apply(stance: Stance, also?: ReadonlyMap<number, Quaternion>): { turns: Map<number, Quaternion>; hips: Vector3 };
  /** Places of joints, metres of the body. */
  placesIn(stance: Stance): Map<string, { place: Vector3; turn: Quaternion }>;
}

/** Height of the hips of the body form of usual size, metres: what motions' lengths are those of. */
const HIPS_M = 0.93;
/** @throws {RigError} `rig/no-figure` bones of a humanoid that are missing, by name */
export function movedFigure(model: Model): MovedFigure {
  const { nodeOf, others } = knownSkeleton(model);
  const world = nodeMatrices(model, restPose(model));
  const placeOf = (name: string) => {
    const node = nodeOf.get(name);
    return node === undefined ? undefined : new Vector3().setFromMatrixPosition(world[node]);
  };
  const found = axesOf((n) => placeOf(n)?.toArray() as Vec | undefined);
  const axes = found && squared(found);
  if (!axes) throw new RigError('rig/no-figure', 'Motion needs a figure whose shoulders and neck are apart. Look at its joints.');
  const basis = new Matrix4().makeBasis(new Vector3(...axes.left), new Vector3(...axes.up), new Vector3(...axes.front));
  const toBody = basis.clone().transpose();
  const turnBasis = new Quaternion().setFromRotationMatrix(basis);
  const hips = placeOf('hips') as Vector3;
  const floor = groundUnder(model, world, new Vector3(...axes.up));
  const height = hips.clone().dot(new Vector3(...axes.up)) - floor;
  const scale = height / HIPS_M;
  const toCanon = (p: Vector3) => {
    const q = p.clone().sub(hips).applyMatrix4(toBody).divideScalar(scale);
    return q.setY(q.y + HIPS_M);
  };
  const places = new Map([...nodeOf.keys()].map((n) => [n, toCanon(placeOf(n) as Vector3)]));
  for (const s of ['left', 'right'])
    if (!places.has(`${s}Toes`)) {
      const node = model.nodes[nodeOf.get(`${s}Foot`) as number];
      const foot = places.get(`${s}Foot`) as Vector3;
      const tip = node.tailM
        ? toCanon(new Vector3(...node.tailM).applyMatrix4(world[nodeOf.get(`${s}Foot`) as number]))
        : foot.clone().add(new Vector3(0, 0, 0.18));
      places.set(`${s}Toes`, foot.clone().lerp(tip, 0.62).setY(0.02));
    }
  const stander: Stander = {
    joint: (bone) => (places.get(bone) ?? (places.get('hips') as Vector3)).clone(),
    // a heel lies a third of a foot behind the ankle: common practice
    heel: (side) => {
      const [foot, toes] = [places.get(`${side}Foot`) as Vector3, places.get(`${side}Toes`) as Vector3];
      return [foot.x, 0, foot.z - 0.42 * Math.abs(toes.z - foot.z)];
    },
  };
  // from the T pose to how the arms are at rest; legs move from how they stand
  const lean = new Map<string, Quaternion>();
  for (const [s, out] of [
    ['left', 1],
    ['right', -1],
  ] as const)
    for (const [bone, next] of [
      ['UpperArm', 'LowerArm'],
      ['LowerArm', 'Hand'],
    ]) {
      const d = (places.get(s + next) as Vector3)
        .clone()
        .sub(places.get(s + bone) as Vector3)
        .normalize();
      const q = new Quaternion().setFromUnitVectors(new Vector3(out, 0, 0), d);
      lean.set(s + bone, q);
      if (bone !== 'LowerArm') continue;
      lean.set(`${s}Hand`, q);
      for (const f of HUMANOID_FINGERS.flatMap(fingerBones)) lean.set(f.replace('left', s), q);
    }
  const rest = new Map(lean);
  for (const s of ['left', 'right'])
    for (const [bone, next] of [
      ['UpperLeg', 'LowerLeg'],
      ['LowerLeg', 'Foot'],
    ]) {
      const d = (places.get(s + next) as Vector3).clone().sub(places.get(s + bone) as Vector3);
      rest.set(s + bone, new Quaternion().setFromUnitVectors(new Vector3(0, -1, 0), d.normalize()));
    }
  const bones = HUMANOID_BONES.flatMap((name) => (nodeOf.has(name) ? [{ name, node: nodeOf.get(name) as number }] : []));
  const restTurn = model.nodes.map((_, i) => new Quaternion().setFromRotationMatrix(new Matrix4().extractRotation(world[i])));
  const named = new Map(bones.map((b) => [b.node, b.name]));

  /** World turns of the body's bones, of which an unturned one stands as at rest. */
  const turnsOf = (pose: BodyPose): Map<string, Quaternion> => {
    const local = poseTurns(pose);
    const of = new Map<string, Quaternion>();
    // finger roots have frames of their own in the T pose: what counts is the turn away from it
    const frames = new Map<string, Quaternion>();
    for (const n of HUMANOID_BONES) {
      const parent = HUMANOID_PARENT[n];
      const frame = (parent ? (frames.get(parent) as Quaternion).clone() : new Quaternion()).multiply(T_TURNS[n] ?? new Quaternion());
      frames.set(n, frame);
      const up = parent
        ? (of.get(parent) as Quaternion)
        : new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), ((pose.root?.yawDeg ?? 0) * Math.PI) / 180);
      const turn = local[n];
      of.set(n, turn ? up.clone().multiply(frame.clone().multiply(turn).multiply(frame.clone().invert())) : up.clone());
    }
    return new Map([...of].map(([n, q]) => [n, lean.has(n) ? q.clone().multiply((lean.get(n) as Quaternion).clone().invert()) : q]));
  };
  const hipsIn = (pose: BodyPose) => {
    const [x, y, z] = pose.root?.position ?? [0, 0, 0];
    return new Vector3(x, HIPS_M + y, z);
  };
  const fromBasis = turnBasis.clone().invert();
  return {
    stander,
    bones,
    others,
    scale,
    rest,
    stanceIn: (pose) => ({ turns: turnsOf(pose), hips: hipsIn(pose) }),
    stanceOf(posed) {
      const turns = new Map<string, Quaternion>();
      for (const n of HUMANOID_BONES) {
        const node = nodeOf.get(n);
        const parent = HUMANOID_PARENT[n];
        if (node === undefined) {
          // what is not there goes with what it would hang from
          turns.set(n, (parent ? (turns.get(parent) as Quaternion) : new Quaternion()).clone());
          continue;
        }
        const away = new Quaternion()
          .setFromRotationMatrix(new Matrix4().extractRotation(posed[node]))
          .multiply(restTurn[node].clone().invert());
        turns.set(n, fromBasis.clone().multiply(away).multiply(turnBasis));
      }
      return { turns, hips: toCanon(new Vector3().setFromMatrixPosition(posed[nodeOf.get('hips') as number])) };
    },
    apply(stance, also) {
      const out = new Map<number, Quaternion>();
      const visit = (node: number, up: Quaternion) => {
        const name = named.get(node);
        let own: Quaternion;
        if (name) {
          const q = stance.turns.get(name) as Quaternion;
          own = turnBasis.clone().multiply(q).multiply(fromBasis).multiply(restTurn[node]);
          out.set(node, up.clone().invert().multiply(own).normalize());
        } else own = up.clone().multiply(also?.get(node) ?? new Quaternion(...model.nodes[node].rotation));
        for (const c of model.nodes[node].children) visit(c, own);
      };
      for (const root of model.sceneRoots) visit(root, new Quaternion());
      const moved = stance.hips
        .clone()
        .setY(stance.hips.y - HIPS_M)
        .multiplyScalar(scale)
        .applyMatrix4(basis)
        .add(hips);
      const parent = model.nodes[nodeOf.get('hips') as number].parent;
      return { turns: out, hips: parent < 0 ? moved : moved.applyMatrix4(world[parent].clone().invert()) };
    },
    placesIn(stance) {
      const of = new Map<string, { place: Vector3; turn: Quaternion }>();
      for (const n of HUMANOID_BONES) {
        const own = places.get(n);
        if (!own) continue;
        let parent = HUMANOID_PARENT[n];
        while (parent && !places.has(parent)) parent = HUMANOID_PARENT[parent];
        const up = parent ? of.get(parent) : undefined;
        const place =
          up && parent
            ? own
                .clone()
                .sub(places.get(parent) as Vector3)
                .applyQuaternion(up.turn)
                .add(up.place)
            : stance.hips.clone();
        of.set(n, { place, turn: stance.turns.get(n) as Quaternion });
      }
      return of;
    },
  };
}

/** Of one that stands nearly along the model's axes: along them. */
const NEARLY = Math.cos((10 * Math.PI) / 180);

function squared(axes: NonNullable<ReturnType<typeof axesOf>>): NonNullable<ReturnType<typeof axesOf>> {
  const square = (v: Vec): Vec | null => {
    const k = v.findIndex((x) => Math.abs(x) > NEARLY);
    return k < 0 ? null : (v.map((x, i) => (i === k ? Math.sign(x) : 0)) as Vec);
  };
  const [up, left] = [square(axes.up), square(axes.left)];
  if (!up || !left) return axes;
  return { up, left, front: new Vector3(...left).cross(new Vector3(...up)).toArray() as Vec };
}

/** Height of the lowest vertex along a direction, metres; where nothing is drawn, of the lowest joint. */
function groundUnder(model: Model, world: readonly Matrix4[], up: Vector3): number {
  let low = Infinity;
  const v = new Vector3();
  model.nodes.forEach((n, i) => {
    if (n.mesh < 0) return;
    const skin = n.skin >= 0 ? model.skins[n.skin] : null;
    // of a skin the rest pose is where its first joint carries it
    const m = skin ? new Matrix4().fromArray(skin.inverseBind, 0).premultiply(world[skin.joints[0]]) : world[i];
    for (const p of model.meshes[n.mesh].primitives)
      for (let k = 0; k + 2 < p.positions.length; k += 3) low = Math.min(low, v.fromArray(p.positions, k).applyMatrix4(m).dot(up));
  });
  if (low < Infinity) return low;
  return Math.min(...world.map((m) => v.setFromMatrixPosition(m).dot(up)));
}
