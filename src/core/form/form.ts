import { type Expression, type FaceWeights, weightsOf } from '../words/face';
import type { LandmarkName } from '../words/landmarks';
import type { FormBase } from './basemesh';
import { applyExpression, type FaceRig } from './facemotion';
import { applyFiner } from './finer';
import { REGIONS } from './half';
import { FINER, type FinerName, type FormSize, isAngle, MEASURES, type Measures, PRESETS } from './measures';
import { computeNormals } from './normals';
import { clamp } from './vec';
import { circumference, finish, warp } from './warp';

export interface Form {
  /** Metres, head frame, three numbers a vertex. */
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array;
  /** Linear RGB. */
  colors: Float32Array;
  /** The same array for every form of one base: topology is fixed. */
  indices: Uint32Array;
  /** Two index ranges: the form and its eyeballs. */
  groups: { name: 'form' | 'eyes'; start: number; count: number }[];
  /** Positions in metres. */
  landmarks: Record<LandmarkName, { index: number; position: [number, number, number] }>;
  regions: { names: readonly string[]; ids: Uint8Array };
  /** What moves its face. */
  face: FaceRig;
  /** Tape round the head, mm: what was reached, which saturates outside about 531–584 for size M. */
  headCircumferenceMm: number;
}

export class FormError extends Error {
  readonly code = 'form/measure';
}

/** Millimetres each measure must lie in for the warp to stay free of folds. */
const RANGE: readonly [number, number] = [10, 700];

function resolveMeasures(asked: FormSize | Partial<Measures>): Measures {
  const m: Measures = typeof asked === 'string' ? { ...PRESETS[asked] } : { ...PRESETS.M, headCircumference: undefined, ...asked };
  for (const k of MEASURES)
    if (!(m[k] >= RANGE[0] && m[k] <= RANGE[1])) throw new FormError(`makeForm: ${k} must be ${RANGE[0]}–${RANGE[1]} mm; got ${m[k]}.`);
  for (const [k, value] of Object.entries(finerAsked(m)) as [FinerName, number][]) {
    const [least, most, unit] = isAngle(k) ? [0, 60, '°'] : [4, RANGE[1], ' mm'];
    if (!(value >= least && value <= most)) throw new FormError(`makeForm: ${k} must be ${least}–${most}${unit}; got ${value}.`);
  }
  return m;
}
const finerAsked = (m: Measures): Partial<Record<FinerName, number>> =>
  Object.fromEntries(FINER.flatMap((k) => (m[k] === undefined ? [] : [[k, m[k]]])));

/** Finds the cranial fullness that gives the asked circumference, by secant. */
function shapeToTape(base: FormBase, m: Measures, raw: Float64Array): { pos: Float64Array; tape: number } {
  let pos = finish(base, m, raw, 0);
  let tape = circumference(base, pos);
  const want = m.headCircumference;
  if (!want) return { pos, tape };
  let f0 = 0;
  let tape0 = tape;
  let f1 = 3;
  for (let k = 0; k < 12; k++) {
    pos = finish(base, m, raw, f1);
    tape = circumference(base, pos);
    if (Math.abs(tape - want) < 1e-9) break;
    const f2 = clamp(f1 + ((want - tape) * (f1 - f0)) / (tape - tape0 || 1e-9), -8, 9);
    if (f2 === f1) break;
    f0 = f1;
    tape0 = tape;
    f1 = f2;
  }
  return { pos, tape };
}

/**
 * A head-and-bust form of the given size or measures (mm; missing ones from M), wearing an expression.
 * Measures are exact to rounding on the neutral form. 15–60 ms.
 * @throws {FormError} a measure that is not a number from 10 to 700 mm.
 */
export function makeForm(base: FormBase, asked: FormSize | Partial<Measures> = 'M', expression: Expression = {}): Form {
  const m = resolveMeasures(asked);
  const { raw, eyeShift } = warp(base, m);
  const { pos, tape } = shapeToTape(base, m, raw);
  applyFiner(base, pos, finerAsked(m));
  const face: FaceRig = { fields: base.fields, scale: m.headLength / base.measures.headLength, eyeShift };
  applyExpression(face, pos, weightsOf(expression));
  const normals = computeNormals(pos, base.indices, base.weld);
  const positions = new Float32Array(pos.length);
  for (let i = 0; i < pos.length; i++) positions[i] = pos[i] / 1000;
  const landmarks = {} as Form['landmarks'];
  for (const [name, v] of Object.entries(base.landmarks) as [LandmarkName, number][])
    landmarks[name] = { index: v, position: [pos[v * 3] / 1000, pos[v * 3 + 1] / 1000, pos[v * 3 + 2] / 1000] };
  const formCount = base.formTriangles * 3;
  return {
    positions,
    normals,
    uvs: base.uvs,
    colors: base.colors,
    indices: base.indices,
    groups: [
      { name: 'form', start: 0, count: formCount },
      { name: 'eyes', start: formCount, count: base.indices.length - formCount },
    ],
    landmarks,
    regions: { names: REGIONS, ids: Uint8Array.from(base.region) },
    face,
    headCircumferenceMm: tape,
  };
}

/** What a form's vertices are while it wears an expression: positions and normals as in `Form`. Some milliseconds. */
export function expressForm(form: Form, weights: FaceWeights, out: { positions: Float32Array; normals: Float32Array }): void {
  const pos = new Float64Array(form.positions.length);
  for (let i = 0; i < pos.length; i++) pos[i] = form.positions[i] * 1000;
  applyExpression(form.face, pos, weights);
  for (let i = 0; i < pos.length; i++) out.positions[i] = pos[i] / 1000;
  const { triangles, vertices } = movingOf(form);
  const moved = computeNormals(pos, triangles, form.face.fields.weld);
  out.normals.set(form.normals);
  for (const v of vertices) for (let k = v * 3; k < v * 3 + 3; k++) out.normals[k] = moved[k];
}

/** Vertices whose normals a face may turn, and all triangles round them; once a topology. */
const moving = new WeakMap<Uint32Array, { triangles: Uint32Array; vertices: Uint32Array }>();
function movingOf({ indices, face }: Form): { triangles: Uint32Array; vertices: Uint32Array } {
  const known = moving.get(indices);
  if (known) return known;
  const { still, weld } = face.fields;
  const turned = new Uint8Array(still.length);
  const corners = (t: number) => [indices[t], indices[t + 1], indices[t + 2]];
  for (let t = 0; t < indices.length; t += 3) {
    const v = corners(t);
    if (v.some((q) => !still[q])) for (const q of v) turned[weld[q]] = 1;
  }
  const triangles: number[] = [];
  for (let t = 0; t < indices.length; t += 3) {
    const v = corners(t);
    if (v.some((q) => turned[weld[q]])) triangles.push(...v);
  }
  const vertices = [...still.keys()].filter((v) => turned[weld[v]]);
  const made = { triangles: Uint32Array.from(triangles), vertices: Uint32Array.from(vertices) };
  moving.set(indices, made);
  return made;
}
