/** How a garment sits over the body's poses: how deep it lies under the skin, how far cloth is drawn. */
import { BufferAttribute, BufferGeometry, type Matrix4, Triangle, Vector3 } from 'three';
import { type HitPointInfo, MeshBVH } from 'three-mesh-bvh';
import { bendBody } from '../form/body/bend';
import type { DrawnBody } from '../form/body/body';
import { jointMatrix } from '../form/body/carry';
import { BODY_POSES, type BodyPoseName, type BodySkeleton, REST, solveBodyPose } from '../form/body/pose';
import type { Model } from '../model/model';
import { posedPrimitives, restPose } from '../model/pose';
import { trianglesWithout } from '../model/without';
import { HUMANOID_BONES } from '../words/humanoid';
import { fitWorn, type WornSaid, wornPose } from './worn';
import { wornWithout } from './wornareas';

export interface WornPoseRow {
  pose: BodyPoseName;
  /** Of what is drawn below the skin nineteen in twenty lie no deeper, mm; 0: nothing does. One rim inside a hip does not tell of a sleeve. */
  deepMm: number;
  /** Share of its places that lie below the skin, 0 … 1. */
  under: number;
  /** Longest edge against the same edge while the body rests. */
  stretch: number;
}

/** Of each garment at most so many places are asked about. */
const MOST = 6_000;
/** Shorter edges say nothing of cloth, metres. */
const SHORT_M = 0.002;

/** @param poses left out: all there are */
export function wornOverPoses(
  model: Model,
  said: WornSaid,
  rest: BodySkeleton,
  body: DrawnBody,
  poses: readonly BodyPoseName[] = Object.keys(BODY_POSES) as BodyPoseName[],
): WornPoseRow[] {
  const fitted = fitWorn(model, said.bones, rest);
  const without = new Set(wornWithout(model, said));
  const lists = drawnLists(model, without);
  const end = body.groups.find((g) => g.name === 'eyes')?.start ?? body.indices.length;
  const skin = { positions: body.positions.slice(), normals: body.normals.slice() };
  const at = (pose: BodyPoseName) => {
    const states = solveBodyPose(rest, BODY_POSES[pose]);
    const joints = HUMANOID_BONES.map((n) => jointMatrix(states[n]));
    const cloth = posedPrimitives(
      model,
      wornPose(model, restPose(model), fitted, (i) => joints[i]),
    );
    return { joints, cloth };
  };
  const usual = at(REST).cloth;
  return poses.map((pose): WornPoseRow => {
    const { joints, cloth } = at(pose);
    const carry = new Float64Array(joints.length * 16);
    joints.forEach((j: Matrix4, i) => {
      carry.set(j.clone().multiply(jointMatrix(rest.rest[HUMANOID_BONES[i]]).invert()).elements, i * 16);
    });
    bendBody(body, carry, skin);
    const depth = under(
      skin.positions,
      body.indices.subarray(0, end),
      cloth.map((c) => c.positions),
      lists,
    );
    let stretch = 1;
    for (const [i, c] of cloth.entries()) stretch = Math.max(stretch, longest(c.positions, usual[i].positions, lists[i]));
    return { pose, ...depth, stretch };
  });
}

/** What of a garment is drawn while the body rests: places in its frame, metres. */
export function clothAt(model: Model, said: WornSaid, rest: BodySkeleton): { positions: Float32Array; triangles: Uint32Array }[] {
  const joints = HUMANOID_BONES.map((n) => jointMatrix(rest.rest[n]));
  const fitted = fitWorn(model, said.bones, rest);
  const lists = drawnLists(model, new Set(wornWithout(model, said)));
  const pose = wornPose(model, restPose(model), fitted, (i) => joints[i]);
  return posedPrimitives(model, pose).map(({ positions }, i) => ({ positions, triangles: lists[i] }));
}

/** Shapes as one. */
export function asOne(shapes: readonly { positions: Float32Array; triangles: Uint32Array }[]) {
  const positions = new Float32Array(shapes.reduce((s, c) => s + c.positions.length, 0));
  const triangles = new Uint32Array(shapes.reduce((s, c) => s + c.triangles.length, 0));
  let [v, t] = [0, 0];
  for (const c of shapes) {
    positions.set(c.positions, v * 3);
    triangles.set(
      c.triangles.map((i) => i + v),
      t,
    );
    v += c.positions.length / 3;
    t += c.triangles.length;
  }
  return { positions, triangles };
}

/** Triangles that are drawn, by what `posedPrimitives` gives. */
function drawnLists(model: Model, without: ReadonlySet<number>): Uint32Array[] {
  return posedPrimitives(model, restPose(model)).map(({ node, mesh, primitive }) => {
    const p = model.meshes[mesh].primitives[primitive];
    const skin = model.nodes[node].skin;
    if (skin < 0 || !p.joints || !p.weights || without.size === 0) return p.triangles;
    const { joints } = model.skins[skin];
    return trianglesWithout(p.triangles, p.joints, p.weights, p.influences, (j) => without.has(joints[j]));
  });
}

/** Longest edge against what it was. */
function longest(now: Float32Array, before: Float32Array, triangles: Uint32Array): number {
  const far = (p: Float32Array, a: number, b: number) =>
    Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
  let most = 1;
  for (let t = 0; t < triangles.length; t++) {
    const [a, b] = [triangles[t], triangles[t % 3 === 2 ? t - 2 : t + 1]];
    const was = far(before, a, b);
    if (was > SHORT_M) most = Math.max(most, far(now, a, b) / was);
  }
  return most;
}

/** Signed by the side of the nearest triangle that a place is on (Baerentzen and Aanaes 2005, for what is near a smooth surface). */
function under(
  positions: Float32Array,
  indices: Uint32Array,
  cloth: readonly Float32Array[],
  lists: readonly Uint32Array[],
): Pick<WornPoseRow, 'deepMm' | 'under'> {
  const g = new BufferGeometry();
  g.setAttribute('position', new BufferAttribute(positions, 3));
  g.setIndex(new BufferAttribute(indices.slice(), 1));
  const tree = new MeshBVH(g);
  const order = (g.getIndex() as BufferAttribute).array;
  const tri = new Triangle();
  const [p, n] = [new Vector3(), new Vector3()];
  const hit = { point: new Vector3() } as HitPointInfo;
  const below: number[] = [];
  let asked = 0;
  for (const [i, c] of cloth.entries()) {
    const places = [...new Set(lists[i])];
    const step = Math.max(1, Math.ceil(places.length / MOST));
    for (let k = 0; k < places.length; k += step) {
      p.fromArray(c, places[k] * 3);
      if (!tree.closestPointToPoint(p, hit)) continue;
      asked++;
      tri.setFromAttributeAndIndices(
        g.getAttribute('position') as BufferAttribute,
        order[hit.faceIndex * 3],
        order[hit.faceIndex * 3 + 1],
        order[hit.faceIndex * 3 + 2],
      );
      if (tri.getNormal(n).dot(p.sub(hit.point)) < 0) below.push(hit.distance);
    }
  }
  const deep = below.sort((a, b) => a - b)[Math.floor(below.length * 0.95)] ?? 0;
  return { deepMm: deep * 1000, under: asked > 0 ? below.length / asked : 0 };
}
