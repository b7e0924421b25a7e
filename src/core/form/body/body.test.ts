import { Bone, BufferAttribute, BufferGeometry, Matrix4, type Quaternion, Skeleton, SkinnedMesh, Vector3 } from 'three';
import { beforeAll, describe, expect, it } from 'vitest';
import { HUMANOID_SETS, mirrorName } from '../../words/humanoid';
import { bendShares, FORM_VERSION } from '..';
import { bodyBase } from '../samples';
import {
  BODY_POSES,
  BODY_PRESETS,
  BODY_VERSION,
  type Body,
  type BodyBase,
  type BodyMeasures,
  idle,
  poseBody,
  type ShapedBody,
  shapeBody,
  standerOf,
  turnAbout,
  walk,
} from '.';
import { stride } from './motion';

/** Of each version, by what they are of. The test says them where they differ. */
// biome-ignore format: a table
const PRINTS: Readonly<Record<string, Readonly<Record<string, readonly number[]>>>> = {
  '4 2': {
    form: [-8.24978, 13.81522, 8.96172, -30.29430, -2.57241, -13.27056, -2.18325, 31.29401],
    colours: [-0.00412, -0.06607, -0.04646, -0.08615, 0.03783, -0.22137, 0.07009, 0.02800],
    body: [-139.05790, 10.04977, 79.18400, -302.44007, 259.47623, 151.39325, 19.53749, 110.19267],
    faces: [2015.49826, 639.92771, 1164.21214, -841.24814, -836.12008, -1158.49526, -1357.64582, -1572.94719],
    shares: [-0.12039, -0.25515, -0.05380, 0.07366, -0.00086, -0.11096, -0.12230, 0.10457],
    bones: [-1.85404, -1.78676, -4.98549, 2.14452, 2.67009, -1.60086, -2.08723, -1.53556],
    sizes: [-0.06595, 0.16333, 0.24957, 0.05230, -0.00559, -0.40761, -0.21871, -0.28650],
    poses: [-0.12785, -0.14392, 0.24696, -0.15480, -0.03944, 0.25614, -0.03346, -0.12265],
    motions: [0.11624, 0.08132, -0.01897, -0.00088, -0.13166, 0.05681, 0.06458, -0.20209],
    neck: [-0.06984, -0.07569, 0.04498, 0.03631, 0.02860, -0.01683, 0.00203, -0.06163],
  },
};

let base: BodyBase;
let shape: ShapedBody;
let body: Body;
beforeAll(() => {
  base = bodyBase();
  shape = shapeBody(base);
  body = poseBody(shape);
});

/** Sums of an array by eight sets of signs and sizes that are drawn once: what changes any of its numbers changes them. */
function printOf(of: ArrayLike<number>): number[] {
  let state = 1;
  const random = () => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
    return state / 4_294_967_296 - 0.5;
  };
  const sums = new Array(8).fill(0);
  for (let i = 0; i < of.length; i++) for (let k = 0; k < 8; k++) sums[k] += of[i] * random();
  return sums.map((s) => s / Math.sqrt(of.length));
}

// caches and files of fits are kept under the version: it must change whenever a number does
it('the base is the one its version names', () => {
  const prints = {
    form: printOf(bodyBase().headBase.pos.flat()),
    colours: printOf(bodyBase().headBase.colors),
    body: printOf(bodyBase().half.P.flat()),
    faces: printOf(bodyBase().indices),
    shares: printOf(bodyBase().skin[52].shares),
    bones: printOf(bodyBase().skin[52].bones),
  };
  expectKept(prints);
});

// a piece that was fitted to a body, or plays with its motions, looks as it did while they stay
it('bodies of any measures, their poses and motions are those the version names', () => {
  const odd = ODD.map(({ name: _, ...measures }) => shapeBody(base, measures));
  const posesOf = (all: readonly Body[]) => all.flatMap((b) => b.joints.flatMap((j) => j.pose));
  const moments = [shape, odd[0]].flatMap((s) => {
    const st = standerOf(s);
    return [0.05, 0.3, 0.55, 0.8].flatMap((t) => [
      walk(st, t * stride(st, 0.9).seconds, 0.9),
      walk(st, t * stride(st, 1.6).seconds, 1.6),
      idle(st, t * 8),
      turnAbout(st, t * 4),
    ]);
  });
  expectKept({
    sizes: printOf([shapeBody(base, 'S'), shapeBody(base, 'L'), ...odd].flatMap((b) => [...poseBody(b).positions])),
    poses: printOf(posesOf(Object.keys(BODY_POSES).map((pose) => poseBody(odd[0], pose as keyof typeof BODY_POSES)))),
    motions: printOf(posesOf(moments.map((m, i) => poseBody(i < moments.length / 2 ? shape : odd[0], m)))),
    neck: printOf(bendShares(shape.head.form)),
  });
});

function expectKept(prints: Readonly<Record<string, readonly number[]>>): void {
  const kept = PRINTS[`${FORM_VERSION} ${BODY_VERSION}`];
  for (const [name, sums] of Object.entries(prints))
    for (const [k, s] of sums.entries())
      expect(s, `${name} ${k}: ${sums.map((x) => x.toFixed(5)).join(', ')}`).toBeCloseTo(kept[name]?.[k] ?? 0, 4);
}

const at = (b: Pick<Body, 'positions'>, v: number) => new Vector3().fromArray(b.positions, v * 3);
const mark = (b: Pick<Body, 'landmarks'>, n: string) => new Vector3(...b.landmarks[n].position);
const joint = (b: Body, n: string, of: 'rest' | 'pose' = 'pose') =>
  new Vector3().setFromMatrixPosition(new Matrix4().fromArray(b.joints.find((j) => j.name === n)?.[of] as number[]));

/** A tape round the trunk at a height, mm, by another way than the form's: the surface is cut, and its support integrated. */
function tapeAt(b: Body, y: number): number {
  const trunk = b.regions.names.indexOf('torso');
  const pts: [number, number][] = [];
  for (let t = 0; t < b.indices.length; t += 3) {
    const v = [...b.indices.subarray(t, t + 3)];
    if (v.some((q) => b.regions.ids[q] !== trunk)) continue;
    for (let k = 0; k < 3; k++) {
      const [p, q] = [at(b, v[k]), at(b, v[(k + 1) % 3])];
      if (p.y <= y + 1e-7 === q.y <= y + 1e-7) continue;
      const s = (y - p.y) / (q.y - p.y);
      pts.push([p.x + (q.x - p.x) * s, p.z + (q.z - p.z) * s]);
    }
  }
  // Cauchy: the length of a convex curve is the integral of its support over all directions
  const N = 3600;
  let length = 0;
  for (let i = 0; i < N; i++) {
    const [c, d] = [Math.cos((2 * Math.PI * i) / N), Math.sin((2 * Math.PI * i) / N)];
    let far = -Infinity;
    for (const [x, z] of pts) far = Math.max(far, x * c + z * d);
    length += (far * 2 * Math.PI) / N;
  }
  return length * 1000;
}

const ODD: (Partial<BodyMeasures> & { name: string })[] = [
  {
    name: 'tall and slim',
    stature: 1900,
    shoulderBreadth: 372,
    chest: 880,
    waist: 690,
    hip: 905,
    insideLeg: 890,
    armLength: 625,
    head: 'L',
  },
  {
    name: 'short and broad',
    stature: 1560,
    shoulderBreadth: 390,
    chest: 1080,
    waist: 980,
    hip: 1060,
    insideLeg: 690,
    armLength: 505,
    head: 'S',
  },
];

describe('measures', () => {
  it.each([...(['S', 'M', 'L'] as const).map((s) => ({ name: s, ...BODY_PRESETS[s] })), ...ODD])(
    'are what was asked of $name',
    ({ name, ...asked }) => {
      const b = poseBody(shapeBody(base, asked));
      const want = { ...BODY_PRESETS.M, ...asked };
      const mm = (n: string) => mark(b, n).multiplyScalar(1000);
      const apart = (x: string, y: string) => mm(x).distanceTo(mm(y));
      const lengths = {
        shoulderBreadth: apart('acromionL', 'acromionR'),
        armLength: apart('acromionL', 'stylionL'),
        handLength: apart('wristCreaseL', 'dactylionL'),
        footLength: apart('pternionL', 'acropodionL'),
        insideLeg: mm('crotch').y - mm('soleL').y,
      };
      for (const [k, v] of Object.entries(lengths)) expect(v, k).toBeCloseTo(want[k as 'armLength'], 3);
      const heights = Float32Array.from({ length: b.positions.length / 3 }, (_, v) => b.positions[v * 3 + 1]);
      expect((Math.max(...heights) - Math.min(...heights)) * 1000).toBeCloseTo(want.stature, 2);
      expect(Math.min(...heights)).toBeCloseTo(0, 6);
      for (const [k, n] of [['chest', 'chestFront'], ['waist', 'waistFront'], ['hip', 'hipBack']] as const) // biome-ignore format: pairs
        expect(Math.abs(tapeAt(b, mark(b, n).y) - want[k]), `${name} ${k}`).toBeLessThan(0.5);
    },
  );

  it('proportions are those of people: segments as shares of stature by Drillis and Contini 1966, from memory', () => {
    const H = BODY_PRESETS.M.stature / 1000;
    const share = (m: number) => m / H;
    const T = poseBody(shape, 'T');
    const long = (a: string, b: string) => share(joint(T, a).distanceTo(joint(T, b)));
    const said = {
      upperArm: [long('leftUpperArm', 'leftLowerArm'), 0.186],
      forearm: [long('leftLowerArm', 'leftHand'), 0.146],
      thigh: [long('leftUpperLeg', 'leftLowerLeg'), 0.245],
      shank: [long('leftLowerLeg', 'leftFoot'), 0.246],
      hipHeight: [share(joint(T, 'leftUpperLeg').y), 0.53],
      shoulderHeight: [share(joint(T, 'leftUpperArm').y), 0.818],
    };
    for (const [k, [is, ought]] of Object.entries(said)) expect(Math.abs(is - ought), k).toBeLessThan(0.027);
    // the span of the arms is about the stature: common practice
    const xs = Float32Array.from({ length: T.positions.length / 3 }, (_, v) => T.positions[v * 3]);
    expect(Math.abs(share(Math.max(...xs) - Math.min(...xs)) - 1)).toBeLessThan(0.06);
  });

  it.each([
    [{ stature: Number.NaN }, /stature must be 1200–2300 mm; got NaN/],
    [{ waist: 20 }, /waist must be 400–1700 mm; got 20/],
    [{ insideLeg: 1099 }, /insideLeg must be 36–56 % of the stature/],
    [{ head: { headLength: 3 } }, /headLength must be/],
  ] as const)('refuse %j by name', (asked, words) => {
    expect(() => shapeBody(base, asked)).toThrow(words);
  });
});

describe('surface', () => {
  it('is closed, turned outwards, of one piece, and mirrors to the last bit', () => {
    const seen = new Map<string, number>();
    const vertices = new Set<number>();
    let volume = 0;
    const n = base.formTriangles * 3;
    for (let t = 0; t < n; t += 3) {
      const v = [...body.indices.subarray(t, t + 3)].map((q) => base.weld[q]);
      const [a, b, c] = v.map((q) => at(body, q));
      volume += a.dot(b.cross(c)) / 6;
      v.forEach((q, k) => {
        vertices.add(q);
        const edge = `${q}_${v[(k + 1) % 3]}`;
        seen.set(edge, (seen.get(edge) ?? 0) + 1);
      });
    }
    const open = [...seen].filter(([edge, times]) => times !== 1 || !seen.has(edge.split('_').reverse().join('_')));
    expect(open).toEqual([]);
    // Euler: a sphere
    expect(vertices.size - seen.size / 2 + base.formTriangles).toBe(2);
    // a person of this size is about 64 l: a kilogram a litre, common practice
    expect(volume * 1000).toBeGreaterThan(55);
    expect(volume * 1000).toBeLessThan(75);
    const places = new Set([...vertices].map((v) => [...body.positions.subarray(v * 3, v * 3 + 3)].join()));
    const lone = [...vertices].filter((v) => {
      const [x, y, z] = body.positions.subarray(v * 3, v * 3 + 3);
      return !places.has([-x, y, z].join());
    });
    expect(lone).toEqual([]);
  });

  it('has the head form itself on its neck, moved and nothing else', () => {
    const { form, offset } = body.head;
    let kept = 0;
    base.out.forEach((o, v) => {
      if (o.head === undefined) return;
      kept++;
      for (let k = 0; k < 3; k++) expect(body.positions[v * 3 + k]).toBeCloseTo(form.positions[o.head * 3 + k] + offset[k], 6);
    });
    expect(kept).toBeGreaterThan(4000);
    expect(form.positions).toEqual(shapeBody(base, { head: 'M' }).head.form.positions);
  });

  it('of another measure has the same triangles and the same weights', () => {
    const other = poseBody(shapeBody(base, 'L'));
    expect(other.indices).toBe(body.indices);
    expect(other.skinWeights).toEqual(body.skinWeights);
  });
});

describe('skin', () => {
  it.each([52, 22, 17] as const)('of %i bones: four at most, together one, mirrored', (detail) => {
    const b = poseBody(shape, 'A', detail);
    expect(b.joints).toHaveLength(detail);
    expect(b.joints.map((j) => j.name)).toEqual(HUMANOID_SETS[detail]);
    for (const [i, j] of b.joints.entries()) expect(j.parent).toBeLessThan(i);
    const of = new Map<string, string>();
    const places = new Map<string, string>();
    for (let v = 0; v < b.positions.length / 3; v++) {
      const w = [...b.skinWeights.subarray(v * 4, v * 4 + 4)];
      expect(w.reduce((a, c) => a + c, 0)).toBe(1);
      expect(Math.min(...w)).toBeGreaterThanOrEqual(0);
      if (v >= base.out.length || base.out[v].region === b.regions.names.indexOf('eye')) continue;
      const said = (flip: (n: string) => string) =>
        w
          .map((x, k) => (x ? `${flip(b.joints[b.skinIndices[v * 4 + k]].name)} ${x}` : ''))
          .filter(Boolean)
          .sort()
          .join();
      const [x, y, z] = b.positions.subarray(v * 3, v * 3 + 3);
      places.set(
        [x, y, z].join(),
        said((n) => n),
      );
      of.set([-x, y, z].join(), said(mirrorName));
    }
    for (const [place, image] of of) expect(places.get(place)).toBe(image);
  });

  it('bends as three bends it', () => {
    const b = poseBody(shape, 'handsOnHips');
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(shape.rest.positions, 3));
    geometry.setAttribute('skinIndex', new BufferAttribute(b.skinIndices, 4));
    geometry.setAttribute('skinWeight', new BufferAttribute(b.skinWeights, 4));
    const bones = b.joints.map((j) => {
      const bone = new Bone();
      bone.matrixWorld.fromArray(j.pose);
      return bone;
    });
    const mesh = new SkinnedMesh(geometry);
    mesh.bind(
      new Skeleton(
        bones,
        b.joints.map((j) => new Matrix4().fromArray(j.rest).invert()),
      ),
      new Matrix4(),
    );
    for (let v = 0; v < b.positions.length / 3; v += 7) {
      const p = mesh.applyBoneTransform(v, new Vector3().fromArray(shape.rest.positions, v * 3));
      expect(p.distanceTo(at(b, v))).toBeLessThan(1e-5);
    }
  });

  it('keeps neighbouring fingers apart: no vertex of one follows another', () => {
    const tips = ['Index', 'Middle', 'Ring', 'Little'].map((f) => body.joints.findIndex((j) => j.name === `left${f}Distal`));
    for (let v = 0; v < body.positions.length / 3; v++) {
      const followed = tips.filter((j) => [0, 1, 2, 3].some((k) => body.skinWeights[v * 4 + k] > 0 && body.skinIndices[v * 4 + k] === j));
      expect(followed.length).toBeLessThan(2);
    }
  });
});

describe('poses', () => {
  it('in T the arms are level and straight, palms down; in A 44° below', () => {
    const T = poseBody(shape, 'T');
    const arm = joint(T, 'leftHand').sub(joint(T, 'leftUpperArm'));
    expect(Math.abs(arm.y) / arm.length()).toBeLessThan(1e-9);
    expect(joint(T, 'leftLowerArm').sub(joint(T, 'leftUpperArm')).normalize().dot(arm.normalize())).toBeCloseTo(1, 9);
    // every frame but the fingers' roots is the world's
    for (const n of ['hips', 'head', 'leftHand', 'rightFoot']) {
      const m = new Matrix4().fromArray(T.joints.find((j) => j.name === n)?.pose as number[]).setPosition(0, 0, 0);
      for (const [i, x] of m.toArray().entries()) expect(x).toBeCloseTo(i % 5 ? 0 : 1, 12);
    }
    const slope = joint(body, 'leftHand').sub(joint(body, 'leftUpperArm'));
    expect((Math.atan2(-slope.y, slope.x) * 180) / Math.PI).toBeCloseTo(44, 6);
  });

  it.each(Object.keys(BODY_POSES) as (keyof typeof BODY_POSES)[])('%s keeps every bone as long as it is', (pose) => {
    const b = poseBody(shape, pose);
    for (const j of b.joints) {
      if (j.parent < 0) continue;
      const up = b.joints[j.parent].name;
      expect(joint(b, j.name).distanceTo(joint(b, up))).toBeCloseTo(joint(b, j.name, 'rest').distanceTo(joint(b, up, 'rest')), 9);
    }
  });

  it.each([0.8, 1.3, 1.7])('walking at %f m/s the planted foot stays, and nothing goes through the floor', (speed) => {
    const { seconds } = stride(standerOf(shape), speed);
    const soles = (['L', 'R'] as const).map((s) => body.landmarks[`sole${s}`].index);
    let before: Vector3[] | undefined;
    for (let k = 0; k <= 48; k++) {
      const t = (seconds * k) / 48;
      const b = poseBody(shape, walk(standerOf(shape), t, speed));
      const lowest = Math.min(...Float32Array.from({ length: b.positions.length / 3 }, (_, v) => b.positions[v * 3 + 1]));
      expect(lowest).toBeGreaterThan(-0.003);
      expect(lowest).toBeLessThan(0.001);
      const feet = soles.map((v) => at(b, v).add(new Vector3(0, 0, speed * t)));
      if (before)
        feet.forEach((p, i) => {
          const from = (before as Vector3[])[i];
          if (p.y < 0.0015 && from.y < 0.0015) expect(p.distanceTo(from)).toBeLessThan(0.0025);
        });
      before = feet;
    }
    // after a stride all is as it was
    const [a, b] = [0, seconds].map((t) => poseBody(shape, walk(standerOf(shape), t, speed)));
    for (let v = 0; v < a.positions.length; v += 97) expect(a.positions[v]).toBeCloseTo(b.positions[v], 5);
  });

  // Perry & Burnfield, Gait Analysis: the elbow bends more while the arm swings forward (*from memory*)
  it('elbows bend most where the arm is foremost, never back', () => {
    const stander = standerOf(shape);
    const { seconds } = stride(stander, 1.3);
    for (const side of ['left', 'right']) {
      const moments = Array.from({ length: 24 }, (_, i) => {
        const q = walk(stander, (i / 24) * seconds, 1.3).joints as Record<string, Quaternion>;
        const bent = (2 * Math.acos(Math.min(1, Math.abs(q[`${side}LowerArm`].w))) * 180) / Math.PI;
        const hand = poseBody(shape, { joints: q }).joints.find((j) => j.name === `${side}Hand`)?.pose ?? [];
        return { bent, fore: hand[14] };
      });
      const byFore = [...moments].sort((a, b) => a.fore - b.fore);
      const [back, front] = [byFore[0], byFore[byFore.length - 1]];
      expect(front.bent - back.bent).toBeGreaterThan(8);
      expect(front.bent).toBeGreaterThan(Math.max(...moments.map((m) => m.bent)) - 2);
      for (const { bent } of moments) {
        expect(bent).toBeGreaterThan(12);
        expect(bent).toBeLessThan(35);
      }
    }
  });

  it('idle and turning: the standing foot does not slide', () => {
    const ankle = (pose: Parameters<typeof poseBody>[1]) => joint(poseBody(shape, pose), 'leftFoot');
    const first = ankle(idle(standerOf(shape), 0));
    for (const t of [1, 3.3, 7]) expect(ankle(idle(standerOf(shape), t)).distanceTo(first)).toBeLessThan(1e-6);
    // the left foot travels for 40 % of a beat of 0.75 s, then stands
    const [a, b] = [0.35, 0.7].map((t) => ankle(turnAbout(standerOf(shape), t)));
    expect(a.distanceTo(b)).toBeLessThan(1e-6);
    expect(ankle(turnAbout(standerOf(shape), 0.1)).distanceTo(a)).toBeGreaterThan(0.02);
  });
});

it('arms that go up to a T leave the flank where it was', () => {
  const t = poseBody(shape, 'T');
  const torso = shape.regions.names.indexOf('torso');
  const out: number[] = [];
  for (let v = 0; v * 3 < body.positions.length; v++) {
    const [x, y] = [body.positions[v * 3], body.positions[v * 3 + 1]];
    if (shape.regions.ids[v] === torso && x > 0.11 && y > 1.15 && y < 1.27) out.push((t.positions[v * 3] - x) * 1000);
  }
  expect(out.length).toBeGreaterThan(30);
  expect(out.reduce((s, d) => s + d, 0) / out.length).toBeLessThan(3);
  expect(Math.max(...out)).toBeLessThan(15);
});
