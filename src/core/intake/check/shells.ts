/** Triangles of one mesh as a soup, and its shells: what repeats, what is open, what lies within what. */
import type { Primitive } from '@gltf-transform/core';
import { triangleArea } from '../../model/lie/sample';
import type { ModelPrimitive } from '../../model/model';
import type { findTopology } from './topology';

/** One mesh as a single triangle soup: primitives one after another. */
export interface Soup {
  positions: Float32Array;
  triangles: Uint32Array;
  /** Triangle → primitive. */
  owner: Uint16Array;
}

export const MAX_CHECKED_TRIANGLES = 3_000_000;

export function joinPrimitives(primitives: readonly Pick<ModelPrimitive, 'positions' | 'triangles'>[]): Soup {
  const positions = new Float32Array(primitives.reduce((s, p) => s + p.positions.length, 0));
  const triangles = new Uint32Array(primitives.reduce((s, p) => s + p.triangles.length, 0));
  const owner = new Uint16Array(triangles.length / 3);
  let [v, t] = [0, 0];
  primitives.forEach((p, i) => {
    positions.set(p.positions, v * 3);
    for (const [k, at] of p.triangles.entries()) triangles[t + k] = at + v;
    owner.fill(i, t / 3, (t + p.triangles.length) / 3);
    v += p.positions.length / 3;
    t += p.triangles.length;
  });
  return { positions, triangles, owner };
}

export function extent(positions: ArrayLike<number>): number {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const x = positions[i];
    if (x < box[i % 3]) box[i % 3] = x;
    if (x > box[3 + (i % 3)]) box[3 + (i % 3)] = x;
  }
  const d = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  return Number.isFinite(d) ? d : 0;
}

/** Two corners at one place, or no area to speak of: under 1e-9 of the model's own size, squared. */
export function isDegenerate(soup: Pick<Soup, 'positions' | 'triangles'>, place: ArrayLike<number>, t: number, diagonal: number): boolean {
  const [a, b, c] = [soup.triangles[t * 3], soup.triangles[t * 3 + 1], soup.triangles[t * 3 + 2]];
  if (place[a] === place[b] || place[b] === place[c] || place[a] === place[c]) return true;
  return !(triangleArea(soup.positions, a, b, c) > 1e-12 * diagonal * diagonal);
}

/** The three places of a triangle as a key that ignores which corner comes first, not which way it faces: a sheet may have a back. */
export function triangleKey(triangles: ArrayLike<number>, place: ArrayLike<number>, t: number): string {
  const [a, b, c] = [place[triangles[t * 3]], place[triangles[t * 3 + 1]], place[triangles[t * 3 + 2]]];
  if (a <= b && a <= c) return `${a} ${b} ${c}`;
  return b <= c ? `${b} ${c} ${a}` : `${c} ${a} ${b}`;
}

/** The same of the triangle's back. */
const backKey = (triangles: ArrayLike<number>, place: ArrayLike<number>, t: number): string =>
  triangleKey([triangles[t * 3], triangles[t * 3 + 2], triangles[t * 3 + 1]], place, 0);

export const EPSILON = 2e-6;

/** Indices of triangles that repeat an earlier one, facing the same way. */
export function findDuplicates(soup: Soup, place: ArrayLike<number>): number[] {
  const seen = new Set<string>();
  const out: number[] = [];
  for (let t = 0; t < soup.owner.length; t++) {
    const key = triangleKey(soup.triangles, place, t);
    if (seen.has(key)) out.push(t);
    else seen.add(key);
  }
  return out;
}

/** Which triangles are the back of an earlier one: a sheet that is drawn from both sides by two of each. */
export function findBacks(soup: Soup, place: ArrayLike<number>): Set<number> {
  const seen = new Set<string>();
  const out = new Set<number>();
  for (let t = 0; t < soup.owner.length; t++) {
    if (seen.has(backKey(soup.triangles, place, t))) out.add(t);
    else seen.add(triangleKey(soup.triangles, place, t));
  }
  return out;
}

/** Of a shell that is all but closed so many edges may be open; from there on it is torn, and no cover mends it. */
const TORN = 0.2;
/** Of fewer triangles nobody can tell torn from meant so. */
const LEAST_TORN = 24;

/** Shells that are all but closed: their areas nearly cancel out, as they do exactly where nothing is missing. */
export const holedShells = (soup: Soup, topo: ReturnType<typeof findTopology>): number[] => openShells(soup, topo).holed;

/** Shells whose areas nearly cancel out and that have open edges: a few, or more than a fifth of all. */
export function openShells(soup: Soup, topo: ReturnType<typeof findTopology>): { holed: number[]; torn: number[] } {
  const areas = new Float64Array(topo.shells * 4);
  const triangles = new Uint32Array(topo.shells);
  for (let t = 0; t < topo.shell.length; t++) {
    triangles[topo.shell[t]]++;
    addArea(soup, t, areas, topo.shell[t] * 4);
  }
  const [holed, torn]: [number[], number[]] = [[], []];
  for (let s = 0; s < topo.shells; s++) {
    const lean = Math.hypot(areas[s * 4], areas[s * 4 + 1], areas[s * 4 + 2]) / (areas[s * 4 + 3] || 1);
    const open = topo.openOf[s] / (triangles[s] * 1.5);
    if (topo.openOf[s] === 0 || topo.crowdedOf[s] > 0 || lean >= 0.12) continue;
    if (open < TORN) holed.push(s);
    else if (triangles[s] >= LEAST_TORN) torn.push(s);
  }
  return { holed, torn };
}

function addArea(soup: Soup, t: number, out: Float64Array, at: number): void {
  const p = soup.positions;
  const [a, b, c] = [soup.triangles[t * 3] * 3, soup.triangles[t * 3 + 1] * 3, soup.triangles[t * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  out[at] += x;
  out[at + 1] += y;
  out[at + 2] += z;
  out[at + 3] += Math.hypot(x, y, z);
}

/** Shells of which something is unlit. */
export function unlitShells(
  soup: Pick<Soup, 'owner'>,
  { shell, shells }: { shell: Uint32Array; shells: number },
  raw: readonly Primitive[],
): Uint8Array {
  const out = new Uint8Array(shells);
  for (let t = 0; t < shell.length; t++) if (raw[soup.owner[t]]?.getMaterial()?.getExtension('KHR_materials_unlit')) out[shell[t]] = 1;
  return out;
}

/** Whether a shell that faces inwards is meant so: a sky takes no light, a room holds others. */
export const facesInwards =
  (boxes: Float64Array, unlit: Uint8Array) =>
  (s: number): boolean => {
    if (unlit[s]) return true;
    for (let o = 0; o < boxes.length / 6; o++) if (o !== s && boxWithin(boxes, o, s)) return true;
    return false;
  };

/** Whether the shell's box lies within another's: such a wall may well face inwards. */
export function isEnclosed(boxes: Float64Array, s: number): boolean {
  for (let o = 0; o < boxes.length / 6; o++) if (o !== s && boxWithin(boxes, s, o)) return true;
  return false;
}

const boxWithin = (boxes: Float64Array, s: number, o: number) =>
  [0, 1, 2].every((k) => boxes[s * 6 + k] > boxes[o * 6 + k] && boxes[s * 6 + 3 + k] < boxes[o * 6 + 3 + k]);

/** Shells of a few triangles, far under a hundredth of the model, with nothing near: what is left over from modelling. */
export function findCrumbs(shells: number, boxes: Float64Array, trianglesOf: ArrayLike<number>, modelSize: number): number[] {
  if (shells < 2 || shells > 5_000) return [];
  const size = (s: number) => Math.hypot(...[0, 1, 2].map((k) => boxes[s * 6 + 3 + k] - boxes[s * 6 + k]));
  const out: number[] = [];
  for (let s = 0; s < shells; s++) {
    const d = size(s);
    if (trianglesOf[s] > 12 || d > modelSize * 0.01) continue;
    const reach = d * 3;
    let alone = true;
    for (let o = 0; o < shells && alone; o++)
      if (
        o !== s &&
        [0, 1, 2].every((k) => boxes[s * 6 + k] - reach < boxes[o * 6 + 3 + k] && boxes[s * 6 + 3 + k] + reach > boxes[o * 6 + k])
      )
        alone = false;
    if (alone) out.push(s);
  }
  return out.length < shells ? out : [];
}
