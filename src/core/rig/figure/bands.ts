/** A limb in slices of equal way from its end: the middle and the thickness of each, and what they say (necks, leaps, bends). */
import { add, dot, mix, sub, unit, type Vec } from '../vec';
import { cellAt, type Solid } from './solid';

export interface Band {
  /** Way from the end, metres. */
  at: number;
  middle: Vec;
  /** Area of the cut, m². */
  area: number;
}

export const clamp01 = (x: number) => Math.min(1, Math.max(0, x));

/** Slices of the cells that `own`, up to a way of `most` metres; slices in which nothing lies are left out. */
export function bandsOf(solid: Solid, far: Float64Array, own: (cell: number) => boolean, most: number): Band[] {
  const { size: cell } = solid.voxels;
  const width = cell * 1.5;
  const sums = Array.from({ length: Math.ceil(most / width) + 1 }, () => ({ n: 0, at: [0, 0, 0] as Vec }));
  for (let c = 0; c < far.length; c++) {
    if (far[c] > most || !own(c)) continue;
    const s = sums[Math.floor(far[c] / width)];
    s.n++;
    s.at = add(s.at, cellAt(solid, c));
  }
  return sums.flatMap(({ n, at }, i) =>
    n > 0 ? [{ at: (i + 0.5) * width, middle: at.map((x) => x / n) as Vec, area: (n * cell ** 3) / width }] : [],
  );
}

/** The middle at a way from the end, between slices; beyond them the nearest. */
export function middleAt(bands: readonly Band[], at: number): Vec {
  const k = bands.findIndex((b) => b.at >= at);
  if (k < 0) return bands[bands.length - 1].middle;
  if (k === 0) return bands[0].middle;
  const [a, b] = [bands[k - 1], bands[k]];
  return mix(a.middle, b.middle, (at - a.at) / (b.at - a.at));
}

const STAYS = 3;

/** Where slices first become `times` as thick as they are in the middle of the way before; null where they never do. */
export function leapAt(bands: readonly Band[], from: number, times: number): number | null {
  const before: number[] = [];
  for (const [i, b] of bands.entries()) {
    const sorted = [...before].sort((x, y) => x - y);
    const usual = sorted[sorted.length >> 1] * times;
    // and stay so: a cuff is none
    if (b.at > from && sorted.length > 4 && bands.slice(i, i + STAYS).every((o) => o.area > usual)) return b.at;
    if (b.at > from * 0.6) before.push(b.area);
  }
  return null;
}

/** The narrowest place between two ways that is thicker on both sides, and how much (1: not at all). */
export function neckAt(bands: readonly Band[], lo: number, hi: number, reach: number): { at: number; depth: number } | null {
  let best: { at: number; depth: number } | null = null;
  for (const b of bands) {
    if (b.at < lo || b.at > hi) continue;
    const side = (s: 1 | -1) => bands.reduce((m, o) => ((o.at - b.at) * s > 0 && (o.at - b.at) * s <= reach ? Math.max(m, o.area) : m), 0);
    const depth = Math.min(side(1), side(-1)) / b.area;
    if (!best || depth > best.depth) best = { at: b.at, depth };
  }
  return best;
}

/** The sharpest bend of the middle line between two ways, degrees, seen over `reach` to both sides. */
export function bendAt(bands: readonly Band[], lo: number, hi: number, reach: number): { at: number; deg: number } {
  let best = { at: (lo + hi) / 2, deg: 0 };
  for (const b of bands) {
    if (b.at < lo || b.at > hi) continue;
    const [before, here, after] = [b.at - reach, b.at, b.at + reach].map((x) => middleAt(bands, x));
    const cos = dot(unit(sub(here, before)), unit(sub(after, here)));
    const deg = (Math.acos(Math.min(1, Math.max(-1, cos))) * 180) / Math.PI;
    if (deg > best.deg) best = { at: b.at, deg };
  }
  return best;
}
