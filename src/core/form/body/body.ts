import { Matrix4, type Quaternion, Vector3 } from 'three';
import { HUMANOID_SETS, type HumanoidDetail, keptParent } from '../../words/humanoid';
import type { LandmarkName } from '../../words/landmarks';
import type { Form } from '../form';
import type { FormSize } from '../measures';
import { computeNormals } from '../normals';
import type { Vec3 } from '../vec';
import type { BodyMeasureName } from './ask';
import type { BodyBase } from './base';
import type { BodySkin } from './bend';
import { BODY_REGIONS } from './join';
import { type BodyMeasures, resolveBodyMeasures } from './measures';
import { BODY_POSES, type BodyPose, type BodyPoseName, type BodySkeleton, bodySkeleton, REST, solveBodyPose } from './pose';
import type { RestMm } from './rests';
import { MIDLINE_BODY_LANDMARKS, measureBody, PAIRED_BODY_LANDMARKS } from './tapes';
import { warpBody } from './warp';

export interface BodyJoint {
  /** VRM 1.0 humanoid bone. */
  name: string;
  /** Index among the joints; −1 for the hips. */
  parent: number;
  /** World, column major, metres: in the rest pose, and in the pose asked for. */
  rest: number[];
  pose: number[];
}

/** A body: a closed surface and two eyeballs, metres, floor y = 0, hips at z = 0, +Z forward, +X the wearer's left. */
export interface Body {
  positions: Float32Array;
  normals: Float32Array;
  /** The head's in the first tile, the body's in the next (u 1..2). */
  uvs: Float32Array;
  /** Linear RGB. */
  colors: Float32Array;
  /** The same array for every body of one base: topology is fixed. */
  indices: Uint32Array;
  groups: { name: 'head' | 'body' | 'eyes'; start: number; count: number }[];
  joints: BodyJoint[];
  /** Four a vertex. */
  skinIndices: Uint16Array;
  skinWeights: Float32Array;
  /** In the rest pose, metres. */
  landmarks: Record<string, { index: number; position: Vec3 }>;
  regions: { names: readonly string[]; ids: Uint8Array };
  /** What its surface measures, mm. */
  measured: Record<BodyMeasureName, number>;
  /** The head form it has, and what carries it to its place, metres. */
  head: { form: Form; offset: Vec3 };
  /** The surface that the skin is bound to. */
  rest: { positions: Float32Array; normals: Float32Array };
}

/** All of a body that its pose does not change. */
export interface ShapedBody extends Omit<Body, 'positions' | 'normals' | 'joints' | 'skinIndices' | 'skinWeights'> {
  base: BodyBase;
  /** Welded places, metres. */
  core: Float64Array;
  skeleton: BodySkeleton;
}

const CLAY = [0xe6, 0xd1, 0xbf].map((c) => ((c / 255 + 0.055) / 1.055) ** 2.4);

function expand(base: BodyBase, core: Float64Array): Float32Array {
  const out = new Float32Array(base.out.length * 3);
  base.out.forEach(({ core: c }, v) => {
    out.set(core.subarray(c * 3, c * 3 + 3), v * 3);
  });
  return out;
}

/**
 * A body of the given size or measures (mm; missing ones from M), in its rest pose. Measures are exact to rounding. About 0.2 s.
 * @throws {BodyError} a measure outside its range. @throws {FormError} one of the head's.
 */
export function shapeBody(base: BodyBase, asked: FormSize | Partial<BodyMeasures> = 'M'): ShapedBody {
  const w = warpBody(base, resolveBodyMeasures(asked));
  const core = Float64Array.from(w.core.flat(), (x) => x / 1000);
  const positions = expand(base, core);
  const firstOut = new Map<number, number>();
  base.out.forEach((o, v) => {
    if (!firstOut.has(o.core)) firstOut.set(o.core, v);
  });
  const at = (c: number): Vec3 => [core[c * 3], core[c * 3 + 1], core[c * 3 + 2]];
  const landmarks: Body['landmarks'] = {};
  const mark = (name: string, c: number) => {
    landmarks[name] = { index: firstOut.get(c) as number, position: at(c) };
  };
  for (const n of MIDLINE_BODY_LANDMARKS) mark(n, base.coreL[base.landmarks[n]]);
  for (const n of PAIRED_BODY_LANDMARKS) {
    mark(`${n}L`, base.coreL[base.landmarks[n]]);
    mark(`${n}R`, base.coreR[base.landmarks[n]]);
  }
  let crown = -1;
  for (const c of base.headCore.values()) if (crown < 0 || core[c * 3 + 1] > core[crown * 3 + 1]) crown = c;
  mark('crown', crown);
  for (const n of Object.keys(w.head.landmarks) as LandmarkName[]) {
    const c = base.headCore.get(base.headBase.weld[w.head.landmarks[n].index]);
    if (c !== undefined && !landmarks[n]) mark(n, c);
  }
  const colors = new Float32Array(base.out.length * 3);
  base.out.forEach((o, v) => {
    colors.set(o.head === undefined ? CLAY : w.head.colors.subarray(o.head * 3, o.head * 3 + 3), v * 3);
  });
  const mm = (v: number): Vec3 => at(base.coreL[v]).map((x) => x * 1000) as Vec3;
  return {
    base,
    core,
    skeleton: bodySkeleton(w),
    uvs: Float32Array.from(base.out.flatMap((o) => [o.u, o.v])),
    colors,
    indices: base.indices,
    groups: [
      { name: 'head', start: 0, count: base.headTriangles * 3 },
      { name: 'body', start: base.headTriangles * 3, count: (base.formTriangles - base.headTriangles) * 3 },
      { name: 'eyes', start: base.formTriangles * 3, count: base.indices.length - base.formTriangles * 3 },
    ],
    landmarks,
    regions: { names: BODY_REGIONS, ids: Uint8Array.from(base.out, (o) => o.region) },
    measured: measureBody(base, base.landmarks, mm, at(crown)[1] * 1000),
    head: { form: w.head, offset: w.headOffset.map((x) => x / 1000) as Vec3 },
    rest: { positions, normals: computeNormals(positions, base.indices, base.weld) },
  };
}

/** The body in a pose, with 52, 22 or 17 joints; the weights of a joint it has not go to the nearest it has. */
export function poseBody(shape: ShapedBody, pose: BodyPoseName | BodyPose = REST, detail: HumanoidDetail = 52): Body {
  const { base, skeleton, core, ...same } = shape;
  const names = HUMANOID_SETS[detail];
  const skin = base.skin[detail];
  const states = solveBodyPose(skeleton, typeof pose === 'string' ? BODY_POSES[pose] : pose);
  const one = new Vector3(1, 1, 1);
  const matrix = (s: { place: Vector3; turn: Quaternion }) => new Matrix4().compose(s.place, s.turn, one);
  const parentOf = (n: string) => {
    const q = keptParent(n, names);
    return q ? names.indexOf(q) : -1;
  };
  const joints = names.map((name) => ({
    name,
    parent: parentOf(name),
    rest: matrix(skeleton.rest[name]).toArray(),
    pose: matrix(states[name]).toArray(),
  }));
  const carry = joints.map((j) => new Matrix4().fromArray(j.pose).multiply(new Matrix4().fromArray(j.rest).invert()).elements);
  let { positions, normals } = shape.rest;
  if (pose !== REST) {
    const bent = new Float64Array(core.length);
    for (let i = 0; i < core.length; i += 3)
      for (let k = 0; k < 4; k++) {
        const share = skin.shares[(i / 3) * 4 + k];
        if (!share) continue;
        const a = carry[skin.bones[(i / 3) * 4 + k]];
        for (let d = 0; d < 3; d++) bent[i + d] += share * (a[d] * core[i] + a[4 + d] * core[i + 1] + a[8 + d] * core[i + 2] + a[12 + d]);
      }
    positions = expand(base, bent);
    normals = computeNormals(positions, base.indices, base.weld);
  }
  const skinIndices = new Uint16Array(base.out.length * 4);
  const skinWeights = new Float32Array(base.out.length * 4);
  base.out.forEach(({ core: c }, v) => {
    skinIndices.set(skin.bones.subarray(c * 4, c * 4 + 4), v * 4);
    skinWeights.set(skin.shares.subarray(c * 4, c * 4 + 4), v * 4);
  });
  return { ...same, positions, normals, joints, skinIndices, skinWeights };
}

/** Where the joints of a body are at rest, for whoever has no surface of it (`tellRest`). */
export function restOf({ skeleton, head, landmarks }: ShapedBody): RestMm {
  const mm = (v: ArrayLike<number>): Vec3 => [v[0] * 1000, v[1] * 1000, v[2] * 1000];
  const ours = Object.entries(skeleton.rest).filter(([name]) => !name.startsWith('right'));
  return {
    headOffsetMm: mm(head.offset),
    heelMm: mm(landmarks.pternionL.position),
    jointsMm: Object.fromEntries(ours.map(([name, { place }]) => [name, mm(place.toArray())])),
  };
}

/** All that is drawn of a body, in its rest pose: what a thread hands to the stage. */
export interface DrawnBody extends BodySkin, Pick<Body, 'colors' | 'indices' | 'groups' | 'regions' | 'landmarks'> {
  /** Vertex → the head form's vertex that it is; −1: none. */
  headVertex: Int32Array;
}

export function drawnBody(shape: ShapedBody): DrawnBody {
  const { positions, normals, colors, indices, groups, regions, landmarks, skinIndices, skinWeights } = poseBody(shape);
  const headVertex = Int32Array.from(shape.base.out, (o) => o.head ?? -1);
  return { positions, normals, colors, indices, groups, regions, landmarks, skinIndices, skinWeights, headVertex };
}

type Vertices = Pick<BodySkin, 'positions' | 'normals'>;
/**
 * A body at rest whose head wears an expression.
 * @param form its head at rest @param face the same with the expression @param out left out: made anew
 */
export function wearingFace(body: DrawnBody, form: Vertices, face: Vertices, out?: Vertices): BodySkin {
  if (face === form) return body;
  const { positions, normals } = out ?? {
    positions: new Float32Array(body.positions.length),
    normals: new Float32Array(body.positions.length),
  };
  positions.set(body.positions);
  normals.set(body.normals);
  body.headVertex.forEach((h, v) => {
    if (h < 0) return;
    let moved = false;
    for (let k = 0; k < 3; k++) {
      positions[v * 3 + k] += face.positions[h * 3 + k] - form.positions[h * 3 + k];
      moved ||= Math.abs(face.normals[h * 3 + k] - form.normals[h * 3 + k]) > 1e-5;
    }
    if (moved) normals.set(face.normals.subarray(h * 3, h * 3 + 3), v * 3);
  });
  return { ...body, positions, normals };
}
