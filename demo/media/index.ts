/** Invented stock files that are no models, made from numbers: a flame in frames, a bell, a walk, a poster. */
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { wavHeader, writeRgbe } from '@/core/intake';
import { seededRandom } from '@/core/math';
import { makeSky } from '@/core/scene';

const png = (data: Uint8Array, width: number, height: number) =>
  sharp(data, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();

/** A lantern's flame at a time of its round, 0..1: soft at its edge, clear round it. */
export function flameFrame(at: number, edge: number): Uint8Array {
  const out = new Uint8Array(edge * edge * 4);
  const turn = at * Math.PI * 2;
  for (let y = 0; y < edge; y++)
    for (let x = 0; x < edge; x++) {
      const v = 1 - (y + 0.5) / edge;
      const sway = 0.06 * Math.sin(turn + v * 5) * v + 0.03 * Math.sin(2 * turn - v * 9) * v;
      const u = (x + 0.5) / edge - 0.5 - sway;
      const tall = 0.86 + 0.07 * Math.sin(turn * 3);
      const body = v < 0.06 || v > tall ? 0 : 0.23 * Math.sqrt(Math.sin(Math.PI * ((v - 0.06) / (tall - 0.06)) ** 0.62));
      const inside = body > 0 ? 1 - Math.abs(u) / body : -1;
      const a = Math.min(1, Math.max(0, inside * 3.2));
      const hot = Math.min(1, Math.max(0, inside * 1.5 - v * 0.35));
      out.set([255, Math.round(120 + 120 * hot), Math.round(30 + 190 * hot * hot), Math.round(255 * a)], (y * edge + x) * 4);
    }
  return out;
}

/** Numbered PNG frames in a zip; one number can be left out. */
export async function flameZip(frames = 16, edge = 96, without: readonly number[] = []): Promise<Uint8Array> {
  const files: Record<string, [Uint8Array, { level: 0; mtime: Date }]> = {};
  for (let i = 1; i <= frames; i++)
    if (!without.includes(i))
      files[`flame/flame_${i}.png`] = [
        await png(flameFrame((i - 1) / frames, edge), edge, edge),
        { level: 0, mtime: new Date('2026-01-01T00:00:00') },
      ];
  return zipSync(files);
}

/** 16-bit PCM. `declared` bytes of samples where its header shall say something else. */
export function wav(channels: readonly Float32Array[], sampleRate: number, declared?: number): Uint8Array {
  const n = channels[0].length;
  const size = n * channels.length * 2;
  const out = new Uint8Array(44 + size);
  const view = new DataView(out.buffer);
  out.set(wavHeader({ sampleRate, channels: channels.length, bits: 16, float: false }, declared ?? size));
  for (let i = 0, at = 44; i < n; i++)
    for (const c of channels) {
      view.setInt16(at, Math.round(Math.max(-1, Math.min(1, c[i])) * 32767), true);
      at += 2;
    }
  return out;
}

/** A buoy's bell: three strokes, with silence before and after them. */
export function bellWav(sampleRate = 22_050): Uint8Array {
  const seconds = 4.2;
  const left = new Float32Array(Math.round(seconds * sampleRate));
  const right = new Float32Array(left.length);
  // partials of a bell: hum, prime, tierce, quint, nominal (*common practice*)
  const partials = [0.5, 1, 1.2, 1.5, 2, 2.7];
  for (const [k, start] of [0.5, 1.35, 2.3].entries())
    for (let i = Math.round(start * sampleRate); i < Math.round(3.6 * sampleRate); i++) {
      const t = i / sampleRate - start;
      const s = partials.reduce((sum, p, j) => sum + (Math.sin(2 * Math.PI * 523 * p * t) * Math.exp(-t * (2.2 + j * 1.3))) / (1 + j), 0);
      left[i] += s * 0.22 * (k === 1 ? 0.7 : 1);
      right[i] += s * 0.22 * (k === 1 ? 1 : 0.7);
    }
  return wav([left, right], sampleRate);
}

/** A walk of a figure in centimetres, two steps a second, going fore; frames come round but for the way it went. */
export function walkBvh(frames = 60, frameS = 1 / 30): string {
  const joint = (kind: string, name: string, offset: number[], inside: string, root = false) =>
    `${kind} ${name}\n{\nOFFSET ${offset.join(' ')}\nCHANNELS ${root ? '6 Xposition Yposition Zposition' : '3'} Zrotation Xrotation Yrotation\n${inside}}\n`;
  const end = (offset: number[]) => `End Site\n{\nOFFSET ${offset.join(' ')}\n}\n`;
  const leg = (side: number, name: string) =>
    joint(
      'JOINT',
      `${name}Thigh`,
      [9 * side, -4, 0],
      joint('JOINT', `${name}Shin`, [0, -42, 0], joint('JOINT', `${name}Foot`, [0, -42, 0], end([0, -4, 14]))),
    );
  const arm = (side: number, name: string) =>
    joint('JOINT', `${name}Arm`, [17 * side, 20, 0], joint('JOINT', `${name}Forearm`, [2 * side, -28, 0], end([0, -26, 2])));
  const tree = joint(
    'ROOT',
    'Hips',
    [0, 0, 0],
    leg(1, 'Left') +
      leg(-1, 'Right') +
      joint('JOINT', 'Chest', [0, 24, 0], arm(1, 'Left') + arm(-1, 'Right') + joint('JOINT', 'Head', [0, 30, 0], end([0, 22, 0]))),
    true,
  );
  const lines: string[] = [];
  for (let f = 0; f < frames; f++) {
    const t = (f / (frames - 1)) * 2 * Math.PI * 2;
    const s = Math.sin(t);
    const values = [0, 92 + 2 * Math.cos(2 * t), f * frameS * 130, 0, 0, 0];
    for (const side of [1, -1]) {
      const swing = 26 * s * side;
      values.push(0, swing, 0, 0, Math.max(4, 34 * -Math.cos(t) * side), 0, 0, -swing * 0.3, 0);
    }
    values.push(0, 2, 6 * s);
    for (const side of [1, -1]) values.push(6 * side, -20 * s * side, 0, 0, -18, 0);
    values.push(0, -2, -4 * s);
    lines.push(values.map((v) => v.toFixed(4)).join(' '));
  }
  return `HIERARCHY\n${tree}MOTION\nFrames: ${frames}\nFrame Time: ${frameS.toFixed(7)}\n${lines.join('\n')}\n`;
}

/** A pennant cut out of white paper: its clear pixels are still white, as a careless export leaves them. */
export async function pennantPng(edge = 320): Promise<Uint8Array> {
  const data = new Uint8Array(edge * edge * 4).fill(255);
  const random = seededRandom(7);
  for (let y = 0; y < edge; y++)
    for (let x = 0; x < edge; x++) {
      const [u, v] = [x / edge, y / edge];
      const half = 0.34 * (1 - u);
      const d = (half - Math.abs(v - 0.5 - 0.03 * Math.sin(u * 9))) * edge;
      const a = u < 0.06 || u > 0.96 ? 0 : Math.min(1, Math.max(0, d + 0.5));
      const stripe = Math.floor(u * 7) % 2 === 0;
      const shade = 0.9 + 0.1 * random();
      const c = stripe ? [168, 42, 34] : [240, 232, 214];
      data.set(
        a > 0 ? [...c.map((k) => Math.round(k * shade * a + 255 * (1 - a))), Math.round(a * 255)] : [255, 255, 255, 0],
        (y * edge + x) * 4,
      );
    }
  return png(data, edge, edge);
}

export const skyHdr = (name: Parameters<typeof makeSky>[0], width = 256): Uint8Array => writeRgbe(makeSky(name, width));
