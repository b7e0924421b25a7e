/** Who a thing is fitted to: one form at rest, its surface and its landmarks. */
import { Vector3 } from 'three';
import type { Form } from '../../form/form';
import type { LandmarkName } from '../../words/landmarks';
import { CoarseField, type Distances, REACH_M, SurfaceField } from '../field';

export interface Head {
  form: Form;
  /** Without the eyeballs, which lie behind lids that are open to the back. */
  field: Distances;
  at: (name: LandmarkName) => readonly [number, number, number];
}

/** Exact where a thing may touch, else told by the grid. */
class FineField implements Distances {
  constructor(
    private readonly coarse: Distances,
    private readonly exact: Distances,
  ) {}
  distance(x: number, y: number, z: number): number {
    const d = this.coarse.distance(x, y, z);
    return Math.abs(d) > MAY_TOUCH_M ? d : this.exact.distance(x, y, z);
  }
}
const MAY_TOUCH_M = 0.01;

/** One to look for ways with, and one to settle with. */
export function headOf(form: Form): { coarse: Head; exact: Head } {
  const end = form.groups.find((g) => g.name === 'eyes')?.start ?? form.indices.length;
  const field = new SurfaceField(form.positions.slice(), form.indices.slice(0, end));
  const coarse = new CoarseField(field, REACH_M);
  const at: Head['at'] = (name) => form.landmarks[name].position;
  return { coarse: { form, at, field: coarse }, exact: { form, at, field: new FineField(coarse, field) } };
}

/** The least signed distance of places, three numbers each, metres. */
export function leastOf(head: Head, places: ArrayLike<number>): number {
  let least = Infinity;
  for (let i = 0; i < places.length; i += 3) least = Math.min(least, head.field.distance(places[i], places[i + 1], places[i + 2]));
  return least;
}

/** From a place along a way to where the skin is, by steps that cannot leap over it; null: it is not met within 0.4 m. */
export function skinAlong(head: Head, from: readonly [number, number, number], along: readonly [number, number, number]): Vector3 | null {
  const p = new Vector3(...from);
  const way = new Vector3(...along);
  for (let gone = 0; gone < 0.4; ) {
    const d = head.field.distance(p.x, p.y, p.z);
    if (d < 1e-5) return p;
    p.addScaledVector(way, d);
    gone += d;
  }
  return null;
}
