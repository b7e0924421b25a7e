/** Where the places of a face window are on a form at rest: a grid over the region, laid onto what of the face is foremost there. */
import { type Grid, layOnto } from '../math/layonto';
import { type PatchRegion, WINDOWS } from '../words/windows';
import type { Form } from './form';

/** An eye so far off looks along parallel ways, metres. */
const FAR_M = 1_000;

/** Places of a grid over a region in the head's frame, three numbers each, metres; row after row from the lower side, from the wearer's right. */
export function windowPlaces(form: Form, region: PatchRegion, grid: Grid): Float32Array {
  const { across, wide, up, sizeM } = WINDOWS[region];
  const [p, q] = across.map((name) => form.landmarks[name].position);
  const breadth = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) * wide;
  const height = (breadth * sizeM[1]) / sizeM[0];
  const middle = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2 + up * height, (p[2] + q[2]) / 2];
  const there = form.positions.map((x, i) => x - middle[i % 3]);
  const size: [number, number] = [breadth, height];
  const depths = layOnto([{ positions: there, triangles: form.indices }], grid, size, [0, 0, FAR_M]);
  const out = new Float32Array((grid.across + 1) * (grid.up + 1) * 3);
  for (let v = 0; v < out.length / 3; v++) {
    const [s, t] = [(v % (grid.across + 1)) / grid.across - 0.5, Math.floor(v / (grid.across + 1)) / grid.up - 0.5];
    // beside the face there is only what is behind it
    const z = Number.isNaN(depths[v]) ? 0 : depths[v];
    out.set([middle[0] + s * breadth, middle[1] + t * height, middle[2] + z], v * 3);
  }
  return out;
}
