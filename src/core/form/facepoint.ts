/**
 * A point of a form's skin with a frame of its own: three vertices and their shares, so that it goes along with expression, with the
 * neck's bend, and from form to form. At rest +Z points out of the skin and +Y lies in it, as near to the head's up as it can.
 */
import { Matrix4, Vector3 } from 'three';
import type { FaceWeights } from '../words/face';
import type { LandmarkName } from '../words/landmarks';
import { FaceMotion, isAtRest } from './facemotion';
import type { Form } from './form';
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
