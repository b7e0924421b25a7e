/** What of a form hides: its regions as triangles, grown along the surface and widened to both sides. */
import type { Form } from './form';
import type { Vec3 } from './vec';

export type FormRegion = 'head' | 'face' | 'ears' | 'hair' | 'neck' | 'bust' | 'body';

const kept = new WeakMap<Uint32Array, Partial<Record<FormRegion, Uint32Array>>>();

/** What of a form or body says which of its triangles are a region. */
export type Regioned = Pick<Form, 'positions' | 'indices' | 'regions'> & { landmarks: Readonly<Record<string, { position: Vec3 }>> };

/** Limbs of a body are no bust. */
const LIMBS = ['arm', 'hand', 'leg', 'foot'];

/**
 * Indices of a region's triangles: all there is, the bust without limbs, the head with its neck, the face before the ears, the ears, the
 * neck, the skull above the line hair grows from. Made once a topology.
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

/** What is told by itself, not by what is left out. */
type Alone = 'ears' | 'hair' | 'neck';
/** Regions of form and body that are not of a region. */
const BELOW: Readonly<Record<Exclude<FormRegion, 'body' | Alone>, readonly string[]>> = {
  bust: LIMBS,
  head: ['bust', 'cut', 'torso', ...LIMBS],
  face: ['bust', 'cut', 'torso', ...LIMBS, 'neck', 'ear'],
};

function pick(form: Regioned, region: Exclude<FormRegion, 'body'>): Uint32Array {
  const in_ = isIn(form, region);
  const out: number[] = [];
  for (let i = 0; i < form.indices.length; i += 3) {
    const [a, b, c] = [form.indices[i], form.indices[i + 1], form.indices[i + 2]];
    if (in_(a) && in_(b) && in_(c)) out.push(a, b, c);
  }
  return Uint32Array.from(out);
}

/** Whether a vertex is of a region. */
function isIn(form: Regioned, region: Exclude<FormRegion, 'body'>): (v: number) => boolean {
  const { names, ids } = form.regions;
  const named = (name: string) => {
    const id = names.indexOf(name);
    return (v: number) => ids[v] === id;
  };
  if (region === 'ears') return named('ear');
  if (region === 'neck') return named('neck');
  if (region === 'hair') {
    const [skin, line] = [named('skin'), hairline(form)];
    return (v) => skin(v) && form.positions[v * 3 + 1] > line(form.positions[v * 3 + 2]);
  }
  const below = new Set(BELOW[region].map((n) => names.indexOf(n)));
  const tragion = form.landmarks.tragionL.position[2];
  return (v) => !below.has(ids[v]) && (region !== 'face' || form.positions[v * 3 + 2] > tragion);
}

/**
 * How high hair begins at a depth: a third of the way from brow to crown in front, past the temples down to the roots of the ears, and at
 * the level of their lobes behind them. *Common practice*.
 */
function hairline({ landmarks: l }: Regioned): (z: number) => number {
  const [, browY, browZ] = l.glabella.position;
  const front = browY + (l.vertex.position[1] - browY) / 3;
  const root = l.otobasionSuperiorL.position;
  const [behindY, behindZ] = [l.subauraleL.position[1], l.postauraleL.position[2]];
  const over = root[1] + 0.006;
  const between = (a: number, b: number, z: number, from: number, to: number) => {
    const t = Math.max(0, Math.min(1, (z - a) / (b - a)));
    return from + (to - from) * t * t * (3 - 2 * t);
  };
  return (z) => (z > root[2] ? between(root[2], browZ * 0.72, z, over, front) : between(root[2], behindZ - 0.008, z, over, behindY));
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
