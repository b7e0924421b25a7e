/**
 * Garments nobody modelled: a dark suit with gloves and shoes, made in a T pose, and a cape with two rows of bones of its own. From
 * numbers alone, with bone names of a habit that is none of ours.
 */
import { Document, type Node, WebIO } from '@gltf-transform/core';

type P3 = readonly [number, number, number];
interface Bone {
  name: string;
  parent: string | null;
  at: P3;
}
interface Ring {
  at: P3;
  /** Half breadths along the two axes across the line. */
  broad: number;
  deep: number;
  /** Bone → share. */
  on: Readonly<Record<string, number>>;
}

const mix = (a: P3, b: P3, t: number): P3 => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];

/** Rings between given ones, so that a bend has something to bend with. */
function fine(rings: readonly Ring[], per: number): Ring[] {
  const out: Ring[] = [];
  for (let i = 0; i + 1 < rings.length; i++) {
    const [a, b] = [rings[i], rings[i + 1]];
    for (let k = 0; k < per; k++) {
      const t = k / per;
      const on: Record<string, number> = {};
      for (const [n, w] of Object.entries(a.on)) on[n] = (on[n] ?? 0) + w * (1 - t);
      for (const [n, w] of Object.entries(b.on)) on[n] = (on[n] ?? 0) + w * t;
      out.push({ at: mix(a.at, b.at, t), broad: a.broad + (b.broad - a.broad) * t, deep: a.deep + (b.deep - a.deep) * t, on });
    }
  }
  return [...out, rings[rings.length - 1]];
}

class Cloth {
  readonly positions: number[] = [];
  readonly uvs: number[] = [];
  readonly joints: number[] = [];
  readonly weights: number[] = [];
  readonly indices: number[] = [];
  constructor(private readonly names: readonly string[]) {}

  vertex(p: P3, uv: readonly [number, number], on: Readonly<Record<string, number>>): number {
    this.positions.push(...p);
    this.uvs.push(...uv);
    const most = Object.entries(on)
      .filter(([, w]) => w > 0)
      .sort((a, b) => b[1] - a[1])
      .slice(0, 4);
    const sum = most.reduce((s, [, w]) => s + w, 0);
    for (let k = 0; k < 4; k++) {
      this.joints.push(most[k] ? this.names.indexOf(most[k][0]) : 0);
      this.weights.push(most[k] ? most[k][1] / sum : 0);
    }
    return this.positions.length / 3 - 1;
  }

  /** A closed sleeve about rings; `u` and `v` are the axes across it. */
  sleeve(rings: readonly Ring[], u: P3, v: P3, around: number): void {
    const rows = rings.map((r, i) =>
      Array.from({ length: around + 1 }, (_, k) => {
        const a = (2 * Math.PI * k) / around;
        const [x, y] = [Math.cos(a) * r.broad, Math.sin(a) * r.deep];
        const p: P3 = [r.at[0] + u[0] * x + v[0] * y, r.at[1] + u[1] * x + v[1] * y, r.at[2] + u[2] * x + v[2] * y];
        return this.vertex(p, [k / around, i / (rings.length - 1)], r.on);
      }),
    );
    for (let i = 0; i + 1 < rows.length; i++)
      for (let k = 0; k < around; k++) {
        const [a, b, c, d] = [rows[i][k], rows[i][k + 1], rows[i + 1][k], rows[i + 1][k + 1]];
        this.indices.push(a, b, d, a, d, c);
      }
  }

  /** A sheet of rows of places. */
  sheet(rows: readonly (readonly { p: P3; on: Readonly<Record<string, number>> }[])[]): void {
    const numbers = rows.map((row, i) => row.map(({ p, on }, k) => this.vertex(p, [k / (row.length - 1), i / (rows.length - 1)], on)));
    for (let i = 0; i + 1 < rows.length; i++)
      for (let k = 0; k + 1 < rows[i].length; k++) {
        const [a, b, c, d] = [numbers[i][k], numbers[i][k + 1], numbers[i + 1][k], numbers[i + 1][k + 1]];
        this.indices.push(a, c, d, a, d, b);
      }
  }

  async glb(bones: readonly Bone[], name: string, colour: readonly [number, number, number], both: boolean): Promise<Uint8Array> {
    const document = new Document();
    const buffer = document.createBuffer();
    const accessor = (type: 'VEC3' | 'VEC2' | 'VEC4' | 'SCALAR' | 'MAT4', array: Float32Array | Uint16Array | Uint32Array) =>
      document
        .createAccessor()
        .setType(type)
        .setArray(array as Float32Array<ArrayBuffer>)
        .setBuffer(buffer);
    const material = document
      .createMaterial(name)
      .setBaseColorFactor([...colour, 1])
      .setMetallicFactor(0)
      .setRoughnessFactor(0.85)
      .setDoubleSided(both);
    const primitive = document
      .createPrimitive()
      .setMaterial(material)
      .setAttribute('POSITION', accessor('VEC3', Float32Array.from(this.positions)))
      .setAttribute('TEXCOORD_0', accessor('VEC2', Float32Array.from(this.uvs)))
      .setAttribute('JOINTS_0', accessor('VEC4', Uint16Array.from(this.joints)))
      .setAttribute('WEIGHTS_0', accessor('VEC4', Float32Array.from(this.weights)))
      .setIndices(accessor('SCALAR', Uint32Array.from(this.indices)));
    const nodes = new Map<string, Node>();
    const skin = document.createSkin(name);
    const inverse = new Float32Array(bones.length * 16);
    const scene = document.createScene(name);
    for (const [i, b] of bones.entries()) {
      const up = bones.find((o) => o.name === b.parent);
      const node = document.createNode(b.name).setTranslation([0, 1, 2].map((k) => b.at[k] - (up?.at[k] ?? 0)) as [number, number, number]);
      nodes.set(b.name, node);
      (b.parent ? (nodes.get(b.parent) as Node) : scene).addChild(node);
      skin.addJoint(node);
      inverse.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -b.at[0], -b.at[1], -b.at[2], 1], i * 16);
    }
    skin.setInverseBindMatrices(accessor('MAT4', inverse));
    scene.addChild(document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)).setSkin(skin));
    document.getRoot().setDefaultScene(scene);
    return new WebIO().writeBinary(document);
  }
}

const both = (make: (side: 'l' | 'r', x: 1 | -1) => Bone[]): Bone[] => [...make('l', 1), ...make('r', -1)];

const D2R = Math.PI / 180;
/** Turned down about the shoulder of its side. */
function lowered(p: P3, deg: number): P3 {
  const x = p[0] < 0 ? -1 : 1;
  const [u, v] = [Math.abs(p[0]) - 0.19, p[1] - 1.42];
  const [c, s] = [Math.cos(deg * D2R), Math.sin(deg * D2R)];
  return [x * (0.19 + u * c + v * s), 1.42 - u * s + v * c, p[2]];
}

/** A suit with gloves and shoes. @param around corners of a sleeve: 96 makes a file of several MB @param armsDeg how far its arms are below level */
export function darkSuit(around = 20, armsDeg = 0): Promise<Uint8Array> {
  const bones: Bone[] = [
    { name: 'pelvis', parent: null, at: [0, 0.95, 0] },
    { name: 'spine_01', parent: 'pelvis', at: [0, 1.05, -0.02] },
    { name: 'spine_02', parent: 'spine_01', at: [0, 1.17, -0.02] },
    { name: 'spine_03', parent: 'spine_02', at: [0, 1.29, -0.02] },
    { name: 'neck_01', parent: 'spine_03', at: [0, 1.48, -0.03] },
    { name: 'head', parent: 'neck_01', at: [0, 1.59, 0] },
    ...both((s, x) => [
      { name: `clavicle_${s}`, parent: 'spine_03', at: [0.03 * x, 1.44, 0] },
      { name: `upperarm_${s}`, parent: `clavicle_${s}`, at: [0.19 * x, 1.42, -0.02] },
      { name: `lowerarm_${s}`, parent: `upperarm_${s}`, at: lowered([0.46 * x, 1.42, -0.02], armsDeg) },
      { name: `hand_${s}`, parent: `lowerarm_${s}`, at: lowered([0.7 * x, 1.42, -0.02], armsDeg) },
      { name: `thigh_${s}`, parent: 'pelvis', at: [0.09 * x, 0.91, 0] },
      { name: `calf_${s}`, parent: `thigh_${s}`, at: [0.1 * x, 0.49, 0] },
      { name: `foot_${s}`, parent: `calf_${s}`, at: [0.1 * x, 0.09, -0.02] },
      { name: `ball_${s}`, parent: `foot_${s}`, at: [0.11 * x, 0.03, 0.1] },
    ]),
  ];
  const cloth = new Cloth(bones.map((b) => b.name));
  const per = Math.max(3, Math.round(around / 5));
  const ring = (at: P3, broad: number, deep: number, on: Record<string, number>): Ring => ({ at, broad, deep, on });
  const fore: P3 = [0, 0, 1];
  cloth.sleeve(
    fine(
      [
        ring([0, 0.83, -0.01], 0.17, 0.13, { pelvis: 1 }),
        ring([0, 0.95, -0.01], 0.185, 0.135, { pelvis: 1 }),
        ring([0, 1.08, 0], 0.165, 0.125, { pelvis: 0.3, spine_01: 0.7 }),
        ring([0, 1.2, 0], 0.175, 0.135, { spine_01: 0.3, spine_02: 0.7 }),
        ring([0, 1.33, 0], 0.19, 0.14, { spine_02: 0.3, spine_03: 0.7 }),
        ring([0, 1.43, -0.01], 0.17, 0.115, { spine_03: 1 }),
        ring([0, 1.47, -0.02], 0.09, 0.085, { spine_03: 0.8, neck_01: 0.2 }),
        ring([0, 1.51, -0.02], 0.068, 0.072, { neck_01: 1 }),
      ],
      per,
    ),
    [-1, 0, 0],
    fore,
    around,
  );
  for (const [s, x] of [
    ['l', 1],
    ['r', -1],
  ] as const) {
    cloth.sleeve(
      fine(
        [
          ring([0.15 * x, 1.41, -0.02], 0.07, 0.075, { spine_03: 0.4, [`clavicle_${s}`]: 0.6 }),
          ring(lowered([0.22 * x, 1.42, -0.02], armsDeg), 0.066, 0.07, { [`clavicle_${s}`]: 0.2, [`upperarm_${s}`]: 0.8 }),
          ring(lowered([0.4 * x, 1.42, -0.02], armsDeg), 0.053, 0.056, { [`upperarm_${s}`]: 1 }),
          ring(lowered([0.46 * x, 1.42, -0.02], armsDeg), 0.051, 0.054, { [`upperarm_${s}`]: 0.5, [`lowerarm_${s}`]: 0.5 }),
          ring(lowered([0.52 * x, 1.42, -0.02], armsDeg), 0.05, 0.052, { [`lowerarm_${s}`]: 1 }),
          ring(lowered([0.68 * x, 1.42, -0.02], armsDeg), 0.038, 0.042, { [`lowerarm_${s}`]: 0.7, [`hand_${s}`]: 0.3 }),
          ring(lowered([0.78 * x, 1.42, -0.02], armsDeg), 0.026, 0.052, { [`hand_${s}`]: 1 }),
          ring(lowered([0.88 * x, 1.42, -0.02], armsDeg), 0.014, 0.04, { [`hand_${s}`]: 1 }),
        ],
        per,
      ),
      lowered([0.19 * x, 2.42, 0], armsDeg).map((v, k) => (k === 2 ? 0 : x * (v - [0.19 * x, 1.42][k]))) as unknown as P3,
      fore,
      around,
    );
    cloth.sleeve(
      fine(
        [
          ring([0.1 * x, 0.93, 0], 0.1, 0.115, { pelvis: 0.6, [`thigh_${s}`]: 0.4 }),
          ring([0.1 * x, 0.82, 0], 0.1, 0.11, { pelvis: 0.1, [`thigh_${s}`]: 0.9 }),
          ring([0.1 * x, 0.55, 0], 0.078, 0.085, { [`thigh_${s}`]: 1 }),
          ring([0.1 * x, 0.49, 0], 0.072, 0.078, { [`thigh_${s}`]: 0.5, [`calf_${s}`]: 0.5 }),
          ring([0.1 * x, 0.43, 0], 0.07, 0.076, { [`calf_${s}`]: 1 }),
          ring([0.1 * x, 0.14, -0.01], 0.058, 0.066, { [`calf_${s}`]: 0.8, [`foot_${s}`]: 0.2 }),
          ring([0.1 * x, 0.09, -0.01], 0.05, 0.075, { [`foot_${s}`]: 1 }),
          ring([0.1 * x, 0.05, 0.02], 0.052, 0.12, { [`foot_${s}`]: 0.8, [`ball_${s}`]: 0.2 }),
          ring([0.1 * x, 0.0, 0.03], 0.05, 0.13, { [`foot_${s}`]: 0.6, [`ball_${s}`]: 0.4 }),
        ],
        per,
      ),
      [1, 0, 0],
      fore,
      around,
    );
  }
  return cloth.glb(bones, 'Dark suit', [0.035, 0.04, 0.055], false);
}

/** A cape from the shoulders to the calves; its rows of bones hang from the breast. */
export function cape(): Promise<Uint8Array> {
  const rows = 5;
  const down = (i: number) => 1.42 - i * 0.24;
  const bones: Bone[] = [
    { name: 'spine_02', parent: null, at: [0, 1.17, -0.02] },
    { name: 'spine_03', parent: 'spine_02', at: [0, 1.29, -0.02] },
    { name: 'neck_01', parent: 'spine_03', at: [0, 1.48, -0.03] },
    ...both((s, x) =>
      Array.from({ length: rows }, (_, i) => ({
        name: `cape_${s}_${i}`,
        parent: i === 0 ? 'spine_03' : `cape_${s}_${i - 1}`,
        at: [0.13 * x, down(i), -0.16 - i * 0.02] as P3,
      })),
    ),
  ];
  const cloth = new Cloth(bones.map((b) => b.name));
  const [high, wide] = [40, 24];
  cloth.sheet(
    Array.from({ length: high + 1 }, (_, i) => {
      const t = i / high;
      return Array.from({ length: wide + 1 }, (_, k) => {
        const u = (k / wide) * 2 - 1;
        const half = 0.19 + 0.2 * t;
        const y = 1.47 - 1.2 * t - 0.05 * u * u * (1 - t);
        const round = 0.09 * (1 - t) * u * u;
        const p: P3 = [half * u, y, -0.13 - 0.14 * t + round + 0.02 * Math.sin(u * 9) * t];
        const row = Math.min(rows - 1, (1.42 - y) / 0.24);
        const [a, b] = [Math.max(0, Math.floor(row)), Math.min(rows - 1, Math.floor(row) + 1)];
        const f = Math.max(0, row - a);
        const left = (u + 1) / 2;
        const on: Record<string, number> = {};
        const add = (n: string, w: number) => {
          on[n] = (on[n] ?? 0) + w;
        };
        const own = Math.min(1, t * 8);
        add('spine_03', 1 - own);
        for (const [s, w] of [
          ['l', left],
          ['r', 1 - left],
        ] as const) {
          add(`cape_${s}_${a}`, own * w * (1 - f));
          add(`cape_${s}_${b}`, own * w * f);
        }
        return { p, on };
      });
    }),
  );
  return cloth.glb(bones, 'Cape', [0.32, 0.03, 0.05], true);
}
