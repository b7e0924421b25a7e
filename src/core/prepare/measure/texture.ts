/** Textures as the rasteriser reads them: mip levels, bilinear, sRGB there and back. */
import type { Pixels } from '../../math/pixels';

/** A texture with its smaller copies, each half the size of the one before. */
export interface MipTexture {
  levels: Pixels[];
}

/** Box-filtered mip levels. Averages the stored numbers, as a browser's `generateMipmap` of an 8-bit texture does to first order. */
export function mipTexture(pixels: Pixels): MipTexture {
  const levels = [pixels];
  for (let p = pixels; p.width > 1 || p.height > 1; ) {
    const width = Math.max(1, p.width >> 1);
    const height = Math.max(1, p.height >> 1);
    const data = new Uint8Array(width * height * 4);
    const [sx, sy] = [p.width > 1 ? 1 : 0, p.height > 1 ? 1 : 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = ((y << sy) * p.width + (x << sx)) * 4;
        for (let k = 0; k < 4; k++)
          data[(y * width + x) * 4 + k] =
            (p.data[at + k] +
              p.data[at + sx * 4 + k] +
              p.data[at + sy * p.width * 4 + k] +
              p.data[at + sx * 4 + sy * p.width * 4 + k] +
              2) >>
            2;
      }
    p = { width, height, data };
    levels.push(p);
  }
  return { levels };
}

/** Edges are mostly powers of two. */
const wrap = (x: number, n: number) => ((n & (n - 1)) === 0 ? x & (n - 1) : ((x % n) + n) % n);

/** Bilinear in one mip level, repeating; `out` gets RGBA, 0 to 1. */
export function sample(tex: MipTexture, level: number, u: number, v: number, out: Float32Array): Float32Array {
  const p = tex.levels[Math.min(tex.levels.length - 1, level)];
  const x = u * p.width - 0.5;
  const y = v * p.height - 0.5;
  const fx = Math.floor(x);
  const fy = Math.floor(y);
  const tx = x - fx;
  const ty = y - fy;
  const x0 = wrap(fx, p.width);
  const x1 = x0 + 1 === p.width ? 0 : x0 + 1;
  const y0 = wrap(fy, p.height) * p.width;
  const y1 = wrap(fy + 1, p.height) * p.width;
  const a = (y0 + x0) * 4;
  const b = (y0 + x1) * 4;
  const c = (y1 + x0) * 4;
  const d = (y1 + x1) * 4;
  const wa = (1 - tx) * (1 - ty);
  const wb = tx * (1 - ty);
  const wc = (1 - tx) * ty;
  const wd = tx * ty;
  const { data } = p;
  for (let k = 0; k < 4; k++) out[k] = (data[a + k] * wa + data[b + k] * wb + data[c + k] * wc + data[d + k] * wd) / 255;
  return out;
}

const TO_LINEAR = Float32Array.from({ length: 256 }, (_, i) => (i / 255 <= 0.04045 ? i / 255 / 12.92 : ((i / 255 + 0.055) / 1.055) ** 2.4));
export const linear = (x: number) => TO_LINEAR[Math.min(255, Math.max(0, Math.round(x * 255)))];
/** sRGB (IEC 61966-2-1) of a linear number; steps fine enough for 8 bits everywhere. */
const TO_SRGB = Float32Array.from({ length: 16385 }, (_, i) =>
  i / 16384 <= 0.0031308 ? (12.92 * i) / 16384 : 1.055 * (i / 16384) ** (1 / 2.4) - 0.055,
);
export const encode = (x: number) => TO_SRGB[x <= 0 ? 0 : x >= 1 ? 16384 : Math.round(x * 16384)];
