/** What a picture's alpha is, how fine it is, and what colour lies beyond its edges. */

import type { Pixels } from '../../math/pixels';
import type { AlphaKind } from './facts';

/** Partly clear begins and ends here, of 255: what rounding and lossy packing leave is neither. */
const CLEAR = 8;
const SOLID = 247;

export interface AlphaStats {
  kind: AlphaKind;
  /** Pixels of each alpha, 256 numbers. */
  histogram: Uint32Array;
  /** 2·area/outline in pixels: the width of a long strip; null where nothing is cut out. */
  widthPx: number | null;
  /** Mean distance (0..1 of white to black) between the colour beyond the edge and the colour inside it; 0 without edges. */
  fringe: number;
}

/** Share of partly clear pixels among those that show from which on alpha is soft: a thin edge round a small sign stays below. */
const SOFT_SHARE = 0.25;

export function alphaStats(p: Pixels): AlphaStats {
  const { width, height, data } = p;
  const histogram = new Uint32Array(256);
  for (let i = 3; i < data.length; i += 4) histogram[data[i]]++;
  const upTo = (a: number, b: number) => histogram.subarray(a, b).reduce((s, n) => s + n, 0);
  const clear = upTo(0, CLEAR);
  const partly = upTo(CLEAR, SOLID + 1);
  const solid = upTo(SOLID + 1, 256);
  if (clear + partly === 0) return { kind: 'none', histogram, widthPx: null, fringe: 0 };
  const kind = partly > SOFT_SHARE * (partly + solid) ? 'soft' : 'cut-out';
  let outline = 0;
  let area = 0;
  const inside = (i: number) => data[i * 4 + 3] >= 128;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const here = inside(i);
      if (here) area++;
      if (x + 1 < width && inside(i + 1) !== here) outline++;
      if (y + 1 < height && inside(i + width) !== here) outline++;
    }
  // an outline counted along pixel sides is 4/π too long on average over all directions (Crofton's formula)
  const widthPx = outline > 0 ? (2 * area) / (outline * (Math.PI / 4)) : null;
  return { kind, histogram, widthPx, fringe: kind === 'soft' ? 0 : fringe(p) };
}

/** Colour differences below this are taken for the picture's own shading. */
function fringe(p: Pixels): number {
  const from = nearestSolid(p);
  if (!from) return 0;
  const { width, height, data } = p;
  let sum = 0;
  let n = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const s = from.source[i];
      // beyond the edge, as far as a filter reads
      if (from.distance[i] === 0 || from.distance[i] > 2 || s < 0) continue;
      const d = [0, 1, 2].reduce((m, k) => Math.max(m, Math.abs(data[i * 4 + k] - data[s * 4 + k])), 0);
      sum += d / 255;
      n++;
    }
  return n > 0 ? sum / n : 0;
}

interface Nearest {
  /** Index of the solid pixel each pixel takes its colour from; −1: none within reach. */
  source: Int32Array;
  /** Steps to it; 0 in the solid itself. */
  distance: Uint16Array;
}

/** The nearest solid pixel by steps over edges and corners; null where none is solid. A breadth-first walk, exact in that measure. */
function nearestSolid({ width, height, data }: Pixels): Nearest | null {
  const n = width * height;
  const source = new Int32Array(n).fill(-1);
  const distance = new Uint16Array(n);
  const queue = new Int32Array(n);
  let tail = 0;
  for (let i = 0; i < n; i++)
    if (data[i * 4 + 3] > SOLID) {
      source[i] = i;
      queue[tail++] = i;
    }
  if (tail === 0) return null;
  for (let head = 0; head < tail; head++) {
    const i = queue[head];
    const [x, y] = [i % width, (i / width) | 0];
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        const [u, v] = [x + dx, y + dy];
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const j = v * width + u;
        if (source[j] >= 0) continue;
        source[j] = source[i];
        distance[j] = Math.min(65535, distance[i] + 1);
        queue[tail++] = j;
      }
  }
  return { source, distance };
}

/** The same picture with the colour of its solid pixels carried outwards under the clear and partly clear ones; alpha stays. */
export function bleedColour(p: Pixels): Pixels {
  const from = nearestSolid(p);
  if (!from) return p;
  const data = p.data.slice();
  for (let i = 0; i < from.source.length; i++) {
    const s = from.source[i] * 4;
    if (from.distance[i] === 0) continue;
    data[i * 4] = p.data[s];
    data[i * 4 + 1] = p.data[s + 1];
    data[i * 4 + 2] = p.data[s + 2];
  }
  return { ...p, data };
}
