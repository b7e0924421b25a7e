/** How many straight bones a middle line needs, and where their joints stand. */
import { evenly, lengthOf, type MiddleLine, type Vec } from './middle';

export interface ChainPlan {
  /** One more than bones, root first, metres. */
  joints: Vec[];
  /** Greatest distance of the line from its straight bones, mm. */
  strayMm: number;
}

/** Points of a line that joints may stand at. */
const PLACES = 65;
export const MOST_BONES = 24;
/** Above this it shows. (VISUAL-2, bones.) */
export const SHOWS_MM = 3;
/** What is less, in metres and as a share of the length, is noise of the tracing: among such chains the evenest is taken. */
const NOISE_M = 3e-4;
const NOISE_SHARE = 0.003;
/** Of the half width of a thick limb, in which the tracing wanders more. */
const NOISE_INSIDE = 0.1;
/** Of a short chain: this share of its length shows as well. */
const SHOWS_SHARE = 0.02;
/** Of a long one, which is seen from farther away: less than this share does not. */
const UNSEEN_SHARE = 0.003;

function toChord(p: Vec, a: Vec, b: Vec): number {
  const ab = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const ap = [p[0] - a[0], p[1] - a[1], p[2] - a[2]];
  const t = Math.min(1, Math.max(0, (ap[0] * ab[0] + ap[1] * ab[1] + ap[2] * ab[2]) / (ab[0] ** 2 + ab[1] ** 2 + ab[2] ** 2 || 1)));
  return Math.hypot(ap[0] - t * ab[0], ap[1] - t * ab[1], ap[2] - t * ab[2]);
}

/**
 * Chains of 1 … `most` bones whose joints lie on the line, each with the least greatest stray there is among 65 places. (Optimal
 * polygonal approximation by dynamic programming: Perez & Vidal, Pattern Recognition Letters 15, 1994.) Of equals, but for noise, the evenest.
 * @param radiusM half the limb's usual width
 */
export function chainPlans(line: Pick<MiddleLine, 'points'>, most = MOST_BONES, radiusM = 0): ChainPlan[] {
  const places = evenly(line.points, PLACES);
  const n = PLACES - 1;
  const stray = new Float64Array(PLACES * PLACES);
  const noise = Math.max(Math.min(NOISE_M, lengthOf(places) * NOISE_SHARE), radiusM * NOISE_INSIDE);
  for (let a = 0; a < n; a++)
    for (let b = a + 2; b <= n; b++) {
      let far = 0;
      for (let k = a + 1; k < b; k++) far = Math.max(far, toChord(places[k], places[a], places[b]));
      stray[a * PLACES + b] = far;
    }
  // best[b]: greatest stray up to place b with the bones so far; of equals the sum of squared lengths, which is least for even ones
  let best = Float64Array.from({ length: PLACES }, (_, b) => (b === 0 ? 0 : Infinity));
  let even = new Float64Array(PLACES);
  const came: Int32Array[] = [];
  const plans: ChainPlan[] = [];
  for (let bones = 1; bones <= Math.min(most, n); bones++) {
    const [next, nextEven, from] = [new Float64Array(PLACES).fill(Infinity), new Float64Array(PLACES), new Int32Array(PLACES).fill(-1)];
    for (let b = bones; b <= n; b++)
      for (let a = bones - 1; a < b; a++) {
        if (best[a] === Infinity) continue;
        const s = Math.max(best[a], Math.max(0, stray[a * PLACES + b] - noise));
        const e = even[a] + (b - a) ** 2;
        if (s < next[b] - 1e-12 || (s <= next[b] + 1e-12 && e < nextEven[b])) [next[b], nextEven[b], from[b]] = [s, e, a];
      }
    [best, even] = [next, nextEven];
    came.push(from);
    const joints = [places[n]];
    let far = 0;
    for (let k = bones - 1, b = n; k >= 0; k--) {
      const a = came[k][b];
      far = Math.max(far, stray[a * PLACES + b]);
      b = a;
      joints.push(places[b]);
    }
    plans.push({ joints: joints.reverse(), strayMm: far * 1000 });
  }
  return plans;
}

/** Greatest distance of a line from straight bones between these joints, mm. */
export function strayOf(line: Pick<MiddleLine, 'points'>, joints: readonly Vec[]): number {
  let far = 0;
  for (const p of line.points) {
    let near = Infinity;
    for (let k = 0; k + 1 < joints.length; k++) near = Math.min(near, toChord(p, joints[k], joints[k + 1]));
    far = Math.max(far, near);
  }
  return far * 1000;
}

/** Of a limb's half width: inside a thick one a line that strays so little is the tracing's. */
const INSIDE = 0.25;

/** The fewest bones that do not show; two at least, for one does not bend. @param radiusM half the limb's usual width */
export function proposedBones(plans: readonly ChainPlan[], lengthM: number, radiusM = 0): number {
  const lengthMm = lengthM * 1000;
  const bound = Math.min(Math.max(SHOWS_MM, lengthMm * UNSEEN_SHARE, radiusM * 1000 * INSIDE), lengthMm * SHOWS_SHARE);
  const at = plans.findIndex((p) => p.strayMm <= bound);
  return Math.max(2, at < 0 ? plans.length : at + 1);
}
