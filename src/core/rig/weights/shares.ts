/** Shares of a vertex as a file holds them. What finds them is another matter: a page that paints need not load it. */
import type { Binding } from './bind';

/** A smaller share is not seen and takes a place. */
const LEAST_SHARE = 1e-3;
const FOUR = 4;

/** What a vertex follows, at most four, the greatest first; shares in 4096ths sum to 1 exactly, whoever adds them. */
export function setShares(
  out: Pick<Binding, 'bones' | 'shares'>,
  v: number,
  weights: Iterable<readonly [bone: number, weight: number]>,
): void {
  const most = [...weights]
    .filter(([, w]) => w > 0)
    .sort((a, b) => b[1] - a[1] || a[0] - b[0])
    .slice(0, FOUR);
  const sum = most.reduce((s, [, w]) => s + w, 0);
  const kept = most.filter(([, w]) => w / sum >= LEAST_SHARE);
  const whole = kept.reduce((s, [, w]) => s + w, 0);
  // what rounding leaves is the greatest's
  const parts = kept.map(([, w]) => Math.round((w / whole) * 4096));
  parts[0] += 4096 - parts.reduce((s, p) => s + p, 0);
  for (let k = 0; k < FOUR; k++) {
    out.bones[v * FOUR + k] = kept[k]?.[0] ?? 0;
    out.shares[v * FOUR + k] = (parts[k] ?? 0) / 4096;
  }
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
