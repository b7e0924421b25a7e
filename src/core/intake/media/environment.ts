/** Environments: light from all round, as an equirectangular picture of linear radiance. */
import { direction, type Radiance } from '../../math/radiance';
import { IntakeError } from '../errors';
import type { Finding } from '../findings';
import type { EnvironmentFacts } from './facts';

const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** Cleans what no light can be: NaN and infinities take the largest finite value beside them, negatives become 0. Returns how many. */
export function cleanRadiance({ width, height, data }: Radiance): number {
  let wrong = 0;
  const bad: number[] = [];
  for (let i = 0; i < data.length; i++) {
    if (!Number.isFinite(data[i])) {
      wrong++;
      bad.push(i);
    } else if (data[i] < 0) data[i] = 0;
  }
  const was = new Set(bad);
  for (const i of bad) {
    const [p, k] = [Math.floor(i / 3), i % 3];
    const [x, y] = [p % width, Math.floor(p / width)];
    let best = 0;
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        const j = (Math.min(height - 1, Math.max(0, y + dy)) * width + ((x + dx + width) % width)) * 3 + k;
        if (!was.has(j)) best = Math.max(best, data[j]);
      }
    data[i] = best;
  }
  return wrong;
}

type Measured = Pick<EnvironmentFacts, 'exposureEv' | 'rangeEv' | 'brightest' | 'seam'>;

/** Widest cap in which light counts as one lamp. */
const LAMP_DEG = 10;

export function measureRadiance({ width, height, data }: Radiance): Measured {
  const luma = new Float32Array(width * height);
  for (let i = 0; i < luma.length; i++) luma[i] = LUMA[0] * data[i * 3] + LUMA[1] * data[i * 3 + 1] + LUMA[2] * data[i * 3 + 2];
  const row = Float64Array.from({ length: height }, (_, y) => Math.sin(((y + 0.5) / height) * Math.PI));
  const rowSum = row.reduce((s, x) => s + x, 0) * width;
  let total = 0;
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) total += luma[y * width + x] * row[y];
  const mean = total / rowSum;
  const sorted = Float32Array.from(luma).sort();
  const dark = Math.max(1e-6, sorted[Math.floor(0.01 * sorted.length)]);
  return {
    exposureEv: round(Math.log2(Math.max(mean, 1e-9)), 2),
    rangeEv: round(Math.log2(Math.max(dark, sorted[sorted.length - 1]) / dark), 1),
    brightest: brightest(luma, width, height, row, total),
    seam: seamOf(luma, width, height),
  };
}

const round = (x: number, digits: number) => Math.round(x * 10 ** digits) / 10 ** digits;

/** The middle of the brightest cap: light is first gathered in cells, then weighed round the fullest one. */
function brightest(luma: Float32Array, width: number, height: number, row: Float64Array, total: number): EnvironmentFacts['brightest'] {
  const cell = Math.max(1, Math.round(width / 72));
  let [best, bx, by] = [-1, 0, 0];
  for (let y = 0; y < height; y += cell)
    for (let x = 0; x < width; x += cell) {
      let sum = 0;
      let area = 0;
      for (let v = y; v < Math.min(height, y + cell); v++)
        for (let u = x; u < Math.min(width, x + cell); u++) {
          sum += luma[v * width + u] * row[v];
          area += row[v];
        }
      if (area > 0 && sum / area > best) [best, bx, by] = [sum / area, x + cell / 2, y + cell / 2];
    }
  let c = direction(bx, by, width, height);
  let share = 0;
  for (let round1 = 0; round1 < 3; round1++) {
    const sum = [0, 0, 0];
    let inside = 0;
    const near = Math.cos((LAMP_DEG * Math.PI) / 180);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const d = direction(x + 0.5, y + 0.5, width, height);
        if (d[0] * c[0] + d[1] * c[1] + d[2] * c[2] < near) continue;
        const e = luma[y * width + x] * row[y];
        inside += e;
        for (let k = 0; k < 3; k++) sum[k] += e * d[k];
      }
    const length = Math.hypot(...sum);
    if (length < 1e-12) break;
    c = sum.map((x) => x / length) as [number, number, number];
    share = total > 0 ? inside / total : 0;
  }
  return {
    bearingDeg: round((Math.atan2(c[0], c[2]) * 180) / Math.PI, 1),
    heightDeg: round((Math.asin(Math.max(-1, Math.min(1, c[1]))) * 180) / Math.PI, 1),
    share: round(share, 3),
  };
}

/** Mean step across the two ends over the mean step between neighbouring columns, in log luminance. 1: no seam. */
function seamOf(luma: Float32Array, width: number, height: number): number {
  const log = (x: number, y: number) => Math.log2(luma[y * width + x] + 1e-4);
  let [ends, inner] = [0, 0];
  for (let y = 0; y < height; y++) {
    ends += Math.abs(log(width - 1, y) - log(0, y)) / height;
    for (let x = 0; x + 1 < width; x++) inner += Math.abs(log(x + 1, y) - log(x, y)) / (height * (width - 1));
  }
  return round(ends / Math.max(inner, 0.004), 2);
}

export function environmentFindings(f: Pick<EnvironmentFacts, 'width' | 'height' | 'seam' | 'notFinite' | 'exposureEv'>): Finding[] {
  const out: Finding[] = [];
  if (f.notFinite > 0)
    out.push({
      code: 'environment/not-finite',
      level: 'warning',
      message: `${f.notFinite} values are no numbers or infinite. Here they take the brightest value beside them; elsewhere they show as black or burnt spots.`,
    });
  if (Math.abs(f.width / f.height - 2) > 0.01)
    out.push({
      code: 'environment/shape',
      level: 'warning',
      message: `It is ${f.width} × ${f.height} px. A picture of all round is twice as wide as high; this one is stretched to fit.`,
    });
  if (f.seam > 6)
    out.push({
      code: 'environment/seam',
      level: 'warning',
      message: `Its two ends do not meet: the step there is ${f.seam.toFixed(0)} times the usual one, a line in every reflection.`,
    });
  if (f.exposureEv < -6 || f.exposureEv > 6)
    out.push({
      code: 'environment/exposure',
      level: 'note',
      message: `It is ${Math.abs(f.exposureEv).toFixed(1)} stops ${f.exposureEv < 0 ? 'darker' : 'brighter'} than a mean of 1: everything in it will be ${f.exposureEv < 0 ? 'black' : 'white'} until exposure is set.`,
    });
  return out;
}

const MOST_PIXELS = 8192 * 4096;

/**
 * Reads a Radiance RGBE picture, flat or run-length coded. (Ward, Real Pixels, Graphics Gems II, 1991; the file format of the Radiance reference manual.)
 * @throws {IntakeError} broken, too large, or another coding.
 */
export function readRgbe(bytes: Uint8Array): Radiance {
  const broken = (why: string) => new IntakeError('environment/unreadable', `The HDR cannot be read: ${why}. Save it again.`);
  let at = 0;
  const line = () => {
    const from = at;
    while (at < bytes.length && bytes[at] !== 10 && at - from < 2000) at++;
    return String.fromCharCode(...bytes.subarray(from, at++));
  };
  if (!line().startsWith('#?')) throw broken('it does not begin as one');
  let exposure = 1;
  for (let text = line(); text !== ''; text = line()) {
    if (at >= bytes.length) throw broken('its header does not end');
    if (/^FORMAT=/i.test(text) && !/32-bit_rle_rgbe/.test(text)) throw broken('it is not coded as RGBE');
    const e = /^EXPOSURE=\s*(\S+)/i.exec(text);
    if (e) exposure *= Number(e[1]);
  }
  if (!(exposure > 0 && Number.isFinite(exposure))) exposure = 1;
  const size = /^-Y (\d+) \+X (\d+)$/.exec(line());
  if (!size) throw broken('its rows do not run from the top left');
  const [height, width] = [Number(size[1]), Number(size[2])];
  if (width < 2 || height < 1 || width * height > MOST_PIXELS)
    throw new IntakeError('environment/too-large', `The HDR says it has ${width} × ${height} px; up to ${MOST_PIXELS} pixels are read.`);
  // four bytes a pixel at most double when coded in runs; less than a run a row is no picture
  if (bytes.length - at < height * 4) throw broken('it ends too early');
  const data = new Float32Array(width * height * 3);
  const row = new Uint8Array(width * 4);
  for (let y = 0; y < height; y++) {
    if (width >= 8 && width < 32768 && bytes[at] === 2 && bytes[at + 1] === 2 && (bytes[at + 2] << 8) + bytes[at + 3] === width) {
      at += 4;
      for (let c = 0; c < 4; c++)
        for (let x = 0; x < width; ) {
          const n = bytes[at++];
          const run = n > 128;
          const count = run ? n - 128 : n;
          if (n === undefined || count === 0 || x + count > width) throw broken(`row ${y} is longer than it says`);
          for (let k = 0; k < count; k++) row[(x + k) * 4 + c] = bytes[run ? at : at + k];
          at += run ? 1 : count;
          x += count;
        }
    } else {
      row.set(bytes.subarray(at, at + width * 4));
      at += width * 4;
    }
    if (at > bytes.length) throw broken(`row ${y} is cut off`);
    for (let x = 0; x < width; x++) {
      const e = row[x * 4 + 3];
      if (e === 0) continue;
      const f = 2 ** (e - 136) / exposure;
      for (let k = 0; k < 3; k++) data[(y * width + x) * 3 + k] = row[x * 4 + k] * f;
    }
  }
  return { width, height, data };
}

/** Writes a flat Radiance RGBE picture. Values are kept to 1 part in 256. */
export function writeRgbe({ width, height, data }: Radiance): Uint8Array {
  const head = new TextEncoder().encode(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`);
  const out = new Uint8Array(head.length + width * height * 4);
  out.set(head);
  for (let i = 0; i < width * height; i++) {
    const [r, g, b] = [data[i * 3], data[i * 3 + 1], data[i * 3 + 2]];
    const top = Math.max(r, g, b);
    if (!(top > 1e-32)) continue;
    const e = Math.max(-127, Math.floor(Math.log2(top)) + 1);
    // rounding must not carry the largest over 255
    const f = 2 ** (8 - e);
    const at = head.length + i * 4;
    out.set([Math.min(255, Math.round(r * f)), Math.min(255, Math.round(g * f)), Math.min(255, Math.round(b * f)), e + 128], at);
  }
  return out;
}
