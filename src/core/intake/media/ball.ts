/** An environment looked at on two balls: a mirror and a matte one. */

import type { Pixels } from '../../math/pixels';
import { direction, type Radiance } from '../../math/radiance';

/** The nine real spherical harmonics of a direction, without their constants folded. */
const harmonics = ([x, y, z]: readonly number[]) => [1, y, z, x, x * y, y * z, 3 * z * z - 1, x * z, x * x - y * y];
/** Squares of the constants of the real spherical harmonics up to the second band. */
const C = [0.282095, 0.488603, 0.488603, 0.488603, 1.092548, 1.092548, 0.315392, 1.092548, 0.546274].map((c) => c * c);
/** Lambert's lobe, band by band: π, 2π/3, π/4, over π. (Ramamoorthi and Hanrahan, An efficient representation for irradiance environment maps, 2001.) */
const LOBE = [1, 2 / 3, 2 / 3, 2 / 3, 1 / 4, 1 / 4, 1 / 4, 1 / 4, 1 / 4];

/** Coefficients whose sum with `harmonics(n)` is the light a white matte surface facing n gives back. */
function irradiance(env: Radiance): number[][] {
  const sums = Array.from({ length: 9 }, () => [0, 0, 0]);
  for (let y = 0; y < env.height; y++) {
    const area = ((2 * Math.PI) / env.width) * (Math.PI / env.height) * Math.sin(((y + 0.5) / env.height) * Math.PI);
    for (let x = 0; x < env.width; x++) {
      const h = harmonics(direction(x + 0.5, y + 0.5, env.width, env.height));
      for (let i = 0; i < 9; i++) for (let k = 0; k < 3; k++) sums[i][k] += h[i] * area * env.data[(y * env.width + x) * 3 + k];
    }
  }
  return sums.map((s, i) => s.map((v) => v * C[i] * LOBE[i]));
}

function lookUp(env: Radiance, d: readonly number[], k: number): number {
  const x = ((Math.atan2(d[0], d[2]) / (2 * Math.PI) + 0.5) * env.width - 0.5 + env.width) % env.width;
  const y = Math.min(env.height - 1, Math.max(0, (0.5 - Math.asin(Math.max(-1, Math.min(1, d[1]))) / Math.PI) * env.height - 0.5));
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const at = (u: number, v: number) => env.data[(Math.min(env.height - 1, v) * env.width + (u % env.width)) * 3 + k];
  return (at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx) * (1 - fy) + (at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx) * fy;
}

/** sRGB (IEC 61966-2-1) of linear light after a shoulder that keeps what is under 0.8 nearly as it is. */
function tone(x: number): number {
  const t = x <= 0.8 ? x : 0.8 + 0.2 * (1 - Math.exp(-(x - 0.8) / 0.2));
  const s = t <= 0.0031308 ? 12.92 * t : 1.055 * t ** (1 / 2.4) - 0.055;
  return Math.max(0, Math.min(255, Math.round(s * 255)));
}

/**
 * A ball seen from afar along −fore, its back lit by what is behind the viewer.
 * @param kind mirror, or white matte paint
 * @param exposureEv stops added before showing
 * @param bearingDeg the environment turned about up
 */
export function drawBall(env: Radiance, size: number, kind: 'mirror' | 'matte', exposureEv: number, bearingDeg = 0): Pixels {
  const data = new Uint8Array(size * size * 4);
  const gain = 2 ** exposureEv;
  const sh = kind === 'matte' ? irradiance(env) : null;
  const [c, s] = [Math.cos((bearingDeg * Math.PI) / 180), Math.sin((bearingDeg * Math.PI) / 180)];
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const nx = ((x + 0.5) / size) * 2 - 1;
      const ny = 1 - ((y + 0.5) / size) * 2;
      const rr = nx * nx + ny * ny;
      if (rr >= 1) continue;
      const nz = Math.sqrt(1 - rr);
      // the viewer looks along −z: a mirror turns (0, 0, 1) about the normal
      const d = kind === 'mirror' ? [2 * nz * nx, 2 * nz * ny, 2 * nz * nz - 1] : [nx, ny, nz];
      const turned = [d[0] * c + d[2] * s, d[1], -d[0] * s + d[2] * c];
      const h = sh ? harmonics(turned) : [];
      for (let k = 0; k < 3; k++) {
        const light = sh ? sh.reduce((sum, v, i) => sum + v[k] * h[i], 0) * 0.8 : lookUp(env, turned, k);
        data[(y * size + x) * 4 + k] = tone(Math.max(0, light) * gain);
      }
      data[(y * size + x) * 4 + 3] = Math.round(255 * Math.min(1, ((1 - Math.sqrt(rr)) * size) / 2));
    }
  return { width: size, height: size, data };
}

/** The whole picture, unrolled. */
export function drawUnrolled(env: Radiance, width: number, exposureEv: number): Pixels {
  const height = Math.round(width / 2);
  const data = new Uint8Array(width * height * 4).fill(255);
  const gain = 2 ** exposureEv;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = (Math.floor(((y + 0.5) * env.height) / height) * env.width + Math.floor(((x + 0.5) * env.width) / width)) * 3;
      for (let k = 0; k < 3; k++) data[(y * width + x) * 4 + k] = tone(env.data[i + k] * gain);
    }
  return { width, height, data };
}
