import { Euler, Quaternion, Vector3 } from 'three';
import { beforeAll, describe, expect, it } from 'vitest';
import { drawn, inTurn } from '../../../../e2e/support/sweep';
import { BODY_PRESETS, type Body, type BodyMeasures, type BodyPose, idle, poseBody, shapeBody, standerOf, walk } from '../../form/body';
import { bodyBase } from '../../form/samples';
import { HUMANOID_SETS } from '../../words/humanoid';
import type { Vec } from '../middle';
import { manikin } from '../samples';
import { tube } from '../shapes';
import { surfaceFrom } from '../surface';
import { axesOf, findFigure, mirroredJoint, rigFigure, SURE } from '.';

interface Shape {
  positions: Float32Array;
  triangles: Uint32Array;
}
/** Several shapes as one list of triangles: pieces that are not joined. */
function together(...shapes: Shape[]): Shape {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const s of shapes) {
    const from = positions.length / 3;
    for (const x of s.positions) positions.push(x);
    for (const t of s.triangles) triangles.push(t + from);
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}
const rod = (a: Vec, b: Vec, r: number): Shape =>
  tube(
    (t) => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t],
    () => r,
    12,
    10,
  );

type Asked = {
  name: string;
  measures?: Partial<BodyMeasures>;
  pose?: BodyPose | 'T' | 'A' | 'armsDown' | 'armsHalf' | 'oneArmUp';
  turn?: Vec;
  scale?: number;
};
const shapeOf = (a: Asked) => shapeBody(bodyBase(), { ...BODY_PRESETS.M, ...a.measures });
function bodyOf(a: Asked): { body: Body; shape: Shape; carry: (p: Vector3) => Vector3; stature: number } {
  const shaped = shapeOf(a);
  const body = poseBody(shaped, a.pose ?? 'A');
  const q = new Quaternion().setFromEuler(new Euler(...(a.turn ?? [0, 0, 0])));
  const carry = (p: Vector3) => p.applyQuaternion(q).multiplyScalar(a.scale ?? 1);
  const positions = new Float32Array(body.positions.length);
  for (let i = 0; i < positions.length; i += 3) carry(new Vector3().fromArray(body.positions, i)).toArray(positions, i);
  return { body, shape: { positions, triangles: body.indices }, carry, stature: (shaped.measured.stature / 1000) * (a.scale ?? 1) };
}
/** Greatest distance of a found joint from the body's own, as a share of stature, and which. */
function worst(joints: { name: string; at: Vec }[], { body, carry, stature }: ReturnType<typeof bodyOf>): { name: string; off: number } {
  return joints
    .map(({ name, at }) => {
      const own = body.joints.find((j) => j.name === name) as Body['joints'][number];
      return { name, off: carry(new Vector3().fromArray(own.pose, 12)).distanceTo(new Vector3(...at)) / stature };
    })
    .reduce((a, b) => (b.off > a.off ? b : a));
}

const base = () => shapeOf({ name: 'M' });
const POSES: Asked[] = [
  { name: 'T', pose: 'T' },
  { name: 'A, lying on a side', pose: 'A', turn: [0, 0, 1.57] },
  { name: 'arms down', pose: 'armsDown' },
  { name: 'arms half down, turned about', pose: 'armsHalf', turn: [0, 2.4, 0] },
  { name: 'one arm up', pose: 'oneArmUp' },
  { name: 'T in millimetres, upside down', pose: 'T', turn: [3.1, 0.3, 0], scale: 1000 },
  { name: 'arms down, turned any way', pose: 'armsDown', turn: [0.5, 0.7, 1.1] },
  { name: 'A in inches, on its face', pose: 'A', turn: [1.57, 0, 0], scale: 39.37 },
];
const sizes = (k: number): Partial<BodyMeasures> => ({
  stature: 1520 + 45 * k,
  insideLeg: 700 + 22 * k,
  armLength: 490 + 14 * k,
  chest: 1050 - 22 * k,
  waist: 900 - 20 * k,
  hip: 1040 - 12 * k,
  head: (['S', 'M', 'L'] as const)[k % 3],
});

describe('a body', () => {
  it.each(
    drawn<Asked & { walk?: number; idle?: number }>(
      [
        ...POSES,
        ...[0.2, 0.55].map((t) => ({ name: `walking at ${t} s`, walk: t })),
        ...[1, 5].map((t) => ({ name: `standing at ${t} s`, idle: t })),
        ...Array.from({ length: 10 }, (_, k) => ({
          name: `of measures ${k}`,
          measures: sizes(k),
          pose: k % 2 ? ('T' as const) : ('A' as const),
        })),
      ],
      16,
    ),
  )('$name: every joint within a twentieth of stature of its own', (asked) => {
    const pose =
      asked.walk !== undefined
        ? walk(standerOf(base()), asked.walk)
        : asked.idle !== undefined
          ? idle(standerOf(base()), asked.idle)
          : asked.pose;
    const body = bodyOf({ ...asked, pose });
    const figure = findFigure(surfaceFrom(body.shape.positions, body.shape.triangles));
    expect(figure.joints.map((j) => j.name).sort()).toEqual([...HUMANOID_SETS[22]].sort());
    expect(worst(figure.joints, body).off, worst(figure.joints, body).name).toBeLessThan(0.05);
    expect(figure.joints.filter((j) => j.sure >= SURE).length).toBeGreaterThan(15);
    const front = body.carry(new Vector3(0, 0, 1)).normalize();
    expect(front.dot(new Vector3(...figure.axes.front))).toBeGreaterThan(0.9);
  });

  it('that stands evenly has even joints, and those of its trunk in its middle plane', () => {
    // rods of known ends; voxels of 15 mm see them askew
    const { joints, axes } = findFigure(manikin());
    const at = (name: string) => joints.find((j) => j.name === name)?.at as Vec;
    for (const name of ['hips', 'spine', 'chest', 'neck', 'head']) expect(Math.abs(at(name)[0]), name).toBeLessThan(0.006);
    for (const [name, [x, y, z]] of Object.entries({
      UpperArm: [0.19, 1.38, 0],
      LowerArm: [0.42, 1.2, 0],
      Hand: [0.62, 1.02, 0.02],
      LowerLeg: [0.1, 0.5, 0.01],
    })) {
      const [l, r] = [at(`left${name}`), at(`right${name}`)];
      expect(Math.hypot(l[0] + r[0], l[1] - r[1], l[2] - r[2]), name).toBeLessThan(0.02);
      expect(Math.hypot(l[0] - x, l[1] - y, l[2] - z), name).toBeLessThan(0.05 * 1.7);
    }
    expect(axes.left[0]).toBeGreaterThan(0.9995);
  });

  it.runIf(inTurn('with a hat, a skirt and a tail'))(
    'with a hat, a skirt and a tail, in pieces that only touch: what belongs to no limb is told',
    () => {
      const body = bodyOf({ name: 'dressed', pose: 'A' });
      const crown = body.body.landmarks.crown.position;
      const dressed = together(
        body.shape,
        rod([crown[0], crown[1] - 0.02, crown[2]], [crown[0], crown[1] + 0.12, crown[2]], 0.08),
        // a bell from the waist to the knees, open below
        tube(
          (t) => [0, 1.02 - 0.45 * t, -0.02],
          (t) => 0.15 + 0.13 * t,
          14,
          24,
        ),
        rod([0, 0.9, -0.12], [0, 0.75, -0.75], 0.03),
      );
      const figure = findFigure(surfaceFrom(dressed.positions, dressed.triangles));
      const { off, name } = worst(
        figure.joints.filter((j) => !/UpperLeg|hips|head|neck/.test(j.name)),
        body,
      );
      expect(off, name).toBeLessThan(0.08);
      // the tail's end
      expect(figure.others.some((o) => Math.hypot(o.at[0], o.at[1] - 0.75, o.at[2] + 0.75) < 0.1)).toBe(true);
    },
  );
});

describe('what is no figure', () => {
  const round = (n: number, at: (k: number) => Shape) => together(...Array.from({ length: n }, (_, k) => at(k)));
  const angle = (k: number, n: number) => (2 * Math.PI * (k + 0.5)) / n;
  const spider = together(
    rod([0, 0.3, -0.2], [0, 0.3, 0.2], 0.12),
    round(8, (k) => {
      const a = angle(k, 8);
      return together(
        rod([0, 0.3, 0], [0.4 * Math.cos(a), 0.5, 0.4 * Math.sin(a)], 0.03),
        rod([0.4 * Math.cos(a), 0.5, 0.4 * Math.sin(a)], [0.8 * Math.cos(a), 0, 0.8 * Math.sin(a)], 0.03),
      );
    }),
  );
  const chair = together(
    ...(
      [
        [-1, -1],
        [1, -1],
        [-1, 1],
        [1, 1],
      ] as const
    ).map(([x, z]) => rod([0.2 * x, 0, 0.2 * z], [0.2 * x, 0.45, 0.2 * z], 0.02)),
    ...Array.from({ length: 12 }, (_, k) => rod([-0.22, 0.45, -0.22 + 0.04 * k], [0.22, 0.45, -0.22 + 0.04 * k], 0.025)),
    ...([-1, 1] as const).map((x) => rod([0.2 * x, 0.45, -0.2], [0.2 * x, 0.95, -0.22], 0.02)),
    rod([-0.2, 0.9, -0.21], [0.2, 0.9, -0.21], 0.02),
    rod([-0.2, 0.75, -0.21], [0.2, 0.75, -0.21], 0.02),
  );
  const hoop = (x: number, z: number) =>
    tube(
      (t) => [x, 0.3 + 0.28 * Math.cos(2 * Math.PI * t), z + 0.28 * Math.sin(2 * Math.PI * t)],
      () => 0.03,
      30,
      8,
    );
  const wagon = together(
    ...Array.from({ length: 10 }, (_, k) => rod([-0.4, 0.5, -0.7 + 0.155 * k], [0.4, 0.5, -0.7 + 0.155 * k], 0.08)),
    ...(
      [
        [-0.5, -0.5],
        [0.5, -0.5],
        [-0.5, 0.5],
        [0.5, 0.5],
      ] as const
    ).map(([x, z]) => hoop(x, z)),
    rod([-0.5, 0.3, -0.5], [0.5, 0.3, -0.5], 0.03),
    rod([-0.5, 0.3, 0.5], [0.5, 0.3, 0.5], 0.03),
    rod([0, 0.3, -0.5], [0, 0.5, -0.5], 0.03),
    rod([0, 0.3, 0.5], [0, 0.5, 0.5], 0.03),
    rod([0, 0.4, 0.6], [0, 0.3, 1.4], 0.03),
  );
  const beast = together(
    rod([0, 0.6, -0.5], [0, 0.6, 0.4], 0.16),
    ...(
      [
        [-1, -1],
        [1, -1],
        [-1, 1],
        [1, 1],
      ] as const
    ).map(([x, z]) => rod([0.1 * x, 0.6, 0.4 * z], [0.11 * x, 0, 0.42 * z], 0.05)),
    rod([0, 0.65, 0.4], [0, 0.95, 0.6], 0.08),
    rod([0, 0.95, 0.55], [0, 0.9, 0.8], 0.07),
    rod([0, 0.65, -0.5], [0, 0.5, -0.95], 0.03),
  );
  it.each(
    [
      ['a spider', spider],
      ['a chair', chair],
      ['a wagon', wagon],
      ['a beast on four legs', beast],
      ['a ball', rod([0, 0, 0], [0, 0.01, 0], 0.5)],
      ['a triangle', { positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), triangles: Uint32Array.of(0, 1, 2) }],
    ].filter(([name]) => inTurn(name as string)) as [string, typeof spider][],
  )('%s is told so', (_, shape) => {
    expect(() => findFigure(surfaceFrom(shape.positions, shape.triangles))).toThrow(/no figure/);
  });

  it('nothing, and two at once', () => {
    expect(() => findFigure(surfaceFrom(new Float32Array(9), new Uint32Array(0)))).toThrow(/draws no surface/);
    const { shape } = bodyOf({ name: 'one' });
    const beside = Float32Array.from(shape.positions, (x, i) => (i % 3 === 0 ? x + 2 : x));
    const both = together(shape, { ...shape, positions: beside });
    expect(() => findFigure(surfaceFrom(both.positions, both.triangles))).toThrow(/more than one body/);
  });
});

describe('its bones', () => {
  let body: ReturnType<typeof bodyOf>;
  let surface: ReturnType<typeof surfaceFrom>;
  let rig: ReturnType<typeof rigFigure>;
  beforeAll(() => {
    body = bodyOf({ name: 'M', pose: 'T' });
    surface = surfaceFrom(body.shape.positions, body.shape.triangles);
    rig = rigFigure(surface, { detail: 17, joints: {}, weights: 'voxel' });
  });

  it('are those of the standard, each from its joint to the next', () => {
    expect(rig.bones.map((b) => b.name)).toEqual(HUMANOID_SETS[17]);
    for (const b of rig.bones) expect(b.parent).toBeLessThan(rig.bones.indexOf(b));
    const bone = (n: string) => rig.bones.find((b) => b.name === n) as (typeof rig.bones)[number];
    expect(bone('hips').tail).toEqual(bone('spine').head);
    expect(bone('chest').tail).toEqual(bone('neck').head);
    expect(bone('leftUpperArm').tail).toEqual(bone('leftLowerArm').head);
    // a hand ends at its fingertip, a foot at its toes
    const tip = body.body.landmarks.dactylionL.position;
    expect(bone('leftHand').tail[0]).toBeGreaterThan(0.7 * Math.abs(tip[0]));
    expect(bone('leftFoot').tail[2]).toBeGreaterThan(bone('leftFoot').head[2] + 0.05);
  });

  it('hold what is theirs: nothing of a foot follows an arm', () => {
    const { bones, shares } = rig.binding;
    const followed = new Set<string>();
    let off = 0;
    for (let v = 0; v < surface.piece.length; v++) {
      const w = shares.subarray(v * 4, v * 4 + 4);
      off = Math.max(off, Math.abs(w[0] + w[1] + w[2] + w[3] - 1));
      if (surface.positions[v * 3 + 1] > 0.05) continue;
      for (let k = 0; k < 4; k++) if (w[k] > 0.02) followed.add(rig.bones[bones[v * 4 + k]].name);
    }
    expect(off).toBeLessThan(1e-5);
    for (const name of followed) expect(name).toMatch(/Leg|Foot/);
  });

  it('stand where they were put by hand, and only there', () => {
    const at: Vec = [0.31, 1.2, 0.01];
    const put = rigFigure(surface, { detail: 17, joints: { leftLowerArm: at }, weights: 'voxel' });
    for (const [i, b] of put.bones.entries()) expect(b.head).toEqual(b.name === 'leftLowerArm' ? at : rig.bones[i].head);
    expect(put.joints.find((j) => j.name === 'leftLowerArm')).toMatchObject({ sure: 1, by: 'given' });
    expect(() => rigFigure(surface, { detail: 17, joints: { leftTail: at }, weights: 'auto' })).toThrow(/no bone leftTail/);
  });

  it('need no figure to be found where all were put', () => {
    const joints = Object.fromEntries(rig.joints.map((j) => [j.name, j.at]));
    const card = surfaceFrom(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), Uint32Array.of(0, 1, 2));
    expect(rigFigure(card, { detail: 17, joints, weights: 'voxel' }).bones).toHaveLength(17);
  });

  it.each([
    ['T', undefined],
    ['A', [0.4, 0.9, 0.2] as Vec],
  ] as const)('of 52 in %s: every finger’s joints within a fifth of a hand of its own', (pose, turn) => {
    const own = bodyOf({ name: 'M', pose, turn });
    const skin = surfaceFrom(own.shape.positions, own.shape.triangles);
    const made = rigFigure(skin, { detail: 52, joints: {}, weights: 'voxel' });
    expect(made.bones.map((b) => b.name).sort()).toEqual([...HUMANOID_SETS[52]].sort());
    const fingers = made.joints.filter((j) => /Thumb|Index|Middle|Ring|Little/.test(j.name));
    const { off, name } = worst(fingers, own);
    // a hand is about a ninth of stature
    expect(off, name).toBeLessThan(0.108 / 5);
    // by the form's own weights: what is a finger's follows no other finger, what is the skull's the head
    const fingerOf = (bone: string) => /^(left|right)(Thumb|Index|Middle|Ring|Little)/.exec(bone)?.[0];
    const { body } = own;
    const held = (v: number, of: (bone: string) => boolean) =>
      [0, 1, 2, 3].reduce((s, k) => s + (of(made.bones[made.binding.bones[v * 4 + k]].name) ? made.binding.shares[v * 4 + k] : 0), 0);
    let [ofFingers, crossed, ofSkull, skull] = [0, 0, 0, 0];
    for (const [f, v] of skin.sources[0].vertices.entries()) {
      const bone = body.joints[body.skinIndices[f * 4]].name;
      if (body.skinWeights[f * 4] < 0.6) continue;
      const finger = fingerOf(bone);
      if (finger) {
        ofFingers++;
        if (held(v, (b) => fingerOf(b) !== undefined && fingerOf(b) !== finger) > 0.05) crossed++;
      } else if (bone === 'head') {
        ofSkull++;
        skull += held(v, (b) => b === 'head');
      }
    }
    expect(ofFingers).toBeGreaterThan(500);
    // at the webs, where neither finger begins, surfaces are parted a little elsewhere
    expect(crossed / ofFingers).toBeLessThan(0.03);
    expect(skull / ofSkull).toBeGreaterThan(0.9);
  });

  it.each(['heat', 'voxel'] as const)(
    'on joints that are right, weights by %s differ from the form’s own by under 0.06 of a vertex, on the mean',
    (weights) => {
      const { body, shape } = bodyOf({ name: 'M', pose: 'A' });
      const skin = surfaceFrom(shape.positions, shape.triangles);
      const joints = Object.fromEntries(body.joints.map((j) => [j.name, j.pose.slice(12, 15) as Vec]));
      const { bones, binding } = rigFigure(skin, { detail: 52, joints, weights });
      const vertexOf = new Int32Array(skin.piece.length);
      skin.sources[0].vertices.forEach((v, f) => {
        vertexOf[v] = f;
      });
      let elsewhere = 0;
      for (let v = 0; v < skin.piece.length; v++) {
        const differs = new Map<string, number>();
        const add = (bone: string, w: number) => differs.set(bone, (differs.get(bone) ?? 0) + w);
        for (let k = 0; k < 4; k++) {
          add(bones[binding.bones[v * 4 + k]].name, binding.shares[v * 4 + k]);
          add(body.joints[body.skinIndices[vertexOf[v] * 4 + k]].name, -body.skinWeights[vertexOf[v] * 4 + k]);
        }
        for (const d of differs.values()) elsewhere += Math.abs(d) / 2;
      }
      expect(elsewhere / skin.piece.length).toBeLessThan(0.06);
    },
  );

  it('of 52: hands without fingers get none', () => {
    const mitts = together(
      rod([0, 0.8, 0], [0, 1.4, 0], 0.14),
      rod([0, 1.4, 0], [0, 1.55, 0], 0.05),
      rod([0, 1.55, 0], [0, 1.75, 0.01], 0.1),
      ...([-1, 1] as const).flatMap((s) => [
        rod([0.1 * s, 1.36, 0], [0.72 * s, 1.36, 0], 0.045),
        rod([0.09 * s, 0.85, 0], [0.1 * s, 0.06, 0], 0.07),
        rod([0.1 * s, 0.05, -0.04], [0.11 * s, 0.04, 0.18], 0.04),
      ]),
    );
    const made = rigFigure(surfaceFrom(mitts.positions, mitts.triangles), { detail: 52, joints: {}, weights: 'voxel' });
    expect(made.bones.map((b) => b.name).sort()).toEqual([...HUMANOID_SETS[22]].sort());
  });

  it('a joint’s pair does its mirror image, in a figure that stands askew too', () => {
    const q = new Quaternion().setFromEuler(new Euler(0.3, 0.9, -0.4));
    const joints = new Map(rig.joints.map((j) => [j.name, new Vector3(...j.at).applyQuaternion(q).toArray() as Vec]));
    const at = (n: string) => joints.get(n);
    const axes = axesOf(at) as NonNullable<ReturnType<typeof axesOf>>;
    const own = at('leftLowerArm') as Vec;
    const out = own.map((x, k) => x + 0.05 * axes.left[k] + 0.02 * axes.up[k]) as Vec;
    const pair = mirroredJoint(at, 'leftLowerArm', out) as NonNullable<ReturnType<typeof mirroredJoint>>;
    expect(pair.name).toBe('rightLowerArm');
    const from = at('rightLowerArm') as Vec;
    const moved = pair.at.map((x, k) => x - from[k]);
    for (let k = 0; k < 3; k++) expect(moved[k]).toBeCloseTo(-0.05 * axes.left[k] + 0.02 * axes.up[k], 9);
    expect(mirroredJoint(at, 'spine', out)).toBeNull();
  });
});
