/**
 * Measures that single things need (temples of spectacles, pads, hats, collars), laid over a form that has the main ones: each moves its
 * own neighbourhood along one direction, by as much as brings the measure; none moves a landmark that a main measure runs to.
 */
import type { LandmarkName } from '../words/landmarks';
import type { FormBase } from './basemesh';
import { RG } from './half';
import { FINER, FINER_ENDS, type FinerName, isAngle } from './measures';
import { jointsBy } from './neckjoints';
import { hullLength } from './tape';
import { D2R, dist, dot, norm, smooth, sub, type Vec3 } from './vec';

/** What measures are read off: a base, or a form by `asMarked`. */
interface Marked {
  landmarks: Readonly<Record<LandmarkName, number>>;
  indices: Uint32Array;
  formTriangles: number;
}

/** Of a form what its measures are read off. */
interface Shaped {
  positions: ArrayLike<number>;
  landmarks: Readonly<Record<LandmarkName, { index: number }>>;
  indices: Uint32Array;
  groups: readonly { count: number }[];
}

/** Which vertices a measure moves, and which way by a millimetre of it. */
interface Field {
  vertices: number[];
  by: number[];
}

const fieldsOf = new WeakMap<FormBase, Record<FinerName, Field>>();

/** Millimetres to the nearest vertex of an ear, of the left half; far ones are not looked at. */
function earDistances(b: FormBase, reach: number): Map<number, number> {
  const ear: number[] = [];
  for (let v = 0; v < b.halfCount; v++) if (b.region[v] === RG.ear) ear.push(v);
  const out = new Map<number, number>();
  for (let v = 0; v < b.halfCount; v++) {
    if (b.pos[v][0] < 35) continue;
    let least = reach;
    if (b.region[v] === RG.ear) least = 0;
    else for (const e of ear) least = Math.min(least, dist(b.pos[v], b.pos[e]));
    if (least < reach) out.set(v, least);
  }
  return out;
}

function makeFields(b: FormBase): Record<FinerName, Field> {
  const at = (name: keyof FormBase['landmarks']) => b.pos[b.landmarks[name]];
  const field = (f: (p: Vec3, v: number) => Vec3 | null): Field => {
    const out: Field = { vertices: [], by: [] };
    for (let v = 0; v < b.halfCount; v++) {
      const d = b.region[v] === RG.eye ? null : f(b.pos[v], v);
      if (!d || (d[0] === 0 && d[1] === 0 && d[2] === 0)) continue;
      const middle = b.side[v] === 0;
      out.vertices.push(v);
      out.by.push(middle ? 0 : d[0], d[1], d[2]);
      if (middle) continue;
      out.vertices.push(b.mirror[v]);
      out.by.push(-d[0], d[1], d[2]);
    }
    return out;
  };
  const sideways = (reach: number, ...names: ('templeL' | 'maxillofrontaleL' | 'padSeatL')[]) => {
    const places = names.map(at);
    return field((p, v) => {
      const d = Math.min(...places.map((c) => dist(p, c)));
      const held = (1 - b.eyeWeight[v]) * smooth(0, 6, p[0]);
      return d < reach ? [smooth(reach, reach * 0.15, d) * held, 0, 0] : null;
    });
  };
  const ears = earDistances(b, 14);
  const onEar = (v: number) => {
    const d = ears.get(v);
    return d === undefined ? 0 : smooth(14, 0, d);
  };
  const root = at('otobasionSuperiorL')[1];
  const [top, lobe, crown] = [at('superauraleL')[1], at('subauraleL')[1], at('vertex')[1]];
  const { axis, from } = neckPlane(b, (v) => b.pos[v]);
  const nape = at('cervicale');
  return {
    browToCrown: field(([, y]) => (y > 58 ? [0, smooth(58, crown, y), 0] : null)),
    templeBreadth: sideways(24, 'templeL'),
    // its root and its hole stay: the part above grows up, the lobe down
    earLength: field(([, y], v) => [0, onEar(v) * (y > root ? (y - root) / (top - root) : y < 0 ? -y / lobe : 0), 0]),
    // top and lobe stay
    earHeight: field(([, y], v) => [0, onEar(v) * (y < root ? smooth(0, root, y) : smooth(top, root, y)), 0]),
    // its flanks open by what they opened by
    noseBridgeBreadth: sideways(9, 'maxillofrontaleL', 'padSeatL'),
    noseBridgeAngle: sideways(9, 'padSeatL'),
    neckGirth: field((p) => {
      const over = dot(sub(p, from), axis);
      const w = over > 0 ? smooth(24, 0, over) : smooth(-28, 0, over);
      // the nape's bone, from which the joints of the neck are told, stays
      const held = smooth(5, 24, dist(p, nape));
      const out = norm([p[0], 0, p[2] + 22]);
      return w > 0 && held > 0 ? [out[0] * w * held, 0, out[2] * w * held] : null;
    }),
  };
}

/** Where a neck is measured round: through the landmark below the larynx, across the line of its joints. */
function neckPlane(b: Marked, at: (v: number) => Vec3): { axis: Vec3; from: Vec3 } {
  const metres = (v: number) => at(v).map((mm) => mm / 1000) as Vec3;
  const { neckBaseM, neckTopM } = jointsBy(metres(b.landmarks.cervicale), metres(b.landmarks.gonionL), [0, 0, 0]);
  return { axis: norm(sub([...neckTopM], [...neckBaseM])), from: at(b.landmarks.infrathyroid) };
}

function neckTape(b: Marked, pos: ArrayLike<number>): number {
  const place = (v: number): Vec3 => [pos[v * 3], pos[v * 3 + 1], pos[v * 3 + 2]];
  const { axis, from } = neckPlane(b, place);
  const aft = norm([0, axis[2], -axis[1]]);
  const points: [number, number][] = [];
  for (let t = 0; t < b.formTriangles * 3; t += 3) {
    if (Math.abs(pos[b.indices[t] * 3 + 1] - from[1]) > 70) continue;
    const corners = [0, 1, 2].map((k) => place(b.indices[t + k]));
    const over = corners.map((p) => dot(sub(p, from), axis));
    for (let k = 0; k < 3; k++) {
      const [a, c] = [over[k], over[(k + 1) % 3]];
      if (a > 0 === c > 0) continue;
      const [p, q] = [corners[k], corners[(k + 1) % 3]];
      const cut = p.map((x, i) => x + ((q[i] - x) * a) / (a - c)) as Vec3;
      points.push([cut[0], dot(sub(cut, from), aft)]);
    }
  }
  return hullLength(points);
}

/** A finer measure of a form, mm or degrees. @param pos of its vertices, mm */
function finerMeasure(b: Marked, pos: ArrayLike<number>, name: FinerName): number {
  if (name === 'neckGirth') return neckTape(b, pos);
  const at = (landmark: LandmarkName): Vec3 => {
    const v = b.landmarks[landmark] * 3;
    return [pos[v], pos[v + 1], pos[v + 2]];
  };
  if (name === 'noseBridgeAngle') {
    const [upper, lower] = [at('maxillofrontaleL'), at('padSeatL')];
    return Math.atan2(lower[0] - upper[0], upper[1] - lower[1]) / D2R;
  }
  const [a, c] = FINER_ENDS[name];
  return dist(at(a), at(c));
}
/** All finer measures of a form as it is. */
export function finerOf(form: Shaped): Record<FinerName, number> {
  const mm = new Float64Array(form.positions.length);
  for (let i = 0; i < mm.length; i++) mm[i] = form.positions[i] * 1000;
  const marked: Marked = {
    landmarks: Object.fromEntries(Object.entries(form.landmarks).map(([name, { index }]) => [name, index])) as Marked['landmarks'],
    indices: form.indices,
    formTriangles: form.groups[0].count / 3,
  };
  return Object.fromEntries(FINER.map((name) => [name, finerMeasure(marked, mm, name)])) as Record<FinerName, number>;
}

function push({ vertices, by }: Field, pos: Float64Array, amount: number): void {
  for (let i = 0; i < vertices.length; i++) for (let k = 0; k < 3; k++) pos[vertices[i] * 3 + k] += by[i * 3 + k] * amount;
}

/** Nearer than this nobody measures: mm, degrees. */
const NEAR = 1e-4;

/** Brings a form to the finer measures that are asked for, in place; each by secant, again until they hold together. */
export function applyFiner(b: FormBase, pos: Float64Array, asked: Partial<Record<FinerName, number>>): void {
  const names = FINER.filter((name) => asked[name] !== undefined);
  if (names.length === 0) return;
  const fields = fieldsOf.get(b) ?? makeFields(b);
  fieldsOf.set(b, fields);
  for (let round = 0; round < 8; round++) {
    let off = 0;
    for (const name of names) {
      const want = asked[name] as number;
      const have = finerMeasure(b, pos, name);
      const short = want - have;
      off = Math.max(off, Math.abs(short));
      if (Math.abs(short) < NEAR) continue;
      const step = isAngle(name) ? 0.1 : Math.sign(short) * Math.min(1, Math.abs(short));
      push(fields[name], pos, step);
      const gained = finerMeasure(b, pos, name) - have;
      push(fields[name], pos, (short / (gained || 1e-9) - 1) * step);
    }
    if (off < NEAR) return;
  }
}
