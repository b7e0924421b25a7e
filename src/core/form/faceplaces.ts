/** Places of a form's skin as they are pressed, and as one says them. */
import { Ray, Triangle, Vector3 } from 'three';
import type { LandmarkName } from '../words/landmarks';
import { type FacePlace, facePoint } from './facepoint';
import type { Form } from './form';
import { nearestLandmark } from './near';

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
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
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
  const [at, p] = [new Vector3(), new Vector3()];
  point.vertices.forEach((v, k) => {
    at.addScaledVector(p.fromArray(form.positions, v * 3), point.bary[k]);
  });
  const landmark = nearestLandmark(form, at.toArray());
  if (!landmark) return null;
  const apartM = at.distanceTo(p.fromArray(form.landmarks[landmark].position));
  return { landmark, apartM, side: Math.abs(at.x) < 5e-4 ? 'middle' : at.x > 0 ? 'left' : 'right' };
}
