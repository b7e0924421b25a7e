/**
 * Where a thing of a kind is worn, before anything is fitted: from landmarks of the form and the model's box. *Common practice*: lenses
 * sit 12 to 14 mm before the eye and about its height; ear ornaments hang from the lobe; a mask's front lies just before the nose.
 */
import type { Box } from '../math/box';
import { KINDS, type Kind } from '../words/kinds';
import type { LandmarkName } from '../words/landmarks';

type Vec3 = readonly [number, number, number];
export type LandmarkAt = (name: LandmarkName) => Vec3;

/** Lens before the eye's front, metres. */
const VERTEX_M = 0.013;
/** A brim above the glabella, a mask before the nose's tip, an ornament's top above the lobe's lowest point. */
const BRIM_M = 0.025;
const MASK_M = 0.004;
const LOBE_M = 0.002;
/** A model whose width is off by more is of another unit: where it is worn says nothing yet. */
const MOST_OFF = 2;
/** One that lies so near already was made upon a head: to the side, up, fore (where a little more is inside the head). */
const NEAR_M: Vec3 = [0.01, 0.02, 0.008];

/** Point of the box that comes to a point of the head. */
type Seat = (box: Box, at: LandmarkAt) => { own: Vec3; seat: Vec3 };
const mid = (a: number, b: number) => (a + b) / 2;

const SEATS: Partial<Record<Kind, Seat>> = {
  eyewear: (b, at) => {
    const [l, r] = [at('pupilL'), at('pupilR')];
    return { own: [mid(b[0], b[3]), mid(b[1], b[4]), b[5]], seat: [mid(l[0], r[0]), mid(l[1], r[1]), mid(l[2], r[2]) + VERTEX_M] };
  },
  headwear: (b, at) => {
    const [brow, back] = [at('glabella'), at('opisthocranion')];
    return { own: [mid(b[0], b[3]), b[1], mid(b[2], b[5])], seat: [0, brow[1] + BRIM_M, mid(brow[2], back[2])] };
  },
  earring: (b, at) => {
    const lobe = at('subauraleL');
    return { own: [mid(b[0], b[3]), b[4], mid(b[2], b[5])], seat: [lobe[0], lobe[1] + LOBE_M, lobe[2]] };
  },
  mask: (b, at) => {
    const [brow, chin, nose] = [at('glabella'), at('menton'), at('pronasale')];
    return { own: [mid(b[0], b[3]), mid(b[1], b[4]), b[5]], seat: [0, mid(brow[1], chin[1]), nose[2] + MASK_M] };
  },
};

/**
 * @param boxM of the model as it is drawn, in its own frame
 * @param at landmarks in the head's frame, metres
 * @returns the offset from the head that seats it; null: its kind has no seat, its size tells of another unit, or it lies there already
 */
export function seatOf(kind: Kind, boxM: Box, at: LandmarkAt): [number, number, number] | null {
  const find = SEATS[kind];
  if (!find) return null;
  const usual = KINDS[kind].usualMm;
  const told = KINDS[kind].told;
  const off = ((boxM[told + 3] - boxM[told]) * 1000) / usual[told];
  if (off > MOST_OFF || off < 1 / MOST_OFF) return null;
  const { own, seat } = find(boxM, at);
  const by = seat.map((x, i) => x - own[i]) as [number, number, number];
  return by.every((x, i) => Math.abs(x) < NEAR_M[i]) ? null : (by.map((x) => Math.round(x * 1e4) / 1e4) as [number, number, number]);
}
