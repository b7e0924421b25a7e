/** What of a form hides: its regions as triangles, grown along the surface and widened to both sides. */
import type { Form } from './form';
import type { Vec3 } from './vec';

export type FormRegion = 'head' | 'face' | 'bust' | 'body';

const kept = new WeakMap<Uint32Array, Partial<Record<FormRegion, Uint32Array>>>();

/** What of a form or body says which of its triangles are a region. */
export type Regioned = Pick<Form, 'positions' | 'indices' | 'regions'> & { landmarks: Readonly<Record<string, { position: Vec3 }>> };

/** Limbs of a body are no bust. */
const LIMBS = ['arm', 'hand', 'leg', 'foot'];

/**
 * Indices of a region's triangles: all there is, the bust without limbs, the head with its neck, the face before the ears. Made once a topology.
 */
export function regionIndices(form: Regioned, region: FormRegion): Uint32Array {
  if (region === 'body' || (region === 'bust' && !form.regions.names.includes('arm'))) return form.indices;
  let made = kept.get(form.indices);
  if (!made) {
    made = {};
    kept.set(form.indices, made);
  }
  made[region] ??= pick(form, region);
  return made[region];
}

/** Regions of form and body that are not of a region. */
const BELOW: Readonly<Record<Exclude<FormRegion, 'body'>, readonly string[]>> = {
  bust: LIMBS,
  head: ['bust', 'cut', 'torso', ...LIMBS],
  face: ['bust', 'cut', 'torso', ...LIMBS, 'neck', 'ear'],
};

function pick(form: Regioned, region: Exclude<FormRegion, 'body'>): Uint32Array {
  const { names, ids } = form.regions;
  const below = new Set(BELOW[region].map((n) => names.indexOf(n)));
  const tragion = form.landmarks.tragionL.position[2];
  const in_ = (v: number) => !below.has(ids[v]) && (region !== 'face' || form.positions[v * 3 + 2] > tragion);
  const out: number[] = [];
  for (let i = 0; i < form.indices.length; i += 3) {
    const [a, b, c] = [form.indices[i], form.indices[i + 1], form.indices[i + 2]];
    if (in_(a) && in_(b) && in_(c)) out.push(a, b, c);
  }
  return Uint32Array.from(out);
}

/** Over this half breadth the whole of a widening is reached, metres. */
const WIDE_M = 0.05;

/** Positions moved along their normals by `growMm` and away from the middle by `widenMm`. `out` may be `positions`. */
export function growForm(positions: Float32Array, normals: Float32Array, growMm: number, widenMm: number, out: Float32Array): void {
  const [grow, widen] = [growMm / 1000, widenMm / 1000];
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i];
    const aside = Math.max(-1, Math.min(1, x / WIDE_M));
    out[i] = x + normals[i] * grow + aside * widen;
    out[i + 1] = positions[i + 1] + normals[i + 1] * grow;
    out[i + 2] = positions[i + 2] + normals[i + 2] * grow;
  }
}

/** Triangles of one region of a body by its name: its hands. */
export function namedIndices({ indices, regions: { names, ids } }: Pick<Regioned, 'indices' | 'regions'>, name: string): Uint32Array {
  const region = names.indexOf(name);
  const out: number[] = [];
  for (let i = 0; i < indices.length; i += 3)
    if ([0, 1, 2].every((k) => ids[indices[i + k]] === region)) out.push(indices[i], indices[i + 1], indices[i + 2]);
  return Uint32Array.from(out);
}
