/** Shares of a vertex as a file holds them. What finds them is another matter: a page that paints need not load it. */
import type { Binding } from './bind';

/** A smaller share is not seen and takes a place. */
const LEAST_SHARE = 1e-3;
const FOUR = 4;

// one vertex is reckoned at a time, and under a brush thousands a moment: nothing is made for it
const bone = new Float64Array(FOUR);
const weight = new Float64Array(FOUR);

/** What a vertex follows, at most four, the greatest first; shares in 4096ths sum to 1 exactly, whoever adds them. Of nothing it stays. */
export function setShares(
  out: Pick<Binding, 'bones' | 'shares'>,
  v: number,
  weights: Iterable<readonly [bone: number, weight: number]>,
): void {
  let n = 0;
  for (const [b, w] of weights) {
    if (!(w > 0)) continue;
    let at = n;
    while (at > 0 && (weight[at - 1] < w || (weight[at - 1] === w && bone[at - 1] > b))) at--;
    if (at === FOUR) continue;
    for (let k = Math.min(n, FOUR - 1); k > at; k--) {
      bone[k] = bone[k - 1];
      weight[k] = weight[k - 1];
    }
    bone[at] = b;
    weight[at] = w;
    n = Math.min(n + 1, FOUR);
  }
  if (n === 0) return;
  let sum = 0;
  for (let k = 0; k < n; k++) sum += weight[k];
  let kept = 0;
  let whole = 0;
  while (kept < n && weight[kept] / sum >= LEAST_SHARE) whole += weight[kept++];
  let left = 4096;
  for (let k = 0; k < FOUR; k++) {
    const part = k < kept ? Math.round((weight[k] / whole) * 4096) : 0;
    left -= part;
    out.bones[v * FOUR + k] = k < kept ? bone[k] : 0;
    out.shares[v * FOUR + k] = part / 4096;
  }
  // what rounding leaves is the greatest's
  out.shares[v * FOUR] += left / 4096;
}

/** Most bones that any vertex follows. */
export function mostInfluences(shares: Float32Array): number {
  let most = 0;
  for (let i = 0; i < shares.length; i += FOUR) {
    let n = 0;
    for (let k = 0; k < FOUR; k++) if (shares[i + k] > 0) n++;
    most = Math.max(most, n);
  }
  return most;
}
