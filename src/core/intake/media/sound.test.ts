import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decodeWav, loudness, readWavLayout, silenceAtEnds, soundFindings, trimWav, waveform } from './sound';

const sine = (hz: number, peak: number, seconds: number, rate: number) =>
  Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => peak * Math.sin((2 * Math.PI * hz * i) / rate));
const db = (x: number) => 10 ** (x / 20);

/** A WAV by hand. `format`: 1 PCM, 3 float. */
function wavBytes(channels: Float32Array[], rate: number, bits: number, format = 1, declared?: number): Uint8Array {
  const n = channels[0].length;
  const step = bits / 8;
  const size = n * channels.length * step;
  const out = new Uint8Array(44 + size);
  const v = new DataView(out.buffer);
  out.set(new TextEncoder().encode('RIFF'), 0);
  v.setUint32(4, 36 + size, true);
  out.set(new TextEncoder().encode('WAVEfmt '), 8);
  v.setUint32(16, 16, true);
  v.setUint16(20, format, true);
  v.setUint16(22, channels.length, true);
  v.setUint32(24, rate, true);
  v.setUint16(32, channels.length * step, true);
  v.setUint16(34, bits, true);
  out.set(new TextEncoder().encode('data'), 36);
  v.setUint32(40, declared ?? size, true);
  for (let i = 0, at = 44; i < n; i++)
    for (const c of channels) {
      if (format === 3) v.setFloat32(at, c[i], true);
      else if (bits === 8) v.setUint8(at, Math.round(c[i] * 127) + 128);
      else if (bits === 16) v.setInt16(at, Math.round(c[i] * 32767), true);
      else if (bits === 24) {
        const x = Math.round(c[i] * 8388607);
        v.setUint16(at, x & 0xffff, true);
        v.setInt8(at + 2, x >> 16);
      } else v.setInt32(at, Math.round(c[i] * 2147483647), true);
      at += step;
    }
  return out;
}

describe('loudness', () => {
  test.each([44_100, 48_000, 22_050, 96_000])(
    '997 Hz at full scale in one channel is −3.01 LUFS (ITU-R BS.1770-4, annex 1), %i Hz',
    (sampleRate) => {
      expect(loudness({ sampleRate, channels: [sine(997, 1, 5, sampleRate), new Float32Array(5 * sampleRate)] })).toBeCloseTo(-3.01, 1);
    },
  );
  // EBU Tech 3341 (2016), table 1, cases 1 to 4: stereo 1 kHz, tolerance 0.1 LU
  const tone = (levels: [number, number][]) => {
    const parts = levels.map(([dbfs, s]) => sine(1000, db(dbfs), s, 48_000));
    const all = new Float32Array(parts.reduce((s, p) => s + p.length, 0));
    let at = 0;
    for (const p of parts) {
      all.set(p, at);
      at += p.length;
    }
    return loudness({ sampleRate: 48_000, channels: [all, all] }) as number;
  };
  test('EBU Tech 3341, case 1: −23 dBFS for 20 s', () => expect(Math.abs(tone([[-23, 20]]) + 23)).toBeLessThan(0.1));
  test('case 2: −33 dBFS for 20 s', () => expect(Math.abs(tone([[-33, 20]]) + 33)).toBeLessThan(0.1));
  test('case 3: quiet ends are gated', () =>
    expect(
      Math.abs(
        tone([
          [-36, 10],
          [-23, 60],
          [-36, 10],
        ]) + 23,
      ),
    ).toBeLessThan(0.1));
  test('case 4: so are still quieter ones', () =>
    expect(
      Math.abs(
        tone([
          [-72, 10],
          [-36, 10],
          [-23, 60],
          [-36, 10],
          [-72, 10],
        ]) + 23,
      ),
    ).toBeLessThan(0.1));
  test('silence and what is shorter than a block have none', () => {
    expect(loudness({ sampleRate: 48_000, channels: [new Float32Array(48_000)] })).toBeNull();
    expect(loudness({ sampleRate: 48_000, channels: [sine(997, 1, 0.3, 48_000)] })).toBeNull();
  });
});

describe('a WAV', () => {
  test.each([
    [8, 1, 0.02],
    [16, 1, 1e-4],
    [24, 1, 1e-6],
    [32, 1, 1e-6],
    [32, 3, 1e-7],
  ])('of %i bits, format %i, comes back as it was', (bits, format, off) => {
    const [a, b] = [sine(440, 0.8, 0.05, 8000), sine(330, 0.3, 0.05, 8000)];
    const { channels, sampleRate, layout } = decodeWav(wavBytes([a, b], 8000, bits, format));
    expect([sampleRate, channels.length, layout.bits]).toEqual([8000, 2, bits]);
    for (const [i, x] of a.entries()) expect(Math.abs(channels[0][i] - x)).toBeLessThan(off);
    for (const [i, x] of b.entries()) expect(Math.abs(channels[1][i] - x)).toBeLessThan(off);
  });
  test('that speaks of more than is there is read for what is there, and says so', () => {
    const lie = wavBytes([sine(440, 0.5, 1, 8000)], 8000, 16, 1, 4_000_000_000);
    const { channels, layout } = decodeWav(lie);
    expect(channels[0].length).toBe(8000);
    const findings = soundFindings({
      seconds: 1,
      declaredS: layout.declaredBytes / 16_000,
      silence: { startS: 0, endS: 0 },
      peak: 0.5,
      loudnessLufs: -9,
    });
    expect(findings.map((f) => f.code)).toEqual(['sound/length']);
    expect(findings[0].message).toContain('250000.00 s; 1.00 s are there');
  });
  test('of another coding, without samples or cut in its header is refused in words', () => {
    const alaw = wavBytes([sine(440, 0.5, 0.1, 8000)], 8000, 16);
    new DataView(alaw.buffer).setUint16(20, 6, true);
    expect(() => readWavLayout(alaw)).toThrow(/16-bit PCM/);
    expect(() => readWavLayout(alaw.slice(0, 36))).toThrow(/coded|no samples/);
    expect(() => readWavLayout(new Uint8Array(12))).toThrow(/no samples/);
  });
  test('any bytes end in an answer or an error in words', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.nat(199), fc.nat(255), (tail, at, value) => {
        const bytes = new Uint8Array([...wavBytes([new Float32Array(20)], 8000, 16).slice(0, 44), ...tail]);
        bytes[at % bytes.length] = value;
        try {
          decodeWav(bytes);
        } catch (e) {
          expect((e as { code?: string }).code).toMatch(/^sound\//);
        }
      }),
    ));
});

describe('what is silent', () => {
  const gap = 8000 * 0.5;
  const sound = new Float32Array(8000 * 2);
  sound.set(sine(440, 0.5, 1, 8000), gap);
  test('is found to the sample and trimmed to a margin of 10 ms', () => {
    const silence = silenceAtEnds({ sampleRate: 8000, channels: [sound] });
    // a sine begins at nothing
    expect(silence.startS).toBeCloseTo(0.5, 3);
    expect(silence.endS).toBeCloseTo(0.5, 3);
    const [f] = soundFindings({ seconds: 2, declaredS: null, silence, peak: 0.5, loudnessLufs: -9 });
    if (f.fix?.step !== 'trim') throw new Error('no trim');
    const cut = trimWav(wavBytes([sound], 8000, 16), f.fix.settings.fromS, f.fix.settings.toS);
    const after = decodeWav(cut);
    expect(after.channels[0].length / 8000).toBeCloseTo(1.02, 2);
    expect(soundFindings({ seconds: 1.02, declaredS: null, silence: silenceAtEnds(after), peak: 0.5, loudnessLufs: -9 })).toEqual([]);
    // sample for sample
    const from = Math.round(f.fix.settings.fromS * 8000);
    for (const [i, x] of after.channels[0].entries()) expect(Math.abs(x - sound[from + i])).toBeLessThan(1e-4);
  });
  test('throughout is told as such', () =>
    expect(soundFindings({ seconds: 2, declaredS: null, silence: { startS: 2, endS: 0 }, peak: 0, loudnessLufs: null })[0].code).toBe(
      'sound/silent',
    ));
  test('the waveform keeps the highest and lowest of every stretch', () => {
    const w = waveform({ sampleRate: 8000, channels: [sound] }, 4);
    expect(w).toHaveLength(8);
    expect(w.slice(0, 2)).toEqual([0, 0]);
    expect(w[2]).toBeCloseTo(-0.5, 2);
    expect(w[3]).toBeCloseTo(0.5, 2);
  });
});
