/** Animated PNG taken apart into PNGs of its frames, and frames put over each other. (W3C Portable Network Graphics, third edition, 2025.) */

import type { Pixels } from '../../math/pixels';
import { IntakeError } from '../errors';

export interface ApngFrame {
  /** A whole PNG of the frame's own size. */
  png: Uint8Array;
  x: number;
  y: number;
  width: number;
  height: number;
  delayMs: number;
  dispose: 'none' | 'background' | 'previous';
  blend: 'source' | 'over';
}
export interface Apng {
  width: number;
  height: number;
  /** 0: for ever. */
  plays: number;
  frames: ApngFrame[];
}

const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
export const MOST_FRAMES = 2000;

const CRC = /* @__PURE__ */ (() =>
  Uint32Array.from({ length: 256 }, (_, n) => {
    let c = n;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
    return c >>> 0;
  }))();
function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const b of bytes) c = CRC[(c ^ b) & 255] ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

function chunk(type: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(12 + data.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, data.length);
  out.set(
    [...type].map((c) => c.charCodeAt(0)),
    4,
  );
  out.set(data, 8);
  view.setUint32(8 + data.length, crc32(out.subarray(4, 8 + data.length)));
  return out;
}

const join = (parts: readonly Uint8Array[]) => {
  const out = new Uint8Array(parts.reduce((s, p) => s + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
};

/** The frames of an animated PNG; null where it is a still one. @throws {IntakeError} broken, or too many frames. */
export function readApng(bytes: Uint8Array): Apng | null {
  if (!SIGNATURE.every((b, i) => bytes[i] === b)) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const before: Uint8Array[] = [];
  let head: Uint8Array | null = null;
  let plays: number | null = null;
  const frames: (Omit<ApngFrame, 'png'> & { data: Uint8Array[] })[] = [];
  let started = false;
  for (let at = 8; at + 12 <= bytes.length; ) {
    const size = view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (at + 12 + size > bytes.length) break;
    const body = bytes.subarray(at + 8, at + 8 + size);
    const u32 = (o: number) => view.getUint32(at + 8 + o);
    const u16 = (o: number) => view.getUint16(at + 8 + o);
    if (type === 'IHDR') head = body;
    else if (type === 'acTL' && size >= 8) {
      plays = u32(4);
      if (u32(0) > MOST_FRAMES)
        throw new IntakeError('sequence/too-many', `The PNG says it has ${u32(0)} frames; up to ${MOST_FRAMES} are read. Cut it.`);
    } else if (type === 'fcTL' && size >= 26) {
      if (frames.length >= MOST_FRAMES) throw new IntakeError('sequence/too-many', `The PNG has more than ${MOST_FRAMES} frames. Cut it.`);
      const over = u16(22) || 100;
      frames.push({
        width: u32(4),
        height: u32(8),
        x: u32(12),
        y: u32(16),
        delayMs: (u16(20) / over) * 1000,
        dispose: (['none', 'background', 'previous'] as const)[body[24]] ?? 'none',
        blend: body[25] === 1 ? 'over' : 'source',
        data: [],
      });
    } else if (type === 'IDAT') {
      started = true;
      // a default picture that is no frame stands before the first frame's control
      frames.at(-1)?.data.push(body);
    } else if (type === 'fdAT' && size > 4) frames.at(-1)?.data.push(body.subarray(4));
    else if (!started && type !== 'IEND') before.push(bytes.subarray(at, at + 12 + size));
    at += 12 + size;
  }
  if (!head || plays === null || frames.length < 2) return null;
  const [width, height] = [
    new DataView(head.buffer, head.byteOffset).getUint32(0),
    new DataView(head.buffer, head.byteOffset).getUint32(4),
  ];
  const bad = frames.findIndex(
    (f) => f.width < 1 || f.height < 1 || f.x + f.width > width || f.y + f.height > height || f.data.length === 0,
  );
  if (bad >= 0)
    throw new IntakeError('sequence/unreadable', `Frame ${bad + 1} of the PNG lies outside its picture or is empty. Save it again.`);
  return {
    width,
    height,
    plays,
    frames: frames.map(({ data, ...f }) => {
      const ihdr = (head as Uint8Array).slice();
      const v = new DataView(ihdr.buffer);
      v.setUint32(0, f.width);
      v.setUint32(4, f.height);
      return {
        ...f,
        png: join([Uint8Array.from(SIGNATURE), chunk('IHDR', ihdr), ...before, chunk('IDAT', join(data)), chunk('IEND', new Uint8Array())]),
      };
    }),
  };
}

/** Decoded frames laid over each other as their controls say: whole pictures, in order. */
export function composeFrames({ width, height, frames }: Apng, decoded: readonly Pixels[]): Pixels[] {
  const canvas = new Uint8Array(width * height * 4);
  return frames.map((f, i) => {
    const before = f.dispose === 'previous' ? canvas.slice() : null;
    const p = decoded[i];
    for (let y = 0; y < f.height; y++)
      for (let x = 0; x < f.width; x++) {
        const from = (y * f.width + x) * 4;
        const to = ((f.y + y) * width + f.x + x) * 4;
        const a = p.data[from + 3] / 255;
        const under = canvas[to + 3] / 255;
        if (f.blend === 'source' || a === 1 || under === 0) {
          canvas.set(p.data.subarray(from, from + 4), to);
          continue;
        }
        if (a === 0) continue;
        const out = a + under * (1 - a);
        for (let k = 0; k < 3; k++) canvas[to + k] = Math.round((p.data[from + k] * a + canvas[to + k] * under * (1 - a)) / out);
        canvas[to + 3] = Math.round(out * 255);
      }
    const shown = { width, height, data: canvas.slice() };
    if (before) canvas.set(before);
    else if (f.dispose === 'background')
      for (let y = 0; y < f.height; y++) canvas.fill(0, ((f.y + y) * width + f.x) * 4, ((f.y + y) * width + f.x + f.width) * 4);
    return shown;
  });
}
