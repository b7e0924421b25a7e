import { TGALoader } from 'three/addons/loaders/TGALoader.js';
import { INTAKE_LIMITS, IntakeError, type Pixels, pictureLeaf } from '@/core/intake';

/** Pixels that a byte of a TGA may stand for: a run of 128 takes two bytes at least (Truevision TGA 2.0, run-length packets). */
const PIXELS_A_BYTE = 64;

/** @throws {IntakeError} it says it is larger than its bytes can be, or than is read */
export function readTga(bytes: Uint8Array, name: string): Pixels {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [w, h] = bytes.length < 18 ? [0, 0] : [view.getUint16(12, true), view.getUint16(14, true)];
  const most = Math.min(INTAKE_LIMITS.pixels, bytes.length * PIXELS_A_BYTE);
  if (w * h > most)
    throw new IntakeError(
      'picture/too-large',
      `${pictureLeaf(name)} says it has ${w} × ${h} px; its ${bytes.length} bytes can hold ${most}. Save it again, or make it smaller.`,
    );
  const { data, width, height } = new TGALoader().parse(bytes.slice().buffer) as { data: Uint8Array; width: number; height: number };
  return { width, height, data };
}
