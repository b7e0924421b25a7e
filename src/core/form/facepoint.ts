/**
 * A point of a form's skin with a frame of its own: three vertices and their shares, so that it goes along with expression, with the
 * neck's bend, and from form to form. At rest +Z points out of the skin and +Y lies in it, as near to the head's up as it can.
 */
import { Matrix4, Ray, Triangle, Vector3 } from 'three';
import type { FaceWeights } from '../words/face';
import type { LandmarkName } from '../words/landmarks';
import { FaceMotion, isAtRest } from './expressions';
import type { Form } from './form';
import { nearestLandmark } from './near';
import { type BentBones, bendShares } from './skeleton';

/** A triangle of the form with shares of its corners that sum to 1, or a landmark. */
export interface FacePlace {
  landmark?: LandmarkName;
  triangle?: number;
  bary?: readonly [number, number, number];
}

export interface FacePoint {
  vertices: readonly [number, number, number];
  bary: readonly [number, number, number];
  /** From the triangle's own frame to the point's. */
  inTriangle: Matrix4;
}

const corners = [new Vector3(), new Vector3(), new Vector3()] as const;
const _e = /* @__PURE__ */ new Vector3();
const _f = /* @__PURE__ */ new Vector3();
const _n = /* @__PURE__ */ new Vector3();
const _o = /* @__PURE__ */ new Vector3();

/** Origin at the point, X along the first edge, Z the triangle's normal. */
function triangleFrame(bary: FacePoint['bary'], out: Matrix4): Matrix4 {
  const [a, b, c] = corners;
  _e.subVectors(b, a).normalize();
  _n.crossVectors(_e, _f.subVectors(c, a)).normalize();
  _f.crossVectors(_n, _e);
  _o.set(0, 0, 0).addScaledVector(a, bary[0]).addScaledVector(b, bary[1]).addScaledVector(c, bary[2]);
  return out.makeBasis(_e, _f, _n).setPosition(_o);
}

/** null: the form has no such triangle. */
export function facePoint(form: Form, place: FacePlace): FacePoint | null {
  const found = place.landmark ? atLandmark(form, place.landmark) : atTriangle(form, place);
  if (!found) return null;
  const { vertices, bary } = found;
  vertices.forEach((v, k) => {
    corners[k].fromArray(form.positions, v * 3);
  });
  const triangle = triangleFrame(bary, new Matrix4());
  const out = new Vector3();
  vertices.forEach((v, k) => {
    out.addScaledVector(_o.fromArray(form.normals, v * 3), bary[k]);
  });
  out.normalize();
  // where the skin looks up, what is behind is up
  const up = Math.abs(out.y) > 0.999 ? new Vector3(0, 0, -Math.sign(out.y)) : new Vector3(0, 1, 0);
  const right = up.cross(out).normalize();
  const rest = new Matrix4().makeBasis(right, new Vector3().crossVectors(out, right), out).copyPosition(triangle);
  return { vertices, bary, inTriangle: triangle.invert().multiply(rest) };
}

type Place = Pick<FacePoint, 'vertices' | 'bary'>;

function atTriangle({ indices }: Form, { triangle = -1, bary = [0, 0, 0] }: FacePlace): Place | null {
  const sum = bary[0] + bary[1] + bary[2];
  if (!(triangle >= 0 && triangle * 3 + 2 < indices.length && sum > 1e-9)) return null;
  const [a, b, c] = indices.subarray(triangle * 3, triangle * 3 + 3);
  return { vertices: [a, b, c], bary: [bary[0] / sum, bary[1] / sum, bary[2] / sum] };
}

function atLandmark({ indices, landmarks }: Form, name: LandmarkName): Place | null {
  const at = indices.indexOf(landmarks[name].index);
  if (at < 0) return null;
  const first = at - (at % 3);
  const vertices: [number, number, number] = [indices[first], indices[first + 1], indices[first + 2]];
  return { vertices, bary: [at % 3 === 0 ? 1 : 0, at % 3 === 1 ? 1 : 0, at % 3 === 2 ? 1 : 0] };
}

const _mm = new Float64Array(3);
const _was = /* @__PURE__ */ new Vector3();

/** World from the point, of a form that wears an expression and is bent. */
export function facePointFrame(form: Form, point: FacePoint, weights: FaceWeights, bones: BentBones, out: Matrix4): Matrix4 {
  const motion = isAtRest(weights) ? null : new FaceMotion(form.face, weights);
  point.vertices.forEach((v, k) => {
    for (let i = 0; i < 3; i++) _mm[i] = form.positions[v * 3 + i] * 1000;
    motion?.move(v, _mm, 0);
    const p = corners[k].set(_mm[0], _mm[1], _mm[2]).divideScalar(1000);
    const [neck, bust] = sharesOf(form, v);
    if (neck === 0 && bust === 0) {
      p.applyMatrix4(bones.head);
      return;
    }
    _was.copy(p);
    p.set(0, 0, 0)
      .addScaledVector(_o.copy(_was).applyMatrix4(bones.head), 1 - neck - bust)
      .addScaledVector(_o.copy(_was).applyMatrix4(bones.neck), neck)
      .addScaledVector(_o.copy(_was).applyMatrix4(bones.bust), bust);
  });
  return triangleFrame(point.bary, out).multiply(point.inTriangle);
}

const BENDS = new Set(['neck', 'bust', 'cut']);
/** Of neck and bust: only what lies on them asks, for the shares of a whole form take a while. */
function sharesOf(form: Form, v: number): readonly [number, number] {
  if (!BENDS.has(form.regions.names[form.regions.ids[v]])) return [0, 0];
  const shares = bendShares(form);
  return [shares[v * 2], shares[v * 2 + 1]];
}

/**
 * The place of the skin that a ray meets first from before it.
 * @param positions the form's vertices as they are now, metres; not a number where one is not shown
 */
export function placeUnder(
  form: Pick<Form, 'indices' | 'groups'>,
  positions: ArrayLike<number>,
  from: Vector3,
  way: Vector3,
): FacePlace | null {
  const ray = new Ray(from, way.clone().normalize());
  const hit = new Vector3();
  let nearest = Number.POSITIVE_INFINITY;
  let found: FacePlace | null = null;
  const [a, b, c] = corners;
  for (let t = 0; t < form.indices.length; t += 3) {
    a.fromArray(positions, form.indices[t] * 3);
    b.fromArray(positions, form.indices[t + 1] * 3);
    c.fromArray(positions, form.indices[t + 2] * 3);
    if (!ray.intersectTriangle(a, b, c, true, hit)) continue;
    const far = hit.distanceTo(from);
    if (!(far < nearest)) continue;
    const bary = Triangle.getBarycoord(hit, a, b, c, new Vector3());
    if (!bary) continue;
    nearest = far;
    found = { triangle: t / 3, bary: tidyShares(bary) };
  }
  return found;
}

/** To a millionth, summing to 1. */
function tidyShares({ x, y }: Vector3): [number, number, number] {
  const round = (s: number) => Math.round(Math.min(1, Math.max(0, s)) * 1e6) / 1e6;
  const [a, b] = [round(x), round(y)];
  return [a, Math.min(b, 1 - a), round(1 - a - Math.min(b, 1 - a))];
}

/** The landmark that a place of the skin is nearest to at rest, and how far that is, metres. */
export function nearFacePlace(
  form: Form,
  place: FacePlace,
): { landmark: LandmarkName; apartM: number; side: 'left' | 'right' | 'middle' } | null {
  const point = facePoint(form, place);
  if (!point) return null;
  const at = new Vector3();
  point.vertices.forEach((v, k) => {
    at.addScaledVector(_o.fromArray(form.positions, v * 3), point.bary[k]);
  });
  const landmark = nearestLandmark(form, at.toArray());
  if (!landmark) return null;
  const apartM = at.distanceTo(_o.fromArray(form.landmarks[landmark].position));
  return { landmark, apartM, side: Math.abs(at.x) < 5e-4 ? 'middle' : at.x > 0 ? 'left' : 'right' };
}
