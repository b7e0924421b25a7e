/**
 * An environment as surfaces mirror it: a cube whose levels are blurred as surfaces of growing roughness blur, from a mirror down to one
 * that takes light from all of its hemisphere. The lobe is GGX (Walter et al., Microfacet Models for Refraction through Rough Surfaces,
 * 2007) seen straight on (N = V = R: Karis, Physically Based Shading in Theory and Practice, SIGGRAPH course, 2013), normalised, so that an
 * even environment stays even at every roughness.
 */
import { DataUtils } from 'three';
import { direction, type Radiance, shrinkRadiance } from '../math/radiance';

/** Halves of linear RGBA, level by level, six faces one after another: +x −x +y −y +z −z, as cube maps lie (OpenGL ES 3.0, table 3.21). */
export interface Reflections {
  /** Edge of a face of the first level, px; of the last, 8. */
  size: number;
  levels: Uint16Array[];
}

export const REFLECTION_SIZE = 128;
const LEAST = 8;
/** The brightest a half holds. */
const MOST = 65_504;

/** How rough what a level is for is. @param last the last level */
export const levelRoughness = (level: number, last: number): number => 1 - Math.sqrt(1 - level / last);

/** How much of what comes from an angle is mirrored. @param cos of the angle @param alpha roughness squared */
export function lobe(cos: number, alpha: number): number {
  if (cos <= 0) return 0;
  const d = 1 + alpha * alpha + (alpha * alpha - 1) * cos;
  return cos / (d * d);
}

/** A place of a face as a direction of a right-handed world: cube maps are seen from within, and are the other way round about x. */
export function faceDirection(face: number, s: number, t: number): [number, number, number] {
  const looked: readonly [number, number, number][] = [
    [1, -t, -s],
    [-1, -t, s],
    [s, 1, t],
    [s, -1, -t],
    [s, -t, 1],
    [-s, -t, -1],
  ];
  const [x, y, z] = looked[face];
  const l = Math.hypot(x, y, z);
  return [-x / l, y / l, z / l];
}

interface Grid extends Radiance {
  /** Per row: sine and cosine of its height, and the solid angle of a pixel. */
  sin: Float64Array;
  cos: Float64Array;
  area: Float64Array;
  /** Per column: bearing. */
  east: Float64Array;
  south: Float64Array;
}

function gridOf(sky: Radiance, width: number): Grid {
  const grid = sky.width > width ? shrinkRadiance(sky, width) : sky;
  const rows = Array.from({ length: grid.height }, (_, y) => (0.5 - (y + 0.5) / grid.height) * Math.PI);
  const columns = Array.from({ length: grid.width }, (_, x) => ((x + 0.5) / grid.width - 0.5) * 2 * Math.PI);
  return {
    ...grid,
    sin: Float64Array.from(rows, Math.sin),
    cos: Float64Array.from(rows, Math.cos),
    area: Float64Array.from(rows, (h) => Math.cos(h)),
    east: Float64Array.from(columns, Math.sin),
    south: Float64Array.from(columns, Math.cos),
  };
}

/** Beyond this share of its height a lobe is let go. */
const TAIL = 1e-3;

/** The angle beyond which a lobe is under its tail, rad. */
function reach(alpha: number): number {
  const top = lobe(1, alpha);
  let angle = 0;
  while (angle < Math.PI / 2 && lobe(Math.cos(angle), alpha) > TAIL * top) angle += 0.01;
  return Math.min(Math.PI / 2, angle);
}

/** Light from about a direction, weighed by the lobe. */
function gathered(grid: Grid, d: readonly number[], alpha: number, reached: number, out: number[]): void {
  const { width, height, data } = grid;
  const rise = Math.asin(Math.max(-1, Math.min(1, d[1])));
  const y0 = Math.max(0, Math.floor((0.5 - (rise + reached) / Math.PI) * height));
  const y1 = Math.min(height - 1, Math.ceil((0.5 - (rise - reached) / Math.PI) * height));
  const lon = Math.atan2(d[0], d[2]);
  // near a pole all bearings are near
  const flat = Math.cos(Math.min(Math.PI / 2, Math.abs(rise) + reached));
  const half = flat < 0.05 ? width : Math.min(width, Math.ceil(((reached / flat) * width) / (2 * Math.PI)) + 1);
  const middle = Math.round((lon / (2 * Math.PI) + 0.5) * width);
  const [from, to] = half * 2 >= width ? [0, width - 1] : [middle - half, middle + half];
  let [r, g, b, total] = [0, 0, 0, 0];
  for (let y = y0; y <= y1; y++)
    for (let x = from; x <= to; x++) {
      const u = ((x % width) + width) % width;
      const cos = d[1] * grid.sin[y] + grid.cos[y] * (d[0] * grid.east[u] + d[2] * grid.south[u]);
      if (cos <= 0) continue;
      const w = lobe(cos, alpha) * grid.area[y];
      const i = (y * width + u) * 3;
      r += w * data[i];
      g += w * data[i + 1];
      b += w * data[i + 2];
      total += w;
    }
  out[0] = r / total;
  out[1] = g / total;
  out[2] = b / total;
}

/** What lies in a direction, smoothly between pixels. */
function seen(sky: Radiance, d: readonly number[], out: number[]): void {
  const { width, height, data } = sky;
  const x = (Math.atan2(d[0], d[2]) / (2 * Math.PI) + 0.5) * width - 0.5;
  const y = Math.max(0, Math.min(height - 1, (0.5 - Math.asin(Math.max(-1, Math.min(1, d[1]))) / Math.PI) * height - 0.5));
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const at = (u: number, v: number) => (Math.min(height - 1, v) * width + (((u % width) + width) % width)) * 3;
  const [a, b, c, e] = [at(x0, y0), at(x0 + 1, y0), at(x0, y0 + 1), at(x0 + 1, y0 + 1)];
  for (let k = 0; k < 3; k++)
    out[k] = (data[a + k] * (1 - fx) + data[b + k] * fx) * (1 - fy) + (data[c + k] * (1 - fx) + data[e + k] * fx) * fy;
}

/** @param sky 2:1, linear @param size a power of two, 8 … */
export function reflectionsOf(sky: Radiance, size = REFLECTION_SIZE): Reflections {
  const last = Math.log2(size / LEAST);
  const fine = sky.width > size * 4 ? shrinkRadiance(sky, size * 4) : sky;
  const levels: Uint16Array[] = [];
  const light = [0, 0, 0];
  for (let level = 0; level <= last; level++) {
    const edge = size >> level;
    const alpha = levelRoughness(level, last) ** 2;
    // a wide lobe sees no small pixels
    const grid = level === 0 ? null : gridOf(fine, alpha < 0.05 ? 256 : 128);
    const reached = grid ? reach(alpha) : 0;
    const out = new Uint16Array(6 * edge * edge * 4).fill(DataUtils.toHalfFloat(1));
    for (let face = 0, at = 0; face < 6; face++)
      for (let y = 0; y < edge; y++)
        for (let x = 0; x < edge; x++, at += 4) {
          const d = faceDirection(face, (2 * (x + 0.5)) / edge - 1, (2 * (y + 0.5)) / edge - 1);
          if (grid) gathered(grid, d, alpha, reached, light);
          else seen(fine, d, light);
          for (let k = 0; k < 3; k++) out[at + k] = DataUtils.toHalfFloat(Math.min(MOST, light[k]));
        }
    levels.push(out);
  }
  return { size, levels };
}

/**
 * The dome above, seen from below: its rim the horizon, fore at the top, the wearer's left at the right. sRGB, RGBA, clear beyond the rim.
 * @param turnDeg the environment turned about up, counter-clockwise from above
 */
export function domePicture(sky: Radiance, size: number, gain: number, turnDeg: number): Uint8ClampedArray {
  const out = new Uint8ClampedArray(size * size * 4);
  const light = [0, 0, 0];
  const turn = (turnDeg * Math.PI) / 180;
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const [u, v] = [(2 * (x + 0.5)) / size - 1, 1 - (2 * (y + 0.5)) / size];
      const far = Math.hypot(u, v);
      if (far > 1) continue;
      const rise = (1 - far) * (Math.PI / 2);
      const lon = Math.atan2(u, v) - turn;
      seen(sky, [Math.cos(rise) * Math.sin(lon), Math.sin(rise), Math.cos(rise) * Math.cos(lon)], light);
      const at = (y * size + x) * 4;
      for (let k = 0; k < 3; k++) {
        const c = light[k] * gain;
        const shown = c / (1 + c);
        out[at + k] = 255 * (shown <= 0.0031308 ? 12.92 * shown : 1.055 * shown ** (1 / 2.4) - 0.055);
      }
      out[at + 3] = 255;
    }
  return out;
}

/** From where most light comes: bearing (0 fore, to the wearer's left), height, both in degrees; null where it comes evenly. */
export function mainLight(sky: Radiance): { bearingDeg: number; heightDeg: number } | null {
  const { width, height, data } = sky.width > 64 ? shrinkRadiance(sky, 64) : sky;
  let [best, at, sum, n] = [0, 0, 0, 0];
  for (let i = 0; i < width * height; i++) {
    const l = 0.2126 * data[i * 3] + 0.7152 * data[i * 3 + 1] + 0.0722 * data[i * 3 + 2];
    sum += l;
    n++;
    if (l > best) [best, at] = [l, i];
  }
  if (best < (2 * sum) / n) return null;
  const [x, y, z] = direction((at % width) + 0.5, Math.floor(at / width) + 0.5, width, height);
  return { bearingDeg: (Math.atan2(x, z) * 180) / Math.PI, heightDeg: (Math.asin(y) * 180) / Math.PI };
}
