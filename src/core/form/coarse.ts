/** A form's triangles for pictures of few pixels, where a software renderer spends its time a triangle and not a pixel. */
import { MeshoptSimplifier } from 'meshoptimizer';
import type { Form } from './form';

/** Of a form's topology, and so of every form: triangles over the same vertices, and where the eyeballs begin. */
export type Coarse = Pick<Form, 'indices' | 'groups'>;

/** Of its triangles so many stay, unless that would be further off. */
const SHARE = 0.25;
/** Farthest from the form, metres: a pixel of a small picture is three times as much. */
const MOST_OFF_M = 0.001;
/** What a colour weighs beside a place: lips and brows stay where they are. */
const COLOR_WEIGHT = 0.02;

/** @param form any: best the middle one @returns about a quarter of its triangles, within a millimetre of it. About 30 ms */
export async function coarseTriangles({
  positions,
  colors,
  indices,
  groups,
}: Pick<Form, 'positions' | 'colors' | 'indices' | 'groups'>): Promise<Coarse> {
  await MeshoptSimplifier.ready;
  const parts = groups.map(({ start, count }) => {
    const [kept] = MeshoptSimplifier.simplifyWithAttributes(
      indices.subarray(start, start + count),
      positions,
      3,
      colors,
      3,
      [COLOR_WEIGHT, COLOR_WEIGHT, COLOR_WEIGHT],
      null,
      Math.floor((count * SHARE) / 3) * 3,
      MOST_OFF_M,
      ['ErrorAbsolute', 'Permissive'],
    );
    return kept;
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
