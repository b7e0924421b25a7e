/** Bones before they are nodes of a file. */
import type { Vec } from './middle';

/** What a rig of chains calls the bone that moves what belongs to no chain. */
export const ROOT = 'root';

export interface Bone {
  name: string;
  /** Place in the list; −1: it hangs from the rig's root. Parents come before children. */
  parent: number;
  /** Metres of the model. */
  head: Vec;
  tail: Vec;
  /** Where else it leads: from its head to every joint that hangs on it, as a hand does to its fingers and a pelvis to both legs. */
  leads?: readonly Vec[];
  /** Number of the limb it is a bone of; −1 the root, which moves what belongs to no limb. */
  limb: number;
  /** 0 … 1, of one that was found rather than pressed. */
  sure?: number;
  /** Of a chain's first: the name the chain was found under, and which of its joints this bone begins at. */
  chain?: { found: string; joint: number };
  /** Of a chain's first: how far the line strays from 1, 2, 3 … straight bones, mm. */
  strayMm?: number[];
  /** Of a figure's hips: ends that belong to none of its limbs, from root to tip, metres of the model. */
  ends?: { rootM: Vec; tipM: Vec }[];
}

/** Which limb each vertex of the surface belongs to; −1: none, it stays with the root. */
export type Home = Int32Array;

/** Nearest point of a bone, and how far it is, metres. */
export function toBone(bone: Pick<Bone, 'head' | 'tail' | 'leads'>, x: number, y: number, z: number): { at: Vec; far: number } {
  let best = toLine(bone.head, bone.tail, x, y, z);
  for (const end of bone.leads ?? []) {
    const other = toLine(bone.head, end, x, y, z);
    if (other.far < best.far) best = other;
  }
  return best;
}

function toLine(a: Vec, b: Vec, x: number, y: number, z: number): { at: Vec; far: number } {
  const ab = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const whole = ab[0] ** 2 + ab[1] ** 2 + ab[2] ** 2;
  const t = whole > 0 ? Math.min(1, Math.max(0, ((x - a[0]) * ab[0] + (y - a[1]) * ab[1] + (z - a[2]) * ab[2]) / whole)) : 0;
  const at: Vec = [a[0] + t * ab[0], a[1] + t * ab[1], a[2] + t * ab[2]];
  return { at, far: Math.hypot(x - at[0], y - at[1], z - at[2]) };
}
