/** Rings, gems and beads at a place of the skin: a ring goes through it, half of it before the skin; what is flat or round lies on it. */
import { Matrix3, Matrix4, Quaternion, Vector3 } from 'three';
import { type FacePlace, facePoint, facePointFrame } from '../../../form/facepoint';
import type { Form } from '../../../form/form';
import { unitNear } from '../../../model/lie/units';
import { type Doubt, mm, within } from '../attempt';
import type { Onto } from '../stand';
import type { Thing } from '../thing';

/** Outer breadth of rings in lip, nose and brow, and of gems on the skin, mm (*common practice*). */
const USUAL_MM = { ring: 10, gem: 5 };
const LIKELY_M = { ring: [0.006, 0.03], gem: [0.0015, 0.03] } as const;
/** Spreads this alike are the same; a third one as small as this is flat. */
const ALIKE = 0.85;
const FLAT = 0.75;
/** Ways in a ring's plane that are tried, and how many must meet it: one that is open is a ring too. */
const WAYS = 24;
const ROUND = 18;
/** A ring's two spreads are no less alike, with a bead or open. */
const LONG = 0.45;
/** Off the circle by this, of its radius, the wall is not the ring's. */
const BULGES = 0.15;
/** A ring with a bead has its middle aside by this, of its size. */
const BEADED = 0.02;

interface Shape {
  is: 'ring' | 'gem';
  words: string;
  /** In the thing: what comes to the skin's point; its out, and its side. */
  at: Vector3;
  out: Vector3;
  side: Vector3;
  /** In the thing's size. */
  breadth: number;
}

/** Middle and radius by least squares of (x² + y²) = 2ax + 2by + c (Kåsa 1976, from memory). */
function circleThrough(points: readonly (readonly [number, number])[]): [number, number, number] {
  const m = new Matrix3();
  const e = m.elements.fill(0);
  const right = new Vector3();
  for (const [x, y] of points) {
    const row = [2 * x, 2 * y, 1];
    for (let i = 0; i < 3; i++) for (let k = 0; k < 3; k++) e[k * 3 + i] += row[i] * row[k];
    right.addScaledVector(new Vector3(...row), x * x + y * y);
  }
  const { x, y, z } = right.applyMatrix3(m.invert());
  return [x, y, Math.sqrt(Math.max(0, z + x * x + y * y))];
}

/** A hole in the middle with a wall round it. */
function ringOf(thing: Thing): Shape | null {
  const [a, b, through] = thing.axes;
  const [s0, s1] = thing.spreads;
  if (s1 < LONG * s0) return null;
  const middle = new Vector3();
  if ([1, -1].some((k) => Number.isFinite(thing.meets(middle, through.clone().multiplyScalar(k))))) return null;
  const wall: [number, number][] = [];
  for (let i = 0; i < WAYS; i++) {
    const angle = (i / WAYS) * 2 * Math.PI;
    const way = a.clone().multiplyScalar(Math.cos(angle)).addScaledVector(b, Math.sin(angle));
    const far = thing.meets(middle, way);
    if (Number.isFinite(far)) wall.push([far * Math.cos(angle), far * Math.sin(angle)]);
  }
  if (wall.length < ROUND) return null;
  const [x, y, r] = circleThrough(wall);
  // where a bead is, the wall is nearer
  const [cx, cy] = circleThrough(wall.filter(([u, v]) => Math.abs(Math.hypot(u - x, v - y) - r) < BULGES * r));
  const centre = a.clone().multiplyScalar(cx).addScaledVector(b, cy);
  let reach = 0;
  const p = new Vector3();
  for (let i = 0; i < thing.points.length; i += 3) {
    p.fromArray(thing.points, i).sub(centre);
    reach = Math.max(reach, p.addScaledVector(through, -p.dot(through)).length());
  }
  // a bead is before the skin; without one any way round is as good
  const bead = centre.clone().negate();
  bead.addScaledVector(through, -bead.dot(through));
  const out = bead.length() > BEADED ? bead.normalize() : a.clone();
  return { is: 'ring', words: 'ring', at: centre, out, side: through.clone(), breadth: 2 * reach };
}

/** What is flat lies on its flat side, what is round on any. */
function gemOf(thing: Thing): Shape | null {
  const [a, b, thin] = thing.axes;
  const [s0, s1, s2] = thing.spreads;
  const round = s2 > ALIKE * s0;
  if (!round && (s1 < ALIKE * s0 || s2 > FLAT * s0)) return null;
  const out = thin.clone();
  const reach = (way: Vector3) => {
    let most = 0;
    const p = new Vector3();
    for (let i = 0; i < thing.corners.length; i += 3) most = Math.max(most, p.fromArray(thing.corners, i).dot(way));
    return most;
  };
  // of a dome more of the surface is by its foot
  if (reach(out) < reach(out.clone().negate())) out.negate();
  const foot = out.clone().multiplyScalar(-reach(out.clone().negate()));
  const breadth = Math.max(...[a, b].map((w) => reach(w) + reach(w.clone().negate())));
  return { is: 'gem', words: round ? 'bead' : 'flat gem', at: foot, out, side: a.clone(), breadth };
}

export interface OrnamentFit {
  onto: Onto;
  pair: { name: string; modelM: [number, number, number]; formM: [number, number, number] };
  limit: string;
  doubts: Doubt[];
}

/** @returns a sentence: why it cannot be told how it lies on skin */
export function fitOrnament(thing: Thing, form: Form, place: FacePlace, gapM: number, keepSize: boolean): OrnamentFit | string {
  const point = facePoint(form, place);
  if (!point) return 'The form has no such place.';
  const still = new Matrix4();
  const skin = facePointFrame(form, point, {}, { head: still, neck: still, bust: still }, new Matrix4());
  const shape = ringOf(thing) ?? gemOf(thing);
  if (!shape)
    return 'It is neither a ring nor flat nor round: turn it by hand, or press its place with what goes into the skin at its origin.';
  const broadMm = shape.breadth * thing.sizeM * 1000;
  const factor = keepSize ? 1 : unitNear(broadMm, USUAL_MM[shape.is]);
  const [side, up, out] = [new Vector3(), new Vector3(), new Vector3()];
  skin.extractBasis(side, up, out);
  const own = new Matrix4().makeBasis(shape.side, new Vector3().crossVectors(shape.out, shape.side), shape.out);
  const turn = new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(side, up, out).multiply(own.transpose()));
  const modelM = shape.at.clone().multiplyScalar(thing.sizeM).add(thing.middleM);
  const to = new Vector3().setFromMatrixPosition(skin);
  if (shape.is === 'gem') to.addScaledVector(out, gapM);
  const shiftM = to.clone().sub(modelM.clone().multiplyScalar(factor).applyQuaternion(turn));
  const broadM = (broadMm * factor) / 1000;
  return {
    onto: { factor, turn, shiftM },
    pair: { name: shape.is === 'ring' ? 'middle of the ring' : 'foot', modelM: modelM.toArray(), formM: to.toArray() },
    limit:
      shape.is === 'ring'
        ? `A ring of ${mm(broadM)}: half of it is before the skin, its plane upright.`
        : `A ${shape.words} of ${mm(broadM)}: its foot lies on the skin.`,
    doubts: keepSize ? [] : within(broadM, LIKELY_M[shape.is], (x) => `It would be ${mm(x)} broad.`),
  };
}
