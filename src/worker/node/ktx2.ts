/**
 * KTX2 pictures (Khronos KTX 2.0 with Basis Universal payloads, as KHR_texture_basisu asks for): they stay small in the memory of
 * a graphics chip. Colours and plain numbers as ETC1S, directions as UASTC, which keeps them straighter for more bytes.
 */
import type { NodeBasisEncoder } from 'ktx2-encoder';
import type { Pixels } from '@/core/intake';

const MAGIC = [0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30, 0xbb];
export const isKtx2 = (bytes: Uint8Array): boolean => MAGIC.every((b, i) => bytes[i] === b);

/** What of the module's own interface is used here. */
interface Basis {
  KTX2File: new (
    bytes: Uint8Array,
  ) => {
    isValid: () => boolean;
    getWidth: () => number;
    getHeight: () => number;
    startTranscoding: () => number;
    transcodeImage: (
      to: Uint8Array,
      level: number,
      layer: number,
      face: number,
      format: number,
      alpha: number,
      c0: number,
      c1: number,
    ) => number;
    close: () => void;
    delete: () => void;
  };
  transcoder_texture_format: { cTFRGBA32: { value: number } };
}

let made: Promise<NodeBasisEncoder> | null = null;
const encoder = () => {
  made ??= import('ktx2-encoder').then((m) => new m.NodeBasisEncoder());
  return made;
};
/** The first is the module's own working state: one picture at a time. */
let turn: Promise<unknown> = Promise.resolve();
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const next = turn.then(work, work);
  turn = next.catch(() => undefined);
  return next;
}

/** Less effort than the encoder's usual: a picture of 1024² takes four seconds, not nine, for a hundredth more bytes. */
const EFFORT = 1;

/** @param pixels RGBA; both edges must be multiples of four @param quality 1 to 100 */
export const encodeKtx2 = (pixels: Pixels, quality: number, numbers: boolean, directions: boolean): Promise<Uint8Array> =>
  inTurn(async () =>
    (await encoder()).encode(pixels.data, {
      isKTX2File: true,
      generateMipmap: true,
      isUASTC: directions,
      needSupercompression: directions,
      isNormalMap: directions,
      isPerceptual: !numbers,
      isSetKTX2SRGBTransferFunc: !numbers,
      qualityLevel: Math.max(1, Math.round(quality * 2.55)),
      compressionLevel: EFFORT,
      imageDecoder: async () => ({ width: pixels.width, height: pixels.height, data: pixels.data }),
    }),
  );

/** The largest level, unpacked. @throws {Error} no KTX2 of a kind that is known */
export const decodeKtx2 = (bytes: Uint8Array): Promise<Pixels> =>
  inTurn(async () => {
    const basis = (await (await encoder()).init()) as unknown as Basis;
    const file = new basis.KTX2File(bytes);
    try {
      if (!file.isValid() || !file.startTranscoding()) throw new Error('no readable KTX2');
      const [width, height] = [file.getWidth(), file.getHeight()];
      const data = new Uint8Array(width * height * 4);
      if (!file.transcodeImage(data, 0, 0, 0, basis.transcoder_texture_format.cTFRGBA32.value, 0, -1, -1)) throw new Error('broken KTX2');
      return { width, height, data };
    } finally {
      file.close();
      file.delete();
    }
  });
