/** Pictures in Node: decoding every format there is, steps, facts. */
import sharp from 'sharp';
import {
  type AlphaKind,
  alphaStats,
  bleedColour,
  findImporter,
  IntakeError,
  mmOfPixels,
  type PICTURE_FORMATS,
  type PictureFacts,
  type Pixels,
  packingFor,
  pictureFindings,
  pictureLeaf,
  pictureLook,
  pixelsFor,
  profileFinding,
  profileName,
  safeSvg,
  svgInPixels,
} from '@/core/intake';
import type { StepDraft } from '@/core/piece';
import { crop, picturePlane, straighten } from '@/core/prepare';
import { sha256Hex } from '../codecs';
import { writeGlb } from '../glb';
import { nodePictures } from '../pictures';
import { DECODERS } from './bitmaps';

type Format = (typeof PICTURE_FORMATS)[number];

/** A picture as it is used, and what its source says of itself. */
export interface ReadPicture {
  bytes: Uint8Array;
  mime: 'image/png' | 'image/jpeg' | 'image/webp';
}

const open = (bytes: Uint8Array) => sharp(bytes, { limitInputPixels: pixelsFor(bytes.length), failOn: 'error' });
const unreadable = (name: string, why: string) =>
  new IntakeError('picture/unreadable', `${pictureLeaf(name)} cannot be read as a picture: ${why.slice(0, 120)}. Save it again.`);
const tooLarge = (name: string, w: number, h: number, most: number) =>
  new IntakeError(
    'picture/too-large',
    `${pictureLeaf(name)} says it has ${w} × ${h} px; up to ${most} pixels are read of such a file. Make it smaller.`,
  );

export function pictureFormat(bytes: Uint8Array, name: string): Format {
  const importer = findImporter(bytes.subarray(0, 4096), name);
  if (importer?.road !== 'picture') throw unreadable(name, 'it is no picture');
  return importer.id as Format;
}

/** Edge a drawing without pixels of its own is drawn at. */
const SVG_EDGE = 1024;

async function drawSvg(bytes: Uint8Array, name: string, width?: number): Promise<{ png: Uint8Array; density: number | null }> {
  const { text: plain, widthMm } = svgInPixels(safeSvg(bytes));
  const text = Buffer.from(plain);
  const { width: w = 0, height: h = 0 } = await sharp(text, { limitInputPixels: pixelsFor(text.length) })
    .metadata()
    .catch((e: Error) => {
      throw unreadable(name, e.message);
    });
  if (!(w > 0 && h > 0)) throw unreadable(name, 'it has no size');
  const wide = width ?? Math.round((SVG_EDGE * w) / Math.max(w, h));
  const high = Math.max(1, Math.round((wide * h) / w));
  if (wide * high > pixelsFor(text.length)) throw tooLarge(name, wide, high, pixelsFor(text.length));
  // drawn at that size, not drawn small and enlarged
  const density = Math.min(2400, Math.max(1, (72 * wide) / w));
  const drawn = await sharp(text, { density, limitInputPixels: pixelsFor(text.length) })
    .resize(Math.max(1, wide), high, { fit: 'fill' })
    .png()
    .toBuffer();
  return { png: drawn, density: widthMm === null ? null : Math.max(1, wide) / (widthMm / 25.4) };
}

async function readFlatPsd(bytes: Uint8Array, name: string): Promise<Pixels> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 26) throw unreadable(name, 'it ends too early');
  const [height, width] = [view.getUint32(14), view.getUint32(18)];
  if (width * height > pixelsFor(bytes.length) / 4) throw tooLarge(name, width, height, pixelsFor(bytes.length) / 4);
  const { initializeCanvas, readPsd } = await import('ag-psd');
  // the package draws nothing: it is given a plain array in place of a canvas
  initializeCanvas(
    () => {
      throw new Error('no canvas');
    },
    (w: number, h: number) => ({ width: w, height: h, data: new Uint8ClampedArray(w * h * 4), colorSpace: 'srgb' }) as ImageData,
  );
  const psd = readPsd(bytes, { useImageData: true, skipLayerImageData: true, skipThumbnail: true, skipLinkedFilesData: true });
  if (!psd.imageData) throw unreadable(name, 'it was saved without its flat picture');
  const { data } = psd.imageData;
  return { width: psd.imageData.width, height: psd.imageData.height, data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength) };
}

/** As PNG; alpha that is opaque everywhere is no part of it. */
export async function encodePixels({ width, height, data }: Pixels): Promise<Uint8Array> {
  let opaque = true;
  for (let i = 3; i < data.length && opaque; i += 4) opaque = data[i] === 255;
  const picture = sharp(data, { raw: { width, height, channels: 4 } });
  return (opaque ? picture.removeAlpha() : picture).png({ compressionLevel: 9 }).toBuffer();
}

/** RGBA in sRGB, turned upright, the first frame. */
export async function decodePixels(bytes: Uint8Array): Promise<Pixels> {
  const { data, info } = await open(bytes).rotate().toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength) };
}

interface Source {
  format: Format;
  space: string;
  profile: string | null;
  bits: number;
  density: number | null;
  used: ReadPicture;
  lossy: boolean;
}

const BITS: Record<string, number> = { uchar: 8, char: 8, ushort: 16, short: 16, uint: 32, int: 32, float: 32, double: 64 };

/** The picture as it is used: the file itself where glTF and browsers read it as it is, else a PNG. */
async function readSource(name: string, bytes: Uint8Array, rasterWidth?: number): Promise<Source> {
  const format = pictureFormat(bytes, name);
  const png = (b: Uint8Array): ReadPicture => ({ bytes: new Uint8Array(b), mime: 'image/png' });
  const plain = { format, space: 'srgb', profile: null, bits: 8, density: null, lossy: false };
  try {
    if (format === 'svg') {
      const drawn = await drawSvg(bytes, name, rasterWidth);
      return { ...plain, used: png(drawn.png), density: drawn.density };
    }
    if (format === 'psd') return { ...plain, used: png(await encodePixels(await readFlatPsd(bytes, name))) };
    const decoded = DECODERS[format]?.(bytes, name);
    if (decoded) return { ...plain, used: png(await encodePixels(decoded)) };
    const meta = await open(bytes).metadata();
    const { width = 0, height = 0, space = 'srgb', density, icc, depth = 'uchar', orientation = 1 } = meta;
    if (!(width > 0 && height > 0)) throw new Error('it has no size');
    const asIs =
      (format === 'png' || format === 'jpeg' || format === 'webp') && orientation <= 1 && space !== 'cmyk' && (meta.pages ?? 1) === 1;
    const used: ReadPicture = asIs
      ? { bytes, mime: format === 'png' ? 'image/png' : format === 'jpeg' ? 'image/jpeg' : 'image/webp' }
      : png(await encodePixels(await decodePixels(bytes)));
    // decoded whole, so that a file that ends half way is refused now
    if (asIs) await open(bytes).stats();
    return {
      format,
      space,
      profile: icc ? profileName(icc) : null,
      bits: BITS[depth] ?? 8,
      density: density && density > 1 && density !== 72 ? density : null,
      used,
      lossy: format === 'jpeg' || format === 'avif' || (format === 'webp' && isLossyWebp(bytes)),
    };
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    const { message } = error as Error;
    const size = /pixel limit/i.test(message)
      ? await sharp(bytes, { limitInputPixels: false })
          .metadata()
          .catch(() => null)
      : null;
    throw size ? tooLarge(name, size.width ?? 0, size.height ?? 0, pixelsFor(bytes.length)) : unreadable(name, message);
  }
}

/** A WebP whose picture chunk is `VP8 `; `VP8L` is lossless. (RFC 9649) */
function isLossyWebp(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 12; at + 8 <= bytes.length; ) {
    const tag = String.fromCharCode(...bytes.subarray(at, at + 4));
    if (tag === 'VP8 ') return true;
    if (tag === 'VP8L') return false;
    const size = view.getUint32(at + 4, true);
    at += 8 + size + (size % 2);
  }
  return false;
}

/** Above this many pixels a packing is not tried and alpha is looked at on a smaller copy. */
const TRIAL_PIXELS = 16e6;

export async function pack(
  p: Pixels | Uint8Array,
  format: 'png' | 'jpeg' | 'webp',
  quality: number,
  alpha: AlphaKind,
): Promise<ReadPicture> {
  const image =
    p instanceof Uint8Array
      ? open(p).rotate().toColourspace('srgb')
      : sharp(p.data, { raw: { width: p.width, height: p.height, channels: 4 } });
  const flat = alpha === 'none' ? image.removeAlpha() : image;
  const out =
    format === 'jpeg'
      ? image.removeAlpha().jpeg({ quality, mozjpeg: true })
      : format === 'webp'
        ? flat.webp({ quality, alphaQuality: 100, exact: true })
        : flat.png({ compressionLevel: 9 });
  return { bytes: new Uint8Array(await out.toBuffer()), mime: `image/${format}` };
}

export interface PictureResult {
  facts: PictureFacts;
  used: ReadPicture;
  /** The plane it hangs as. */
  glb: Uint8Array;
}

const settingsOf = <K extends StepDraft['step']>(steps: readonly StepDraft[], step: K) =>
  steps.findLast((s): s is Extract<StepDraft, { step: K }> => s.step === step)?.settings as
    | Extract<StepDraft, { step: K }>['settings']
    | undefined;

/**
 * Reads a picture and does its steps, in the order they are in.
 * @param options.tryPacking whether other packings are tried for their weight
 * @throws {IntakeError} unreadable, too large, or a step that does not fit it.
 */
export async function readPicture(
  name: string,
  bytes: Uint8Array,
  steps: readonly StepDraft[] = [],
  { tryPacking = true } = {},
): Promise<PictureResult> {
  const source = await readSource(name, bytes, settingsOf(steps, 'raster')?.width);
  let used = source.used;
  let lossy = source.lossy;
  let { profile } = source;
  for (const s of steps) {
    if (s.step === 'straighten' || s.step === 'crop' || (s.step === 'alpha' && s.settings.ops.includes('bleed'))) {
      let p = await decodePixels(used.bytes);
      if (s.step === 'straighten') p = straighten(p, s.settings.corners, s.settings.width, s.settings.height);
      else if (s.step === 'crop') p = crop(p, s.settings.x, s.settings.y, s.settings.width, s.settings.height);
      else p = bleedColour(p);
      const { kind } = alphaStats(p);
      used = await pack(p, 'png', 100, kind === 'none' && s.step !== 'alpha' ? 'none' : kind);
      lossy = false;
      profile = null;
    }
    if (s.step === 'alpha' && s.settings.ops.includes('drop'))
      used = await pack(used.bytes, used.mime === 'image/jpeg' ? 'jpeg' : 'png', 95, 'none');
    if (s.step === 'encode') {
      const kind = s.settings.format === 'jpeg' ? 'none' : alphaStats(await decodePixels(used.bytes)).kind;
      used = await pack(used.bytes, s.settings.format, s.settings.quality, kind);
      lossy = s.settings.format !== 'png';
      profile = null;
    }
  }
  const stats = await nodePictures.read(used.bytes).catch((e: Error) => {
    throw unreadable(name, e.message);
  });
  const { width, height, hasAlpha, alphaMin } = stats;
  const small = width * height > TRIAL_PIXELS;
  const alpha = hasAlpha
    ? alphaStats(
        await decodePixels(
          small ? await open(used.bytes).resize(4000, 4000, { fit: 'inside', kernel: 'nearest' }).png().toBuffer() : used.bytes,
        ),
      )
    : null;
  const kind = alpha?.kind ?? 'none';
  const widthPx = alpha?.widthPx == null ? null : Math.round(alpha.widthPx * 10) / 10;
  const { density } = source;
  const wide = settingsOf(steps, 'plane')?.widthMm ?? mmOfPixels(width, density);
  const sizeMm: [number, number] = [Math.round(wide * 1000) / 1000, Math.round(((wide * height) / width) * 1000) / 1000];
  const look = pictureLook(stats);
  const state = {
    look,
    format: source.format,
    hasAlpha,
    alpha: kind,
    alphaWidthPx: widthPx,
    usedBytes: used.bytes.byteLength,
    width,
    height,
    lossy,
  };
  const packing = !tryPacking || small || used.bytes.byteLength < 20_000 ? null : packingFor({ ...state, name });
  const trial = packing ? { ...packing, bytes: (await pack(used.bytes, packing.format, packing.quality, kind)).bytes.byteLength } : null;
  const glb = await writeGlb(
    picturePlane(pictureLeaf(name).replace(/\.[^.]+$/, ''), { bytes: used.bytes, mime: used.mime, alpha: kind }, sizeMm),
  );
  return {
    used,
    glb,
    facts: {
      kind: 'picture',
      readable: true,
      bytes: bytes.byteLength,
      format: source.format,
      name,
      sha: sha256Hex(used.bytes),
      type: used.mime,
      usedBytes: used.bytes.byteLength,
      width,
      height,
      hasAlpha,
      alphaMin: Math.round(alphaMin * 1000) / 1000,
      alpha: kind,
      alphaWidthPx: widthPx,
      look,
      space: source.space,
      profile,
      bitsPerChannel: source.bits,
      density,
      sizeMm,
      findings: [...profileFinding(profile), ...pictureFindings({ ...state, stats: { fringe: alpha?.fringe ?? 0 }, trial })],
    },
  };
}
