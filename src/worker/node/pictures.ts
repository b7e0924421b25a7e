/** Pictures in Node, through sharp. */
import type { Sharp } from 'sharp';
import { type PictureStats, pixelsFor } from '@/core/intake';
import type { PictureBytes, PictureTools } from '@/core/prepare';
import { sha256Hex } from './codecs';
import { decodeKtx2, encodeKtx2, isKtx2 } from './ktx2';

/** Loaded when a picture comes: most of what is packed has none that changes. */
const sharp = async () => {
  const { default: load } = await import('sharp');
  // nothing is asked for twice that would be found there
  load.cache(false);
  return load;
};

const open = async (bytes: Uint8Array) => (await sharp())(bytes, { limitInputPixels: pixelsFor(bytes.length), failOn: 'error' });

/** KTX2 as a PNG, everything else as it is: what comes after knows common formats only. */
async function common(bytes: Uint8Array): Promise<Uint8Array> {
  if (!isKtx2(bytes)) return bytes;
  const { data, width, height } = await decodeKtx2(bytes);
  return new Uint8Array(
    await (await sharp())(data, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 1 })
      .toBuffer(),
  );
}

/** Longest edge at which a picture's colours are looked at; alpha is looked at whole. */
const LOOK_EDGE = 256;

async function read(given: Uint8Array): Promise<PictureStats> {
  const bytes = await common(given);
  const { width = 0, height = 0, hasAlpha = false } = await (await open(bytes)).metadata();
  if (!(width > 0 && height > 0)) throw new Error('no size');
  const { data, info } = await (await open(bytes))
    .removeAlpha()
    .toColourspace('srgb')
    .resize(LOOK_EDGE, LOOK_EDGE, { fit: 'inside', withoutEnlargement: true, kernel: 'nearest' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const n = data.length / info.channels;
  const mean: [number, number, number] = [0, 0, 0];
  const square = [0, 0, 0];
  let colourful = 0;
  for (let i = 0; i < n; i++) {
    const c = [0, 1, 2].map((k) => data[i * info.channels + Math.min(k, info.channels - 1)] / 255);
    for (let k = 0; k < 3; k++) {
      mean[k] += c[k] / n;
      square[k] += (c[k] * c[k]) / n;
    }
    colourful += (Math.max(...c) - Math.min(...c)) / n;
  }
  let alphaMin = 1;
  if (hasAlpha) {
    const { channels } = await (await open(bytes)).stats();
    const alpha = channels[channels.length - 1];
    const top = alpha.max > 255 ? 65535 : 255;
    alphaMin = alpha.min / top;
  }
  const spread = mean.map((m, k) => Math.sqrt(Math.max(0, square[k] - m * m))) as [number, number, number];
  return { width, height, hasAlpha, alphaMin, mean, spread, colourful };
}

const MIME: Record<string, string> = { jpeg: 'image/jpeg', png: 'image/png', webp: 'image/webp', ktx2: 'image/ktx2' };

/** Writes in the format it came in; what glTF does not know becomes PNG. */
async function write(image: Sharp, format: string | undefined): Promise<PictureBytes> {
  const kind = format === 'jpeg' || format === 'webp' ? format : 'png';
  const out =
    kind === 'jpeg'
      ? image.jpeg({ quality: 90, mozjpeg: true })
      : kind === 'webp'
        ? image.webp({ quality: 90 })
        : image.png({ compressionLevel: 9 });
  return { bytes: new Uint8Array(await out.toBuffer()), mime: MIME[kind] };
}

interface Scaled {
  key: string;
  /** 8 bits a channel. */
  raw: { data: Buffer; info: { width: number; height: number; channels: 1 | 2 | 3 | 4 } };
  hasAlpha: boolean;
  format: string | undefined;
}
/** The size a picture was last asked for in: a search tries several qualities of it. */
const lastScaled = new WeakMap<Uint8Array, { key: string; made: Promise<Scaled> }>();

function scaledOnce(given: Uint8Array, maxEdge: number, alpha: boolean, by4: boolean): Promise<Scaled> {
  const key = `${maxEdge} ${alpha} ${by4}`;
  const had = lastScaled.get(given);
  if (had?.key === key) return had.made;
  const make = async (): Promise<Scaled> => {
    const bytes = await common(given);
    const meta = await (await open(bytes)).metadata();
    let image = await open(bytes);
    if (by4) {
      // blocks of four by four: edges are multiples of that (KHR_texture_basisu)
      const scale = Math.min(1, maxEdge / Math.max(meta.width, meta.height));
      const edge = (x: number) => Math.max(4, Math.round((x * scale) / 4) * 4);
      image = image.resize(edge(meta.width), edge(meta.height), { fit: 'fill', kernel: 'lanczos3' });
    } else if (Math.max(meta.width, meta.height) > maxEdge)
      image = image.resize(maxEdge, maxEdge, { fit: 'inside', withoutEnlargement: true, kernel: 'lanczos3' });
    if (!(alpha && meta.hasAlpha)) image = image.removeAlpha();
    const format = isKtx2(given) ? 'ktx2' : meta.format;
    return { key, raw: await image.raw().toBuffer({ resolveWithObject: true }), hasAlpha: meta.hasAlpha, format };
  };
  const made = make();
  lastScaled.set(given, { key, made });
  return made;
}

export const nodePictures: PictureTools = {
  read,
  sha256: sha256Hex,
  async resize(given, edge) {
    const bytes = await common(given);
    const { format } = await (await open(bytes)).metadata();
    return write((await open(bytes)).resize(edge, edge, { fit: 'inside', withoutEnlargement: true }), format);
  },
  async encode(bytes, { maxEdge, format, quality, numbers, directions, alpha }) {
    const wanted = format === 'ktx2' || (format === 'keep' && isKtx2(bytes));
    const { raw, hasAlpha, format: was } = await scaledOnce(bytes, maxEdge, alpha, wanted);
    const image = (await sharp())(raw.data, { raw: { width: raw.info.width, height: raw.info.height, channels: raw.info.channels } });
    const keepsAlpha = alpha && hasAlpha;
    const asked = format === 'keep' ? was : format;
    if (asked === 'ktx2') {
      const { data, info } = await image.toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
      const pixels = { width: info.width, height: info.height, data: new Uint8Array(data) };
      return { bytes: await encodeKtx2(pixels, quality, numbers, directions), mime: MIME.ktx2 };
    }
    // JPEG has no alpha
    const kind = asked === 'webp' ? 'webp' : asked === 'jpeg' && !keepsAlpha ? 'jpeg' : 'png';
    const out =
      kind === 'webp'
        ? image.webp({ quality, smartSubsample: directions, effort: 4, alphaQuality: Math.max(quality, 80) })
        : kind === 'jpeg'
          ? image.jpeg({ quality, mozjpeg: true, chromaSubsampling: numbers ? '4:4:4' : '4:2:0' })
          : image.png({ compressionLevel: 9, effort: 7 });
    return { bytes: new Uint8Array(await out.toBuffer()), mime: MIME[kind] };
  },
  async decode(bytes) {
    if (isKtx2(bytes)) return decodeKtx2(bytes);
    const { data, info } = await (await open(bytes)).toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    // 16-bit pictures come as two bytes a channel
    if (data.length !== info.width * info.height * 4) throw new Error('not 8 bits a channel');
    return { width: info.width, height: info.height, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
  },
  async dropAlpha(given) {
    const bytes = await common(given);
    const { format } = await (await open(bytes)).metadata();
    return write((await open(bytes)).removeAlpha(), format);
  },
  async packRed(givenRed, givenRest) {
    const [red, rest] = [await common(givenRed), await common(givenRest)];
    const [a, b] = [await (await open(red)).metadata(), await (await open(rest)).metadata()];
    const [width, height] = [Math.max(a.width ?? 1, b.width ?? 1), Math.max(a.height ?? 1, b.height ?? 1)];
    const raw = async (bytes: Uint8Array) =>
      (await open(bytes)).removeAlpha().toColourspace('srgb').resize(width, height, { fit: 'fill' }).raw().toBuffer();
    const [r, gb] = [await raw(red), await raw(rest)];
    const out = Buffer.from(gb);
    for (let i = 0; i < out.length; i += 3) out[i] = r[i];
    return {
      bytes: new Uint8Array(
        await (await sharp())(out, { raw: { width, height, channels: 3 } })
          .png({ compressionLevel: 9 })
          .toBuffer(),
      ),
      mime: 'image/png',
    };
  },
  async atlas(width, height, parts) {
    const alpha = (await Promise.all(parts.map(async (p) => (await open(p.bytes)).metadata()))).some((m) => m.hasAlpha);
    const placed = await Promise.all(
      parts.map(async ({ bytes, x, y, width: w, height: h, gutter: g }) => ({
        input: await (await open(bytes))
          .toColourspace('srgb')
          .ensureAlpha()
          .resize(w, h, { fit: 'fill', kernel: 'lanczos3' })
          .extend({ top: g, bottom: g, left: g, right: g, extendWith: 'copy' })
          .png({ compressionLevel: 0 })
          .toBuffer(),
        left: x - g,
        top: y - g,
      })),
    );
    const whole = (await sharp())({ create: { width, height, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } }).composite(placed);
    const bytes = await (alpha ? whole : whole.flatten({ background: '#000' })).png({ compressionLevel: 9 }).toBuffer();
    return { bytes: new Uint8Array(bytes), mime: MIME.png };
  },
};
