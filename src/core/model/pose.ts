/** Posing a model: clips sampled at a time, node matrices, skinned vertices. (glTF 2.0, sections 3.7 and 3.11, appendix C.) */
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { Model, ModelChannel } from './model';

/** Local transforms of every node, ten numbers each: translation 3, rotation 4 (xyzw), scale 3; and morph weights. */
export interface LocalPose {
  trs: Float32Array;
  /** Node → morph weights, only where a clip moves them. */
  morphWeights: Map<number, number[]>;
  /** Node → its place in its parent, instead of the ten numbers: what a body wears may be sheared. */
  locals?: ReadonlyMap<number, Matrix4>;
}

export function restPose(model: Model): LocalPose {
  const trs = new Float32Array(model.nodes.length * 10);
  model.nodes.forEach((n, i) => {
    trs.set(n.translation, i * 10);
    trs.set(n.rotation, i * 10 + 3);
    trs.set(n.scale, i * 10 + 7);
  });
  return { trs, morphWeights: new Map() };
}

/** Index of the last key at or before t; 0 before the first. */
function keyBefore(times: Float32Array, t: number): number {
  let lo = 0;
  let hi = times.length - 1;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (times[mid] <= t) lo = mid;
    else hi = mid - 1;
  }
  return lo;
}

const _a = /* @__PURE__ */ new Quaternion();
const _b = /* @__PURE__ */ new Quaternion();

/** The channel's value at t seconds; held before the first and after the last key. */
export function sampleChannel(c: ModelChannel, t: number): number[] {
  const { times, values, size } = c;
  const cubic = c.interpolation === 'CUBICSPLINE';
  const value = (key: number, part = cubic ? 1 : 0) =>
    Array.from(values.subarray((key * (cubic ? 3 : 1) + part) * size, (key * (cubic ? 3 : 1) + part + 1) * size));
  const k = keyBefore(times, t);
  if (t <= times[0] || k === times.length - 1 || c.interpolation === 'STEP') return value(k);
  const span = times[k + 1] - times[k];
  const u = (t - times[k]) / span;
  if (cubic) {
    const [p0, m0, p1, m1] = [value(k), value(k, 2), value(k + 1), value(k + 1, 0)];
    const u2 = u * u;
    const u3 = u2 * u;
    const out = p0.map(
      (p, i) => (2 * u3 - 3 * u2 + 1) * p + span * (u3 - 2 * u2 + u) * m0[i] + (3 * u2 - 2 * u3) * p1[i] + span * (u3 - u2) * m1[i],
    );
    const length = c.path === 'rotation' ? Math.hypot(...out) || 1 : 1;
    return out.map((x) => x / length);
  }
  if (c.path === 'rotation')
    return _a
      .fromArray(value(k))
      .slerp(_b.fromArray(value(k + 1)), u)
      .toArray();
  const next = value(k + 1);
  return value(k).map((x, i) => x + (next[i] - x) * u);
}

/** The pose of a clip at a time (s); the clip repeats, or stays at its end where it says so. A clip number outside the list gives the rest pose. */
export function poseAt(model: Model, clip: number, timeS: number): LocalPose {
  const pose = restPose(model);
  const c = model.clips[clip];
  if (!c) return pose;
  const t = c.seconds <= 0 ? 0 : c.loop ? timeS - Math.floor(timeS / c.seconds) * c.seconds : Math.min(Math.max(timeS, 0), c.seconds);
  for (const channel of c.channels) {
    const v = sampleChannel(channel, t);
    if (channel.path === 'weights') pose.morphWeights.set(channel.node, v);
    else pose.trs.set(v, channel.node * 10 + { translation: 0, rotation: 3, scale: 7 }[channel.path]);
  }
  return pose;
}

/** Node → matrix in model space (column-major), parents before children whatever their order in the file. */
export function nodeMatrices(model: Model, pose: LocalPose): Matrix4[] {
  const out: (Matrix4 | undefined)[] = [];
  const local = (i: number) => {
    const said = pose.locals?.get(i);
    if (said) return said.clone();
    const t = pose.trs;
    const o = i * 10;
    return new Matrix4().compose(
      new Vector3(t[o], t[o + 1], t[o + 2]),
      new Quaternion(t[o + 3], t[o + 4], t[o + 5], t[o + 6]),
      new Vector3(t[o + 7], t[o + 8], t[o + 9]),
    );
  };
  for (let i = 0; i < model.nodes.length; i++) {
    const chain: number[] = [];
    for (let n = i; n >= 0 && !out[n]; n = model.nodes[n].parent) chain.push(n);
    for (const n of chain.reverse()) {
      const parent = model.nodes[n].parent;
      const m = local(n);
      out[n] = parent >= 0 ? m.premultiply(out[parent] as Matrix4) : m;
    }
  }
  return out as Matrix4[];
}

/** Every node the default scene draws. */
export function sceneNodes(model: Model): number[] {
  const out: number[] = [];
  const open = [...model.sceneRoots].reverse();
  for (let n = open.pop(); n !== undefined; n = open.pop()) {
    out.push(n);
    for (const c of model.nodes[n].children) open.push(c);
  }
  return out;
}

export interface PosedPrimitive {
  node: number;
  mesh: number;
  primitive: number;
  /** Positions of all vertices, metres, after `toSpace`; instances one after another. */
  positions: Float32Array;
  instances: number;
}

/**
 * World positions of everything the default scene draws. A skinned mesh ignores its own node and follows its joints.
 * Morph targets count only where the file or a clip gives them weight and `morphs` is on.
 * @param toSpace placed before every node, column-major
 */
export function posedPrimitives(model: Model, pose: LocalPose, toSpace: Matrix4 = new Matrix4(), morphs = true): PosedPrimitive[] {
  const world = nodeMatrices(model, pose).map((m) => m.premultiply(toSpace));
  const out: PosedPrimitive[] = [];
  for (const n of sceneNodes(model)) {
    const node = model.nodes[n];
    if (node.mesh < 0) continue;
    const skin = node.skin >= 0 ? model.skins[node.skin] : null;
    const palette = skin?.joints.map((j, i) => new Matrix4().fromArray(skin.inverseBind, i * 16).premultiply(world[j]));
    const weights = morphs ? (pose.morphWeights.get(n) ?? node.morphWeights) : [];
    model.meshes[node.mesh].primitives.forEach((p, k) => {
      const base = morphed(p.positions, p.morphPositions, weights);
      const skinned = palette && p.joints && p.weights;
      const places =
        node.instances && !skinned
          ? Array.from({ length: node.instances.length / 16 }, (_, i) =>
              new Matrix4().fromArray(node.instances as Float32Array, i * 16).premultiply(world[n]),
            )
          : [world[n]];
      const positions = new Float32Array(base.length * places.length);
      if (skinned) skinPositions(base, p.joints as Uint16Array, p.weights as Float32Array, p.influences, palette, positions);
      else for (const [i, m] of places.entries()) transform(base, m.elements, positions, i * base.length);
      out.push({ node: n, mesh: node.mesh, primitive: k, positions, instances: places.length });
    });
  }
  return out;
}

function morphed(base: Float32Array, targets: Float32Array[], weights: readonly number[]): Float32Array {
  if (!targets.some((_, i) => weights[i])) return base;
  const out = base.slice();
  targets.forEach((t, i) => {
    const w = weights[i] ?? 0;
    if (w) for (let k = 0; k < out.length; k++) out[k] += w * t[k];
  });
  return out;
}

function transform(src: Float32Array, e: ArrayLike<number>, out: Float32Array, outAt: number): void {
  for (let i = 0; i + 2 < src.length; i += 3) {
    const x = src[i];
    const y = src[i + 1];
    const z = src[i + 2];
    out[outAt + i] = e[0] * x + e[4] * y + e[8] * z + e[12];
    out[outAt + i + 1] = e[1] * x + e[5] * y + e[9] * z + e[13];
    out[outAt + i + 2] = e[2] * x + e[6] * y + e[10] * z + e[14];
  }
}

function skinPositions(
  src: Float32Array,
  joints: Uint16Array,
  weights: Float32Array,
  influences: number,
  palette: Matrix4[],
  out: Float32Array,
): void {
  for (let v = 0; v * 3 + 2 < src.length; v++) {
    const x = src[v * 3];
    const y = src[v * 3 + 1];
    const z = src[v * 3 + 2];
    let X = 0;
    let Y = 0;
    let Z = 0;
    let sum = 0;
    for (let k = 0; k < influences; k++) {
      const w = weights[v * influences + k];
      const m = palette[joints[v * influences + k]];
      if (!w || !m) continue;
      const e = m.elements;
      sum += w;
      X += w * (e[0] * x + e[4] * y + e[8] * z + e[12]);
      Y += w * (e[1] * x + e[5] * y + e[9] * z + e[13]);
      Z += w * (e[2] * x + e[6] * y + e[10] * z + e[14]);
    }
    // what should sum to 1 (glTF 2.0, 3.7.3.3) and does not is taken in proportion, as viewers draw it
    const share = sum > 0 ? 1 / sum : 0;
    out[v * 3] = X * share;
    out[v * 3 + 1] = Y * share;
    out[v * 3 + 2] = Z * share;
  }
}
