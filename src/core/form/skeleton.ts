/**
 * The wearer bends: the head turns on a neck of two joints, the bust stays. The neck's skin follows smoothly; which share of which
 * bone a vertex follows comes from the form's own surface (a harmonic function between head and bust).
 */
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { Skeleton } from '../words/skeleton';
import type { Form } from './form';
import { type FormAsk, type FormSize, PRESETS } from './measures';
import { jointsBy } from './neckjoints';

/** Of the sizes there are; a test holds them to the landmarks. */
export const SKELETONS: Readonly<Record<FormSize, Skeleton>> = {
  S: { neckBaseM: [0, -0.12043, -0.02976], neckTopM: [0, -0.03512, -0.01445], shouldersM: [0, -0.15375, -0.02859] },
  M: { neckBaseM: [0, -0.12856, -0.03383], neckTopM: [0, -0.04064, -0.0136], shouldersM: [0, -0.16188, -0.03001] },
  L: { neckBaseM: [0, -0.1376, -0.03833], neckTopM: [0, -0.04678, -0.01266], shouldersM: [0, -0.17092, -0.03159] },
};

/** Of the base form, mm: what the neck's joints and the shoulders are told by. */
const BASE = {
  headLength: 199.454455,
  headBreadth: 151.449304,
  bizygomaticBreadth: 132.35467,
  faceLength: 121.299187,
  sellion: [21.890924, 94.846923],
  menton: [-98.272631, 78.287545],
  orbitaleUp: -0.719714,
  gonion: [-63.356093, 17.040179],
  cervicale: [-120.21952, -87.419671],
  acromion: [-165.539949, -30.570135],
} as const;

/**
 * Joints of a form by its measures alone, as its warp moves the landmarks they lie by: whoever only turns a head needs no surface. A test
 * holds it to the landmarks of forms that are made.
 */
export function skeletonFor(ask: FormAsk): Skeleton {
  if (typeof ask === 'string') return SKELETONS[ask];
  const m = { ...PRESETS.M, ...ask };
  const kL = m.headLength / BASE.headLength;
  const kB = m.headBreadth / BASE.headBreadth;
  const kN = ((kL + kB) / 2) ** 0.9;
  const [seUp, seFore] = BASE.sellion;
  const [meUp, meFore] = BASE.menton;
  const sellion = (seUp - BASE.orbitaleUp) * (1 + (m.faceLength / BASE.faceLength - 1) / 2);
  const menton = sellion - Math.sqrt(m.faceLength ** 2 - ((seFore - meFore) * kL) ** 2);
  const down = menton - meUp;
  const gonionUp = sellion + ((BASE.gonion[0] - seUp) / (meUp - seUp)) * (menton - sellion);
  const [napeUp, napeFore] = [BASE.cervicale[0] + down, BASE.cervicale[1] * kN];
  return jointsBy(
    [0, napeUp / 1000, napeFore / 1000],
    [0, gonionUp / 1000, (BASE.gonion[1] * kL) / 1000],
    [0, (BASE.acromion[0] + down) / 1000, (BASE.acromion[1] * kN) / 1000],
  );
}
/** Joints of a form by its landmarks. */
export function skeletonOf(form: Pick<Form, 'landmarks'>): Skeleton {
  const at = (name: keyof Form['landmarks']) => form.landmarks[name].position;
  const [l, r] = [at('acromionL'), at('acromionR')];
  const nape = at('cervicale');
  const gonion = at('gonionL');
  return jointsBy(nape, gonion, [(l[0] + r[0]) / 2, (l[1] + r[1]) / 2, (l[2] + r[2]) / 2]);
}

/** Two numbers a vertex: shares of neck and of bust; the head has the rest. Made once a topology. */
const shares = new WeakMap<Uint32Array, Float32Array>();
const SWEEPS = 400;
const EASE = 0.4;

export function bendShares(form: Form): Float32Array {
  let out = shares.get(form.indices);
  if (!out) {
    out = solveShares(form);
    shares.set(form.indices, out);
  }
  return out;
}

const smooth = (t: number) => t * t * (3 - 2 * t);

function solveShares(form: Form): Float32Array {
  const n = form.positions.length / 3;
  const { names, ids } = form.regions;
  const [neck, bust, cut] = ['neck', 'bust', 'cut'].map((name) => names.indexOf(name));
  // vertices at one place are one: the nape is doubled for its texture
  const place = new Int32Array(n);
  const first = new Map<string, number>();
  for (let v = 0; v < n; v++) {
    const key = [0, 1, 2].map((k) => Math.round(form.positions[v * 3 + k] * 1e6)).join();
    place[v] = first.get(key) ?? v;
    if (place[v] === v) first.set(key, v);
  }
  // 0 at the head, 1 at the bust, and on the neck the mean of the neighbours, the nearer counting more, so that it changes with the
  // distance gone and not with the number of edges (Laplace's equation by Gauss and Seidel)
  const down = new Float64Array(n);
  const free: number[] = [];
  for (let v = 0; v < n; v++) {
    down[v] = ids[v] === bust || ids[v] === cut ? 1 : 0;
    if (ids[v] === neck && place[v] === v) free.push(v);
  }
  const beside = new Map<number, Set<number>>(free.map((v) => [v, new Set<number>()]));
  for (let i = 0; i < form.indices.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [place[form.indices[i + k]], place[form.indices[i + ((k + 1) % 3)]]];
      beside.get(a)?.add(b);
      beside.get(b)?.add(a);
    }
  const p = form.positions;
  const apart = (a: number, b: number) => Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
  const around = free.map((v) => [...(beside.get(v) ?? [])].map((u) => ({ u, weight: 1 / Math.max(1e-5, apart(u, v)) })));
  for (let sweep = 0; sweep < SWEEPS; sweep++)
    free.forEach((v, i) => {
      let sum = 0;
      let weights = 0;
      for (const { u, weight } of around[i]) {
        sum += down[u] * weight;
        weights += weight;
      }
      if (weights > 0) down[v] = sum / weights;
    });
  const out = new Float32Array(n * 2);
  for (let v = 0; v < n; v++) {
    const s = down[place[v]];
    // Bernstein's weights turn evenly from head to bust; a little ease leaves no crease where the neck begins
    const t = s + (smooth(s) - s) * EASE;
    out[v * 2] = 2 * t * (1 - t);
    out[v * 2 + 1] = t * t;
  }
  return out;
}

/** Poses of a wearer's bones, world from the form's rest frame (the head frame of a form at rest). */
export interface BentBones {
  head: Matrix4;
  neck: Matrix4;
  bust: Matrix4;
}

const _q = /* @__PURE__ */ new Quaternion();
const _twist = /* @__PURE__ */ new Quaternion();
const _a = /* @__PURE__ */ new Vector3();
const _b = /* @__PURE__ */ new Vector3();
const _axis = /* @__PURE__ */ new Vector3();
const ONE = /* @__PURE__ */ new Vector3(1, 1, 1);

/**
 * The bones between a head and shoulders as a device gives them. The neck stands on the bust, points to where the head rests, and
 * takes half of the head's turn about its own axis.
 * @param shoulders world from shoulders' frame; null: upright under the head
 */
export function bendBones(head: Matrix4, shoulders: Matrix4 | null, bones: Skeleton): BentBones {
  const top = new Vector3(...bones.neckTopM);
  const base = new Vector3(...bones.neckBaseM);
  const bust = new Matrix4();
  if (shoulders)
    bust.copy(shoulders).multiply(new Matrix4().makeTranslation(-bones.shouldersM[0], -bones.shouldersM[1], -bones.shouldersM[2]));
  else bust.setPosition(top.clone().applyMatrix4(head).sub(top));
  const qBust = new Quaternion().setFromRotationMatrix(bust);
  const qHead = new Quaternion().setFromRotationMatrix(head);
  _axis.subVectors(top, base).normalize();
  // twist of the head against the bust about the neck's axis (swing–twist decomposition)
  _q.copy(qBust).invert().multiply(qHead);
  const along = _axis.x * _q.x + _axis.y * _q.y + _axis.z * _q.z;
  _twist.set(_axis.x * along, _axis.y * along, _axis.z * along, _q.w).normalize();
  const half = new Quaternion().slerp(_twist.w < 0 ? _twist.set(-_twist.x, -_twist.y, -_twist.z, -_twist.w) : _twist, 0.5);
  _b.copy(base).applyMatrix4(bust);
  _a.copy(top).applyMatrix4(head).sub(_b).normalize();
  const swing = new Quaternion().setFromUnitVectors(_axis.clone().applyQuaternion(qBust), _a);
  const qNeck = swing.multiply(qBust).multiply(half);
  const neck = new Matrix4().compose(_b.clone().sub(base.clone().applyQuaternion(qNeck)), qNeck, ONE);
  return { head, neck, bust };
}

/** Whether nothing bends: head, neck and bust move as one. */
export function isRigid({ head, bust }: BentBones): boolean {
  const [h, b] = [head.elements, bust.elements];
  for (let i = 0; i < 16; i++) if (Math.abs(h[i] - b[i]) > 1e-9) return false;
  return true;
}

interface Vertices {
  positions: Float32Array;
  normals: Float32Array;
}
/** Positions and normals of a bent form in its head's frame. `out` may be made once and used again. @param from the form's vertices, with an expression */
export function bendForm(form: Form, bones: BentBones, out: Vertices, from: Vertices = form): void {
  if (isRigid(bones)) {
    out.positions.set(from.positions);
    out.normals.set(from.normals);
    return;
  }
  const back = bones.head.clone().invert();
  const n = back.clone().multiply(bones.neck).elements;
  const b = back.clone().multiply(bones.bust).elements;
  const share = bendShares(form);
  const m = new Float64Array(16);
  for (let v = 0; v < share.length / 2; v++) {
    const [wn, wb] = [share[v * 2], share[v * 2 + 1]];
    const i = v * 3;
    const p = from.positions;
    const q = from.normals;
    if (wn === 0 && wb === 0) {
      for (let k = 0; k < 3; k++) {
        out.positions[i + k] = p[i + k];
        out.normals[i + k] = q[i + k];
      }
      continue;
    }
    const wh = 1 - wn - wb;
    for (let e = 0; e < 16; e++) m[e] = n[e] * wn + b[e] * wb + (e % 5 === 0 ? wh : 0);
    const [x, y, z] = [p[i], p[i + 1], p[i + 2]];
    const [u, w, s] = [q[i], q[i + 1], q[i + 2]];
    for (let k = 0; k < 3; k++) {
      out.positions[i + k] = m[k] * x + m[4 + k] * y + m[8 + k] * z + m[12 + k];
      out.normals[i + k] = m[k] * u + m[4 + k] * w + m[8 + k] * s;
    }
    const l = Math.hypot(out.normals[i], out.normals[i + 1], out.normals[i + 2]) || 1;
    for (let k = 0; k < 3; k++) out.normals[i + k] /= l;
  }
}
