/** The form come back with a model made upon it: where it lies now tells how the model was scaled, turned and moved elsewhere. */
import { Matrix4 } from 'three';
import { buildFormBase, FORM_SIZES, type Form, type FormSize, makeForm } from '../../form';
import { seededRandom } from '../../math/quantity';
import { fitSimilarity, type Similarity } from '../../math/similarity';
import { yawPitchRoll } from '../../math/turns';
import { nearestQuarter, quarterQuaternion } from '../../model/lie/turn';
import type { Model } from '../../model/model';
import { posedPrimitives, restPose } from '../../model/pose';
import type { FormReturn } from '../facts';

/** Triangles of the form's skin, and with its eyes: what modelling programs keep, whatever else they change. */
export const FORM_TRIANGLES = { skin: 10_468, whole: 11_668 } as const;

export interface FoundForm extends FormReturn {
  /** Mesh and primitive of the form's shapes. */
  shapes: [mesh: number, primitive: number][];
}

let forms: Record<FormSize, Form> | null = null;
function allForms(): Record<FormSize, Form> {
  if (!forms) {
    const base = buildFormBase();
    forms = Object.fromEntries(FORM_SIZES.map((s) => [s, makeForm(base, s)])) as Record<FormSize, Form>;
  }
  return forms;
}

interface Shape {
  mesh: number;
  primitive: number;
  positions: Float32Array;
  triangles: ArrayLike<number>;
  uvs: ArrayLike<number> | null;
}

/** Pairs of vertices: of the model's shape, of the form. */
type Pairs = [from: number, to: number][];

const UV_STEPS = 20_000;
const key = (u: number, v: number) => Math.round(u * UV_STEPS) * 100_003 + Math.round(v * UV_STEPS);

/** By the place in the texture, which scale and axes leave alone; v counted either way. */
function pairsByUv(shape: Shape, form: Form): Pairs {
  if (!shape.uvs) return [];
  const at = new Map<number, number>();
  const twice = new Set<number>();
  for (let v = 0; v < form.uvs.length / 2; v++) {
    const k = key(form.uvs[v * 2], form.uvs[v * 2 + 1]);
    if (at.has(k)) twice.add(k);
    at.set(k, v);
  }
  const look = (flip: boolean): Pairs => {
    const out: Pairs = [];
    const uvs = shape.uvs as ArrayLike<number>;
    for (let v = 0; v < uvs.length / 2; v++) {
      const k = key(uvs[v * 2], flip ? 1 - uvs[v * 2 + 1] : uvs[v * 2 + 1]);
      const to = at.get(k);
      if (to !== undefined && !twice.has(k)) out.push([v, to]);
    }
    return out;
  };
  const [a, b] = [look(false), look(true)];
  return a.length >= b.length ? a : b;
}

/** By the order of triangles, which formats without UVs keep. */
function pairsByOrder(shape: Shape, form: Form): Pairs {
  const n = shape.triangles.length;
  if (n !== FORM_TRIANGLES.skin * 3 && n !== FORM_TRIANGLES.whole * 3) return [];
  return Array.from({ length: n }, (_, i): [number, number] => [shape.triangles[i], form.indices[i]]);
}

interface Points {
  from: Float64Array;
  to: Float64Array;
}

/** Pairs as points, at most `most` of them, evenly picked. */
function pointsOf(shape: Shape, form: Form, pairs: Pairs, most: number): Points {
  const n = Math.min(most, pairs.length);
  const from = new Float64Array(n * 3);
  const to = new Float64Array(n * 3);
  for (let i = 0; i < n; i++) {
    const [a, b] = pairs[Math.floor((i * pairs.length) / n)];
    for (let k = 0; k < 3; k++) {
      from[i * 3 + k] = shape.positions[a * 3 + k];
      to[i * 3 + k] = form.positions[b * 3 + k];
    }
  }
  return { from, to };
}

/** Distance of every point from where the fit says it should be. */
function residuals({ from, to }: Points, fit: Similarity): Float64Array {
  const m = new Matrix4().makeRotationFromQuaternion(fit.turn).elements;
  const f = fit.factor;
  const out = new Float64Array(from.length / 3);
  for (let i = 0; i < out.length; i++) {
    const [x, y, z] = [from[i * 3], from[i * 3 + 1], from[i * 3 + 2]];
    out[i] = Math.hypot(
      f * (m[0] * x + m[4] * y + m[8] * z) + fit.shift[0] - to[i * 3],
      f * (m[1] * x + m[5] * y + m[9] * z) + fit.shift[1] - to[i * 3 + 1],
      f * (m[2] * x + m[6] * y + m[10] * z) + fit.shift[2] - to[i * 3 + 2],
    );
  }
  return out;
}

const middleOf = (list: Float64Array) => Float64Array.from(list).sort()[list.length >> 1];

const FEW = 600;
const TRIES = 120;
/** Least median of squares: the fit of four pairs that half of all agree with best. (Rousseeuw, JASA 79, 1984.) Seeded. */
function roughFit(points: Points): Similarity | null {
  const random = seededRandom(1);
  const n = points.from.length / 3;
  let best: Similarity | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (let t = 0; t < TRIES; t++) {
    const four = [0, 1, 2, 3].map(() => Math.floor(random() * n));
    const pick = (list: Float64Array) => Float64Array.from(four.flatMap((i) => [list[i * 3], list[i * 3 + 1], list[i * 3 + 2]]));
    const fit = fitSimilarity(pick(points.from), pick(points.to));
    if (!fit) continue;
    const middle = middleOf(residuals(points, fit));
    if (middle < least) [least, best] = [middle, fit];
  }
  return best;
}

/** The fit without what was reshaped: the form may have been carved upon. */
function fitPairs(shape: Shape, form: Form, pairs: Pairs): { fit: Similarity; kept: number } | null {
  const all = pointsOf(shape, form, pairs, pairs.length);
  let fit = fitSimilarity(all.from, all.to);
  if (fit && fit.rms < 1e-5) return { fit, kept: pairs.length };
  fit = roughFit(pointsOf(shape, form, pairs, FEW));
  let kept = 0;
  for (let round = 0; round < 4 && fit; round++) {
    const off = residuals(all, fit);
    const reach = Math.max(3 * middleOf(off), 1e-6);
    const weight = off.map((x) => (x <= reach ? 1 : 0));
    kept = weight.reduce((s, w) => s + w, 0);
    fit = fitSimilarity(all.from, all.to, weight);
  }
  return fit ? { fit, kept } : null;
}

/** Fewer pairs, or a worse fit, and it is not the form. */
const FEWEST = 300;
const WORST_RMS_M = 0.0005;

/** The form in a model, and what of it is what of ours. */
interface Match {
  found: FoundForm;
  rms: number;
  /** Mirrored where the model is. */
  positions: Float32Array;
  pairs: Pairs;
  fit: Similarity;
  form: Form;
}

/** Looks only where a shape has the form's number of triangles or its name. Deterministic; about a second where it does, the first time. */
export const findForm = (model: Model): FoundForm | null => matchForm(model)?.found ?? null;

/** A copy of the form that was re-sculpted elsewhere: how far its vertices stand off, once an accidental size, turn and shift are taken out. */
export interface Sculpt extends FormReturn {
  /** Three numbers a vertex of the form, metres in the head's frame; nought where the copy has it not. */
  offM: Float32Array;
  /** How far the most changed vertex stands off, mm. */
  mostMm: number;
}

/** Under this nothing was sculpted: what files round. */
const ROUNDED_M = 2e-5;

/** null: it is no copy of the form, or has other vertices. */
export function sculptOf(model: Model): Sculpt | null {
  const match = matchForm(model);
  if (!match) return null;
  const { found, positions, pairs, fit, form } = match;
  const e = new Matrix4().makeRotationFromQuaternion(fit.turn).elements;
  const offM = new Float32Array(form.positions.length);
  const known = new Map<string, number>();
  const placeOf = (v: number) => [0, 1, 2].map((k) => form.positions[v * 3 + k].toFixed(7)).join();
  let mostMm = 0;
  for (const [from, to] of pairs) {
    const [x, y, z] = [positions[from * 3], positions[from * 3 + 1], positions[from * 3 + 2]];
    const off = [0, 1, 2].map((k) => fit.factor * (e[k] * x + e[4 + k] * y + e[8 + k] * z) + fit.shift[k] - form.positions[to * 3 + k]);
    const far = Math.hypot(...off);
    if (far < ROUNDED_M) continue;
    mostMm = Math.max(mostMm, far * 1000);
    offM.set(off, to * 3);
    known.set(placeOf(to), to);
  }
  // a vertex that is doubled for its texture goes with its twin
  for (let v = 0; v < offM.length / 3; v++) {
    const twin = known.get(placeOf(v));
    if (twin !== undefined && twin !== v && offM[v * 3] === 0 && offM[v * 3 + 1] === 0 && offM[v * 3 + 2] === 0)
      offM.copyWithin(v * 3, twin * 3, twin * 3 + 3);
  }
  const { size, factor, turnDeg, shiftM, rmsMm, mirrored } = found;
  return { size, factor, turnDeg, shiftM, rmsMm, mirrored, offM, mostMm };
}

function matchForm(model: Model): Match | null {
  const candidate = (mesh: number, primitive: number) => {
    const n = model.meshes[mesh].primitives[primitive].triangles.length / 3;
    return n === FORM_TRIANGLES.skin || n === FORM_TRIANGLES.whole || (n > 5000 && /scaphos.form/i.test(model.meshes[mesh].name));
  };
  const listed = model.meshes.flatMap((m, i) => m.primitives.flatMap((_, k) => (candidate(i, k) ? [[i, k] as const] : [])));
  if (listed.length === 0) return null;
  const posed = posedPrimitives(model, restPose(model), new Matrix4());
  let best: Match | null = null;
  for (const [mesh, primitive] of listed) {
    const at = posed.find((p) => p.mesh === mesh && p.primitive === primitive);
    if (!at) continue;
    const p = model.meshes[mesh].primitives[primitive];
    const shape: Shape = { mesh, primitive, positions: at.positions, triangles: p.triangles, uvs: p.uvs };
    const mirrored = { ...shape, positions: shape.positions.map((x, i) => (i % 3 === 0 ? -x : x)) };
    for (const size of FORM_SIZES) {
      const form = allForms()[size];
      for (const pair of [pairsByUv, pairsByOrder]) {
        // nothing fits better than that
        if (best && best.rms < 1e-5) break;
        const pairs = pair(shape, form);
        if (pairs.length < FEWEST) continue;
        const good = (got: ReturnType<typeof fitPairs>) =>
          got && got.kept >= Math.max(FEWEST, pairs.length / 2) && got.fit.rms <= WORST_RMS_M ? got.fit : null;
        const got = fitPairs(shape, form, pairs);
        const straight = good(got);
        // no turn takes a head onto its mirror image
        const fit = straight ?? (got?.fit.mirrored ? good(fitPairs(mirrored, form, pairs)) : null);
        if (!fit || (best && fit.rms >= best.rms)) continue;
        const found = foundForm(model, mesh, primitive, size, fit, !straight);
        best = { found, rms: fit.rms, positions: (straight ? shape : mirrored).positions, pairs, fit, form };
      }
    }
  }
  return best;
}

/** Three thousandths of a millimetre at a head’s size. */
const QUARTER_RAD = 2e-5;

const tidy = (x: number, digits: number) => {
  const r = Math.round(x * 10 ** digits) / 10 ** digits;
  return r === 0 ? 0 : r;
};

function foundForm(model: Model, mesh: number, primitive: number, size: FormSize, fit: Similarity, mirrored: boolean): FoundForm {
  // what rounding in files leaves of a quarter turn is a quarter turn
  const quarter = quarterQuaternion(nearestQuarter(fit.turn));
  const e = yawPitchRoll(quarter.angleTo(fit.turn) < QUARTER_RAD ? quarter : fit.turn);
  const deg = (x: number) => tidy((x * 180) / Math.PI, 6);
  // a thousandth of a millimetre and of what rounding in files leaves
  const near = (x: number, whole: number, by: number) => (Math.abs(x - whole) < by ? whole : x);
  const factor = [1, 0.001, 0.01, 0.0254, 10, 100, 1000].reduce((f, usual) => near(f, usual, usual * 2e-6), fit.factor);
  const turn = deg;
  // the eyes of a form in two shapes stand beside its skin
  const eyes = model.meshes[mesh].primitives.flatMap((p, k): [number, number][] =>
    k !== primitive && p.triangles.length / 3 === FORM_TRIANGLES.whole - FORM_TRIANGLES.skin ? [[mesh, k]] : [],
  );
  const beside =
    eyes.length > 0
      ? eyes
      : model.meshes.flatMap((m, i): [number, number][] =>
          m.primitives.flatMap((p, k): [number, number][] =>
            i !== mesh && p.triangles.length / 3 === FORM_TRIANGLES.whole - FORM_TRIANGLES.skin ? [[i, k]] : [],
          ),
        );
  return {
    size,
    factor: Number(factor.toPrecision(9)),
    turnDeg: { yaw: turn(e.y), pitch: turn(e.x), roll: turn(e.z) },
    shiftM: fit.shift.map((x) => tidy(Math.abs(x) < 1e-6 ? 0 : x, 9)) as [number, number, number],
    rmsMm: tidy(fit.rms * 1000, 4),
    mirrored,
    shapes: [[mesh, primitive], ...beside],
  };
}
