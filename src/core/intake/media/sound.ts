/** Sound: what a WAV holds, loudness, waveform, silence at its ends. */
import { IntakeError } from '../errors';
import type { Finding } from '../findings';

/** Decoded sound: one array a channel, −1..1. */
export interface Samples {
  sampleRate: number;
  channels: Float32Array[];
}

const MOST_SAMPLES = 300e6;

/** Where the samples of a WAV lie, and what they are. */
export interface WavLayout {
  sampleRate: number;
  channels: number;
  bits: number;
  float: boolean;
  /** First byte of the samples, and how many bytes of them are there. */
  dataAt: number;
  dataBytes: number;
  /** Bytes of samples the header speaks of. */
  declaredBytes: number;
}

/**
 * Reads the chunks of a RIFF WAVE (Microsoft/IBM multimedia programming interface 1.0, 1991). Lengths are checked against the file.
 * @throws {IntakeError} no format, no samples, or a coding that is not PCM or float.
 */
export function readWavLayout(bytes: Uint8Array): WavLayout {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  let format: Pick<WavLayout, 'sampleRate' | 'channels' | 'bits' | 'float'> | null = null;
  for (let at = 12; at + 8 <= bytes.length; ) {
    const size = view.getUint32(at + 4, true);
    const body = at + 8;
    if (tag(at) === 'fmt ' && body + 16 <= bytes.length) {
      let code = view.getUint16(body, true);
      if (code === 0xfffe && body + 26 <= bytes.length) code = view.getUint16(body + 24, true);
      const bits = view.getUint16(body + 14, true);
      format = { channels: view.getUint16(body + 2, true), sampleRate: view.getUint32(body + 4, true), bits, float: code === 3 };
      if ((code !== 1 && code !== 3) || ![8, 16, 24, 32, 64].includes(bits) || (code === 3 && bits < 32) || (code === 1 && bits === 64))
        throw new IntakeError(
          'sound/coding',
          `The WAV is coded in a way (${code}, ${bits} bits) that is not read here. Save it as 16-bit PCM.`,
        );
    }
    if (tag(at) === 'data') {
      if (!format) throw new IntakeError('sound/unreadable', 'The WAV has samples before it says what they are. Save it again.');
      const frame = (format.channels * format.bits) / 8;
      if (format.channels < 1 || format.channels > 32 || format.sampleRate < 1000 || format.sampleRate > 768_000)
        throw new IntakeError(
          'sound/unreadable',
          `The WAV says it has ${format.channels} channels at ${format.sampleRate} Hz. Save it again.`,
        );
      const there = Math.min(size, bytes.length - body);
      return { ...format, dataAt: body, dataBytes: there - (there % frame), declaredBytes: size };
    }
    at = body + size + (size % 2);
  }
  throw new IntakeError('sound/unreadable', 'The WAV has no samples. Save it again.');
}

/** @throws {IntakeError} as readWavLayout, or more samples than are read. */
export function decodeWav(bytes: Uint8Array): Samples & { layout: WavLayout } {
  const layout = readWavLayout(bytes);
  const { channels, bits, float, dataAt, dataBytes, sampleRate } = layout;
  const step = bits / 8;
  const frames = dataBytes / (step * channels);
  if (frames * channels > MOST_SAMPLES)
    throw new IntakeError('sound/too-long', `The sound has ${frames * channels} samples; up to ${MOST_SAMPLES} are read. Cut it.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset + dataAt, dataBytes);
  const read = float
    ? bits === 32
      ? (at: number) => view.getFloat32(at, true)
      : (at: number) => view.getFloat64(at, true)
    : bits === 8
      ? (at: number) => (view.getUint8(at) - 128) / 128
      : bits === 16
        ? (at: number) => view.getInt16(at, true) / 32768
        : bits === 24
          ? (at: number) => (view.getUint16(at, true) + view.getInt8(at + 2) * 65536) / 8388608
          : (at: number) => view.getInt32(at, true) / 2147483648;
  const out = Array.from({ length: channels }, () => new Float32Array(frames));
  for (let f = 0, at = 0; f < frames; f++)
    for (let c = 0; c < channels; c++, at += step) {
      const x = read(at);
      out[c][f] = Number.isFinite(x) ? x : 0;
    }
  return { sampleRate, channels: out, layout };
}

/** The 44 bytes that go before so many bytes of samples. */
export function wavHeader(
  { sampleRate, channels, bits, float }: Pick<WavLayout, 'sampleRate' | 'channels' | 'bits' | 'float'>,
  dataBytes: number,
): Uint8Array {
  const out = new Uint8Array(44);
  const view = new DataView(out.buffer);
  const frame = (channels * bits) / 8;
  const text = (at: number, s: string) => out.set(new TextEncoder().encode(s), at);
  text(0, 'RIFF');
  view.setUint32(4, 36 + dataBytes, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, float ? 3 : 1, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * frame, true);
  view.setUint16(32, frame, true);
  view.setUint16(34, bits, true);
  text(36, 'data');
  view.setUint32(40, dataBytes, true);
  return out;
}

/** The stretch of a WAV between two times, sample for sample, in the same coding. */
export function trimWav(bytes: Uint8Array, fromS: number, toS: number): Uint8Array {
  const l = readWavLayout(bytes);
  const frame = (l.channels * l.bits) / 8;
  const frames = l.dataBytes / frame;
  const clamp = (s: number) => Math.min(frames, Math.max(0, Math.round(s * l.sampleRate)));
  const [a, b] = [clamp(fromS), clamp(toS)];
  const data = bytes.subarray(l.dataAt + a * frame, l.dataAt + Math.max(a, b) * frame);
  const out = new Uint8Array(44 + data.length);
  out.set(wavHeader(l, data.length));
  out.set(data, 44);
  return out;
}

interface Biquad {
  b: [number, number, number];
  a: [number, number];
}

/** The two filters of K-weighting at any rate: the analogue prototypes behind the table of BS.1770 for 48 kHz (*as in EBU's open implementations, from memory*). */
function kWeighting(rate: number): [Biquad, Biquad] {
  const shelf = (): Biquad => {
    const [f0, gain, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
    const k = Math.tan((Math.PI * f0) / rate);
    const vh = 10 ** (gain / 20);
    const vb = vh ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b: [(vh + (vb * k) / q + k * k) / a0, (2 * (k * k - vh)) / a0, (vh - (vb * k) / q + k * k) / a0],
      a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0],
    };
  };
  const high = (): Biquad => {
    const [f0, q] = [38.13547087602444, 0.5003270373238773];
    const k = Math.tan((Math.PI * f0) / rate);
    const a0 = 1 + k / q + k * k;
    return { b: [1, -2, 1], a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] };
  };
  return [shelf(), high()];
}

function filtered(x: Float32Array, f: Biquad): Float32Array {
  const out = new Float32Array(x.length);
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  for (let i = 0; i < x.length; i++) {
    const y = f.b[0] * x[i] + f.b[1] * x1 + f.b[2] * x2 - f.a[0] * y1 - f.a[1] * y2;
    x2 = x1;
    x1 = x[i];
    y2 = y1;
    y1 = y;
    out[i] = y;
  }
  return out;
}

/**
 * Integrated loudness in LUFS (ITU-R BS.1770-4): K-weighted, blocks of 400 ms overlapping by 75 %, gated at −70 LUFS and 10 LU under
 * the mean. Channels 4 and 5 of five or more count as surrounds, ×1.41; a sixth is the low one and counts nothing where it stands fourth.
 * null where there is no block above −70.
 */
export function loudness({ sampleRate, channels }: Samples): number | null {
  const [first, second] = kWeighting(sampleRate);
  const hop = Math.round(sampleRate * 0.1);
  const length = channels[0]?.length ?? 0;
  const steps = Math.floor(length / hop);
  if (steps < 4) return null;
  const weights = channels.map((_, c) => (channels.length >= 5 ? (channels.length === 6 && c === 3 ? 0 : c >= 3 ? 1.41 : 1) : 1));
  const energy = new Float64Array(steps);
  channels.forEach((x, c) => {
    const y = filtered(filtered(x, first), second);
    for (let s = 0; s < steps; s++) {
      let e = 0;
      for (let i = s * hop; i < (s + 1) * hop; i++) e += y[i] * y[i];
      energy[s] += (weights[c] * e) / hop;
    }
  });
  const blocks: number[] = [];
  for (let s = 0; s + 4 <= steps; s++) blocks.push((energy[s] + energy[s + 1] + energy[s + 2] + energy[s + 3]) / 4);
  const lufs = (e: number) => -0.691 + 10 * Math.log10(e);
  const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / list.length;
  const loud = blocks.filter((e) => lufs(e) > -70);
  if (loud.length === 0) return null;
  const gate = lufs(mean(loud)) - 10;
  return lufs(mean(loud.filter((e) => lufs(e) > gate)));
}

/** Lowest and highest sample of `bins` equal stretches, all channels together, in turn. */
export function waveform({ channels }: Samples, bins = 400): number[] {
  const n = channels[0]?.length ?? 0;
  const count = Math.min(bins, n);
  const out: number[] = [];
  for (let b = 0; b < count; b++) {
    let [lo, hi] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const c of channels)
      for (let i = Math.floor((b * n) / count); i < Math.floor(((b + 1) * n) / count); i++) {
        if (c[i] < lo) lo = c[i];
        if (c[i] > hi) hi = c[i];
      }
    out.push(Math.round(lo * 1000) / 1000, Math.round(hi * 1000) / 1000);
  }
  return out;
}

/** Below this a sample is silence: −60 dB of full scale. */
const SILENT = 0.001;

export function silenceAtEnds({ sampleRate, channels }: Samples): { startS: number; endS: number } {
  const n = channels[0]?.length ?? 0;
  const loud = (i: number) => channels.some((c) => Math.abs(c[i]) > SILENT);
  let a = 0;
  while (a < n && !loud(a)) a++;
  let b = n;
  while (b > a && !loud(b - 1)) b--;
  return { startS: a / sampleRate, endS: (n - b) / sampleRate };
}

export const peakOf = ({ channels }: Samples): number => channels.reduce((m, c) => c.reduce((k, x) => Math.max(k, Math.abs(x)), m), 0);

/** Silence shorter than this is left; what is kept before and after the sound, so that nothing clicks. */
const LONGEST_SILENCE_S = 0.1;
const MARGIN_S = 0.01;

export interface SoundState {
  seconds: number;
  declaredS: number | null;
  silence: { startS: number; endS: number };
  peak: number;
  loudnessLufs: number | null;
}

export function soundFindings(s: SoundState): Finding[] {
  const out: Finding[] = [];
  const secs = (x: number) => `${x.toFixed(2)} s`;
  if (s.declaredS !== null && Math.abs(s.declaredS - s.seconds) > 0.05)
    out.push({
      code: 'sound/length',
      level: 'warning',
      message: `Its header speaks of ${secs(s.declaredS)}; ${secs(s.seconds)} are there. It was cut off, or its header is wrong.`,
    });
  const { startS, endS } = s.silence;
  if (s.peak <= SILENT)
    out.push({ code: 'sound/silent', level: 'warning', message: 'Nothing is heard in it: it never rises above −60 dB.' });
  else if (startS > LONGEST_SILENCE_S || endS > LONGEST_SILENCE_S) {
    const fromS = startS > LONGEST_SILENCE_S ? Math.max(0, startS - MARGIN_S) : 0;
    const toS = endS > LONGEST_SILENCE_S ? Math.min(s.seconds, s.seconds - endS + MARGIN_S) : s.seconds;
    out.push({
      code: 'sound/silence',
      level: 'note',
      message: `It is silent for ${[
        ...(startS > LONGEST_SILENCE_S ? [`${secs(startS)} at its start`] : []),
        ...(endS > LONGEST_SILENCE_S ? [`${secs(endS)} at its end`] : []),
      ].join(' and ')}: it ${startS > LONGEST_SILENCE_S ? 'answers late, and ' : ''}loops with a hole.`,
      fix: {
        step: 'trim',
        settings: { fromS: Math.round(fromS * 1e4) / 1e4, toS: Math.round(toS * 1e4) / 1e4 },
        changes: [`${secs(s.seconds)} becomes ${secs(toS - fromS)}.`],
      },
    });
  }
  if (s.peak >= 0.9999)
    out.push({
      code: 'sound/clipped',
      level: 'note',
      message: 'It reaches full scale: listen whether it crackles, and ask for a quieter one.',
    });
  return out;
}
