/** Skin weights of the base body: fields along the limbs on the left half, spread over the surface, mirrored. */
import { fingerBones, HUMANOID_BONES, HUMANOID_PARENT, mirrorName } from '../../words/humanoid';
import { clamp, dot, len, lerp, mul, sat, smooth, sub, type Vec3 } from '../vec';
import { EL, FINGERS, toArm, WR } from './arm';
import type { BodyMesh, Core } from './join';
import type { VertexInfo } from './mesh';
import { FC, FO, FS, HY } from './sculpt';

/** Four bones and shares a welded vertex; shares are multiples of 1/4096 and sum to exactly one. */
export interface PackedWeights {
  bones: Uint16Array;
  shares: Float32Array;
}

type Shares = Map<string, number>;
const put = (w: Shares, bone: string, share: number) => {
  if (share > 0) w.set(bone, (w.get(bone) ?? 0) + share);
};
const ramp = (at: number, half: number, x: number) => smooth(at - half, at + half, x);

function fingerShares(w: Shares, finger: number, s: number): void {
  const f = FINGERS[finger];
  const [l0, l1] = f.L;
  const thumb = finger === 0;
  const [first, second, third] = fingerBones(f.name);
  const a = thumb ? smooth(6, 34, s) * 0.9 + 0.1 * smooth(30, 40, s) : smooth(l0 * 0.1, l0 * 0.7, s);
  const c = ramp(l0, thumb ? 8 : 6, s);
  const d = ramp(l0 + l1, thumb ? 7 : 5, s);
  put(w, 'leftHand', 1 - a);
  put(w, first, a * (1 - c));
  put(w, second, a * c * (1 - d));
  put(w, third, a * c * d);
}

function handShares(w: Shares, p: Vec3): void {
  const A = toArm(...p);
  const q: Vec3 = [A[0] - WR, A[1], A[2]];
  const hand = smooth(-16, 18, q[0]);
  put(w, 'leftLowerArm', 1 - hand);
  let left = hand;
  // the thumb takes of what the others leave
  for (const f of [...FINGERS.slice(1), FINGERS[0]]) {
    const thumb = f === FINGERS[0];
    const r = sub(q, f.base);
    const s = dot(r, f.D[0]);
    const aside = len(sub(r, mul(f.D[0], s)));
    const share = thumb
      ? smooth(0, 40, s) * (1 - smooth(12, 26, aside)) * 0.8
      : smooth(-8, f.L[0] * 0.8, s) * (1 - smooth(11, 21, aside)) * 0.75;
    const root = thumb ? Math.min(left, hand * share) : hand * share;
    put(w, fingerBones(f.name)[0], root);
    left -= root;
  }
  put(w, 'leftHand', Math.max(0, left));
}

/** Head, neck, chest and arm. */
function upperShares(w: Shares, part: VertexInfo['part'] | 'head', p: Vec3): void {
  const [x, y, z] = p;
  const [X] = toArm(...p);
  const skull = part === 'head' || part === 'neck';
  // a nearly upright plane from acromion to arm pit, faded out below the pit: along a sloping arm the flank would lie further out
  const plane = lerp(198, 176, sat((y - 1285) / 110));
  let arm = 0;
  if (part === 'arm') arm = Math.max(smooth(-46, 54, x - plane), smooth(62, 128, X));
  else if (x > 60 && part === 'torso') arm = smooth(-42, 54, x - plane) * smooth(1268, 1340, y);
  if (part === 'arm') {
    const e = ramp(EL, 34, X);
    const h = smooth(WR - 30, WR + 18, X);
    put(w, 'leftHand', arm * e * h);
    put(w, 'leftLowerArm', arm * e * (1 - h));
    put(w, 'leftUpperArm', arm * (1 - e));
  } else put(w, 'leftUpperArm', arm);
  let rest = 1 - arm;
  const take = (bone: string, share: number) => {
    put(w, bone, rest * share);
    rest *= 1 - share;
  };
  take('leftShoulder', skull ? 0 : 0.85 * smooth(30, 135, x) * smooth(1330, 1425, y + (x - 100) * 0.25));
  take('head', skull ? ramp(1536, 27, y + 0.42 * (z + 22)) : 0);
  take('neck', ramp(1468, 34, y + (z + 40) * 0.12 - Math.max(0, x - 50) * 0.5));
  take('upperChest', ramp(1258, 48, y));
  take('chest', ramp(1142, 48, y));
  put(w, 'spine', rest);
}

/** Trunk below the chest, leg and foot. */
function lowerShares(w: Shares, part: VertexInfo['part'], [x, y, z]: Vec3): void {
  const groin = 826 + (clamp(x, 0, 165) / 165) * 92 + 16 * smooth(0, 60, z) - 12 * smooth(-40, -120, z);
  let leg = part === 'torso' && y > 1010 ? 0 : smooth(-62, 62, groin - y) * smooth(-4, 34, x + (groin - y) * 0.12);
  if (part === 'foot' || (part === 'leg' && y < 700)) leg = 1;
  const knee = smooth(48, -48, y - 492 - (z + 16) * -0.12);
  const ankle = smooth(34, -34, y - 84 - (z + 40) * 0.45);
  const along = (x - FO[0]) * FS + (z - FO[1]) * FC;
  const toes = part === 'foot' ? smooth(-22, 22, along - 112) * smooth(100, 40, y) : 0;
  put(w, 'leftUpperLeg', leg * (1 - knee));
  put(w, 'leftLowerLeg', leg * knee * (1 - ankle));
  put(w, 'leftFoot', leg * knee * ankle * (1 - toes));
  put(w, 'leftToes', leg * knee * ankle * toes);
  let rest = 1 - leg;
  const chest = ramp(1142, 48, y);
  put(w, 'chest', rest * chest);
  rest *= 1 - chest;
  const spine = ramp(1030, 52, y);
  put(w, 'spine', rest * spine);
  put(w, 'hips', rest * (1 - spine));
}

function sharesAt(p: Vec3, o: Pick<VertexInfo, 'finger' | 's'> & { part: VertexInfo['part'] | 'head' }): Shares {
  const w: Shares = new Map();
  if (o.part === 'hand' && o.finger !== undefined) fingerShares(w, o.finger, o.s ?? 0);
  else if (o.part === 'hand') handShares(w, p);
  else if (o.part === 'arm' || o.part === 'neck' || o.part === 'head' || (o.part === 'torso' && p[1] > 1180)) upperShares(w, o.part, p);
  else lowerShares(w, o.part, p);
  return w;
}

/** Share of the way to its neighbours' mean that a vertex' weights go in heat step `step`; the skull keeps its weight of one. */
function spread(c: Core, info: readonly VertexInfo[], step: number): number {
  if (!('body' in c)) return 0;
  const o = info[c.body];
  if (o.finger !== undefined) return step > 2 ? 0 : 0.12;
  return o.part === 'hand' ? 0.3 : 0.5;
}

/** Rows of 52 shares, one a welded vertex; the image of a vertex has its image's shares, to the last bit. */
export function bodyWeights(m: BodyMesh): Float64Array {
  const NJ = HUMANOID_BONES.length;
  const { core, half, headBase: hb, mirror } = m;
  const index = new Map(HUMANOID_BONES.map((n, i) => [n, i]));
  const mirrored = HUMANOID_BONES.map((n) => index.get(mirrorName(n)) as number);
  const rows = new Float64Array(core.length * NJ);
  const isLeft = (c: Core) => ('head' in c ? hb.pos[c.head][0] >= -1e-9 : 'body' in c && c.side >= 0);
  const rigid = (c: Core) => 'loop' in c || ('head' in c && c.eye);
  core.forEach((c, i) => {
    if (rigid(c)) rows[i * NJ + (index.get('head') as number)] = 1;
    else if (isLeft(c)) {
      const w =
        'head' in c
          ? sharesAt([hb.pos[c.head][0], hb.pos[c.head][1] + HY, hb.pos[c.head][2]], { part: 'head' })
          : sharesAt(half.P[(c as { body: number }).body], half.info[(c as { body: number }).body]);
      for (const [bone, share] of w) rows[i * NJ + (index.get(bone) as number)] += share;
    }
  });
  const symmetrise = () => {
    core.forEach((c, i) => {
      if (rigid(c)) return;
      if (mirror[i] !== i) {
        if (!isLeft(c)) for (let j = 0; j < NJ; j++) rows[i * NJ + j] = rows[mirror[i] * NJ + mirrored[j]];
        return;
      }
      mirrored.forEach((k, j) => {
        if (k > j) rows[i * NJ + j] = rows[i * NJ + k] = (rows[i * NJ + j] + rows[i * NJ + k]) / 2;
      });
    });
  };
  symmetrise();
  const near = core.map(() => new Set<number>());
  for (let t = 0; t < m.formTriangles * 3; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = m.out[m.indices[t + k]].core;
      const b = m.out[m.indices[t + ((k + 1) % 3)]].core;
      near[a].add(b);
      near[b].add(a);
    }
  const sums = new Float64Array(NJ);
  for (let step = 0; step < 8; step++) {
    const before = rows.slice();
    core.forEach((c, i) => {
      const share = spread(c, half.info, step);
      if (!share) return;
      sums.fill(0);
      for (const k of near[i]) for (let j = 0; j < NJ; j++) sums[j] += before[k * NJ + j];
      for (let j = 0; j < NJ; j++) rows[i * NJ + j] = lerp(before[i * NJ + j], sums[j] / near[i].size, share);
    });
    symmetrise();
  }
  return rows;
}

const UNIT = 4096;

/** The four largest of the dense rows over `names`; the weights of a bone that is missing go to its nearest kept ancestor. */
export function packWeights(
  dense: Float64Array,
  mirror: ArrayLike<number>,
  all: readonly string[],
  names: readonly string[],
): PackedWeights {
  const at = new Map(names.map((n, i) => [n, i]));
  const to = all.map((n) => {
    let q: string | null = n;
    while (q && !at.has(q)) q = HUMANOID_PARENT[q];
    return at.get(q as string) as number;
  });
  const mirrored = names.map((n) => at.get(mirrorName(n)) as number);
  const count = mirror.length;
  const bones = new Uint16Array(count * 4);
  const shares = new Float32Array(count * 4);
  const sums = new Float64Array(names.length);
  for (let i = 0; i < count; i++) {
    // a pair is written together, by the first of it
    if (mirror[i] < i) continue;
    sums.fill(0);
    for (let j = 0; j < all.length; j++) sums[to[j]] += dense[i * all.length + j];
    const midline = mirror[i] === i;
    let kept: number[] = [];
    for (let j = 0; j < names.length; j++) if (sums[j] > 0.004) kept.push(j);
    kept = kept.sort((x, y) => sums[y] - sums[x] || x - y).slice(0, 4);
    // on the midline pairs stay pairs
    if (midline) kept = kept.filter((j) => mirrored[j] === j || kept.includes(mirrored[j]));
    const sum = kept.reduce((q, j) => q + sums[j], 0);
    const units = kept.map((j) => Math.round((sums[j] / sum) * UNIT));
    let rest = 0;
    if (midline) {
      kept.forEach((j, k) => {
        const pair = kept.indexOf(mirrored[j]);
        if (pair > k) units[k] = units[pair] = Math.min(units[k], units[pair]);
      });
      const own = kept.filter((j) => mirrored[j] === j);
      if (own.length) rest = kept.indexOf(own[0]);
    }
    units[rest] += UNIT - units.reduce((a, c) => a + c, 0);
    kept.forEach((j, k) => {
      bones[i * 4 + k] = j;
      shares[i * 4 + k] = units[k] / UNIT;
      if (midline) return;
      bones[mirror[i] * 4 + k] = mirrored[j];
      shares[mirror[i] * 4 + k] = units[k] / UNIT;
    });
  }
  return { bones, shares };
}
