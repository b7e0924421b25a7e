/** Fields on the base mesh for what the middle of a face and its lips do, mm at full weight; x as on the wearer's left. */
import type { BaseMesh } from './basemesh';
import { MH } from './template';
import { gauss, smooth, type Vec3 } from './vec';

/** Inside of the lips, where places tell little: how much of a corner's way a vertex goes, sideways and upward. */
export function cornerShare(b: BaseMesh, v: number): { side: number; up: number } {
  const [px, y, z] = b.pos[v];
  const x = Math.abs(px);
  const t = b.tag[v];
  if (t?.feature === 'mouth' && t.s >= 0) {
    const u = Math.sin(((1 - Math.abs(t.k - MH) / MH) * Math.PI) / 2);
    const inner = t.s >= 2 ? 0.8 : 1;
    return { side: u * inner, up: (u ** 2.6 - 0.06 * (1 - u)) * inner };
  }
  const g = gauss(Math.hypot(x - 26, (y + 51) * 1.05, (z - 88) * 0.8), 17) * smooth(0, 16, x);
  return { side: g, up: g };
}

/** The lid that a place belongs to goes its own ways. */
const lidFree = (b: BaseMesh, v: number) => {
  const t = b.tag[v];
  return t?.feature === 'eye' ? 1 - smooth(0.25, 0.6, t.s) : 1;
};

/** Cheek raiser: the cheek goes up and comes forward. */
export function cheekUp(b: BaseMesh, v: number): Vec3 {
  const [px, y, z] = b.pos[v];
  const g = gauss(Math.hypot(Math.abs(px) - 41, y + 16, (z - 72) * 0.8), 19) * lidFree(b, v);
  return [0.6 * g, 3.8 * g, 2.2 * g];
}

/** Nose wrinkler: the wing of the nose and the lip above go up, the brow's inner end down, skin heaps up beside the bridge. */
export function noseUp(b: BaseMesh, v: number, jaw: number): Vec3 {
  const [px, y, z] = b.pos[v];
  const x = Math.abs(px);
  const front = smooth(60, 78, z) * (1 - jaw);
  const wing = gauss(Math.hypot(x - 17, y + 17, (z - 96) * 0.7), 12) * front;
  const lip = gauss(Math.hypot(x - 12, y + 39), 12) * front;
  const heap = gauss(Math.hypot(x - 9, y - 4), 9) * front * lidFree(b, v);
  const brow = gauss(Math.hypot(x - 9, y - 38), 13) * smooth(35, 60, z) * lidFree(b, v);
  return [0.4 * wing - 0.8 * brow, 3.2 * wing + 2.2 * lip + 1.2 * heap - 2.6 * brow, 0.9 * heap - 0.5 * wing];
}

/** Lip corner depressor. */
export function cornerDown(b: BaseMesh, v: number): Vec3 {
  const { side, up } = cornerShare(b, v);
  return [1.2 * side, -5.2 * up, -0.8 * up];
}

/** Lip pucker: the mouth narrows and comes forward. */
export function lipsTogether(b: BaseMesh, v: number): Vec3 {
  const [px, y, z] = b.pos[v];
  const x = Math.abs(px);
  const g = gauss(Math.hypot(x * 0.9, (y + 51) * 1.15), 25) * smooth(58, 82, z);
  return [-0.4 * x * g, -0.1 * (y + 51) * g, 5.5 * g];
}
