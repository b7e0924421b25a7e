/** What files that were made by hand are put together from. */
import { zlibSync } from 'fflate';

export const text = (s: string) => new TextEncoder().encode(s);
export const many = <T>(n: number, make: (i: number) => T) => Array.from({ length: n }, (_, i) => make(i));
export const join = (...parts: (Uint8Array | number[] | string)[]) =>
  new Uint8Array(Buffer.concat(parts.map((p) => (typeof p === 'string' ? text(p) : Uint8Array.from(p)))));
/** So many bytes of nothing, and some of them set. */
export const bytes = (n: number, set: Record<number, number[]>) => {
  const out = new Uint8Array(n);
  for (const [at, values] of Object.entries(set)) out.set(values, Number(at));
  return out;
};

const number = (size: number, write: (d: DataView) => void) => {
  const d = new DataView(new ArrayBuffer(size));
  write(d);
  return new Uint8Array(d.buffer);
};
export const u16 = (x: number) => number(2, (d) => d.setUint16(0, x, true));
export const u32 = (x: number) => number(4, (d) => d.setUint32(0, x, true));
export const be16 = (x: number) => number(2, (d) => d.setUint16(0, x));
export const be32 = (x: number) => number(4, (d) => d.setUint32(0, x));

const CRCS = many(256, (n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});
/** A chunk of a PNG with its checksum (PNG, third edition, section 5). */
export function pngChunk(type: string, data: Uint8Array): Uint8Array {
  const body = join(type, data);
  let crc = 0xffffffff;
  for (const b of body) crc = CRCS[(crc ^ b) & 255] ^ (crc >>> 8);
  return join(be32(data.length), body, be32((crc ^ 0xffffffff) >>> 0));
}
const PNG_MARK = [137, 80, 78, 71, 13, 10, 26, 10];
/** A PNG of one bit a pixel, black, as small as that packs, with more chunks before its picture (PNG, third edition, section 11). */
export function flatPng(width: number, height: number, before: readonly Uint8Array[] = [], interlaced = 0): Uint8Array {
  const rows = zlibSync(new Uint8Array((Math.ceil(width / 8) + 1) * height), { level: 9 });
  return pngOf(width, height, rows, before, interlaced);
}
/** A PNG that says it has a size, whatever its rows hold. */
export const pngOf = (width: number, height: number, rows: Uint8Array, before: readonly Uint8Array[] = [], interlaced = 0) =>
  join(
    PNG_MARK,
    pngChunk('IHDR', join(be32(width), be32(height), [1, 0, 0, 0, interlaced])),
    ...before,
    pngChunk('IDAT', rows),
    pngChunk('IEND', new Uint8Array()),
  );
