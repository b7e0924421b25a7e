/** A form's triangles for pictures of few pixels, where a software renderer spends its time a triangle and not a pixel. */
import { MeshoptSimplifier } from 'meshoptimizer';
import type { Form } from './form';

/** Of a form's topology, and so of every form: triangles over the same vertices, and where the eyeballs begin. */
export type Coarse = Pick<Form, 'indices' | 'groups'>;

/** Of its triangles so many stay. */
const SHARE = 0.35;
/** Reached by no simplification to that share: how many stay decides. */
const NO_BOUND_M = 1;
/** What a colour and a normal weigh beside a place, of the form's extent: brows, lips and the shade below a jaw stay where they are. */
const COLOR_WEIGHT = 1;
const NORMAL_WEIGHT = 0.3;

/** Colours and normals side by side, six numbers a vertex. */
function looksOf({ colors, normals }: Pick<Form, 'colors' | 'normals'>): Float32Array {
  const out = new Float32Array(colors.length * 2);
  for (let v = 0; v < colors.length; v += 3) {
    out.set(colors.subarray(v, v + 3), v * 2);
    out.set(normals.subarray(v, v + 3), v * 2 + 3);
  }
  return out;
}

/** @param form any: best the middle one @returns about a third of its triangles, within some millimetre of it. About 30 ms */
export async function coarseTriangles(form: Pick<Form, 'positions' | 'normals' | 'colors' | 'indices' | 'groups'>): Promise<Coarse> {
  const { positions, indices, groups } = form;
  await MeshoptSimplifier.ready;
  const looks = looksOf(form);
  const weights = [COLOR_WEIGHT, COLOR_WEIGHT, COLOR_WEIGHT, NORMAL_WEIGHT, NORMAL_WEIGHT, NORMAL_WEIGHT];
  const parts = groups.map(({ start, count }) => {
    const most = Math.floor((count * SHARE) / 3) * 3;
    const whole = indices.subarray(start, start + count);
    return MeshoptSimplifier.simplifyWithAttributes(whole, positions, 3, looks, 6, weights, null, most, NO_BOUND_M, ['ErrorAbsolute'])[0];
  });
  const all = new Uint32Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  const cut = groups.map(({ name }, i) => {
    all.set(parts[i], at);
    at += parts[i].length;
    return { name, start: at - parts[i].length, count: parts[i].length };
  });
  return { indices: all, groups: cut };
}
