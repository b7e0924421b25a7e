/** Pictures of kinds that come beside older models: BMP and DDS, as pixels. */
import { decode as decodeBmp } from 'bmp-ts';
import decodeDxt from 'decode-dxt';
import { DDSLoader } from 'three/addons/loaders/DDSLoader.js';
import { INTAKE_LIMITS, IntakeError, type Pixels, pictureLeaf } from '@/core/intake';
import { readTga } from './tga';

/** Pixels that a byte may stand for: a run of 255 takes two bytes, a block of sixteen eight. */
const PIXELS_A_BYTE = 128;

/** @throws {IntakeError} it says it is larger than its bytes can be, or than is read */
function requireRoom(bytes: Uint8Array, name: string, [width, height]: readonly [number, number]): void {
  const most = Math.min(INTAKE_LIMITS.pixels, bytes.length * PIXELS_A_BYTE);
  if (width > 0 && height > 0 && width * height <= most) return;
  throw new IntakeError(
    'picture/too-large',
    `${pictureLeaf(name)} says it has ${width} × ${height} px; its ${bytes.length} bytes can hold ${most}. Save it again, or make it smaller.`,
  );
}

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** BMP of any depth, plain or in runs. Only 32 bits hold an alpha, and many writers leave it at nought. */
export function readBmp(bytes: Uint8Array, name: string): Pixels {
  const view = viewOf(bytes);
  requireRoom(bytes, name, bytes.length < 26 ? [0, 0] : [Math.abs(view.getInt32(18, true)), Math.abs(view.getInt32(22, true))]);
  // alpha, blue, green, red: in the other order that the package offers it forgets palettes
  const { width, height, bitPP, data } = decodeBmp(Buffer.from(bytes));
  const out = new Uint8Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = data[i ^ 3];
  let clear = true;
  for (let i = 3; i < out.length && clear; i += 4) clear = out[i] === 0;
  if (bitPP < 32 || clear) for (let i = 3; i < out.length; i += 4) out[i] = 255;
  return { width, height, data: out };
}

/** What three calls the block formats that are read here (EXT_texture_compression_s3tc). */
const BLOCKS: Record<number, string> = { 33776: 'dxt1', 33777: 'dxt1', 33778: 'dxt3', 33779: 'dxt5' };

/** The largest picture of a DDS: in blocks (DXT1, 3, 5) or as plain numbers. @throws {IntakeError} of another kind */
export function readDds(bytes: Uint8Array, name: string): Pixels {
  const view = viewOf(bytes);
  requireRoom(bytes, name, bytes.length < 128 ? [0, 0] : [view.getUint32(16, true), view.getUint32(12, true)]);
  const { mipmaps, format, width, height } = new DDSLoader().parse(bytes.slice().buffer, false);
  const first = mipmaps[0]?.data as Uint8Array | undefined;
  if (!first) throw new IntakeError('picture/unreadable', `${pictureLeaf(name)} is a DDS of a kind that is not read. Save it as PNG.`);
  const block = BLOCKS[format as number];
  if (!block) return { width, height, data: new Uint8Array(first) };
  // whole blocks, of which the last may reach beyond the edge
  const [wide, high] = [Math.ceil(width / 4) * 4, Math.ceil(height / 4) * 4];
  const all = decodeDxt(viewOf(first), wide, high, block);
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++) data.set(all.subarray(y * wide * 4, (y * wide + width) * 4), y * width * 4);
  return { width, height, data };
}

/** Formats that neither browsers nor our picture library read, by their importer. */
export const DECODERS: Readonly<Record<string, (bytes: Uint8Array, name: string) => Pixels>> = { tga: readTga, bmp: readBmp, dds: readDds };
