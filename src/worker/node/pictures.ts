/** Pictures in Node, through sharp. */
import sharp, { type Sharp } from 'sharp';
import { INTAKE_LIMITS, type PictureStats } from '@/core/intake';
import type { PictureBytes, PictureTools } from '@/core/prepare';
import { sha256Hex } from './codecs';

// nothing is asked for twice that would be found there
sharp.cache(false);

const open = (bytes: Uint8Array) => sharp(bytes, { limitInputPixels: INTAKE_LIMITS.pixels, failOn: 'error' });

/** Longest edge at which a picture's colours are looked at; alpha is looked at whole. */
const LOOK_EDGE = 256;

async function read(bytes: Uint8Array): Promise<PictureStats> {
  const { width = 0, height = 0, hasAlpha = false } = await open(bytes).metadata();
  if (!(width > 0 && height > 0)) throw new Error('no size');
  const { data, info } = await open(bytes)
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
    const { channels } = await open(bytes).stats();
    const alpha = channels[channels.length - 1];
    const top = alpha.max > 255 ? 65535 : 255;
    alphaMin = alpha.min / top;
  }
  const spread = mean.map((m, k) => Math.sqrt(Math.max(0, square[k] - m * m))) as [number, number, number];
  return { width, height, hasAlpha, alphaMin, mean, spread, colourful };
}

const MIME: Record<string, string> = { jpeg: 'image/jpeg', png: 'image/png', webp: 'image/webp' };

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

function scaledOnce(bytes: Uint8Array, maxEdge: number, alpha: boolean): Promise<Scaled> {
  const key = `${maxEdge} ${alpha}`;
  const had = lastScaled.get(bytes);
  if (had?.key === key) return had.made;
  const make = async (): Promise<Scaled> => {
    const meta = await open(bytes).metadata();
    let image = open(bytes);
    if (Math.max(meta.width, meta.height) > maxEdge)
      image = image.resize(maxEdge, maxEdge, { fit: 'inside', withoutEnlargement: true, kernel: 'lanczos3' });
    if (!(alpha && meta.hasAlpha)) image = image.removeAlpha();
    return { key, raw: await image.raw().toBuffer({ resolveWithObject: true }), hasAlpha: meta.hasAlpha, format: meta.format };
  };
  const made = make();
  lastScaled.set(bytes, { key, made });
  return made;
}

export const nodePictures: PictureTools = {
  read,
  sha256: sha256Hex,
  async resize(bytes, edge) {
    const { format } = await open(bytes).metadata();
    return write(open(bytes).resize(edge, edge, { fit: 'inside', withoutEnlargement: true }), format);
  },
  async encode(bytes, { maxEdge, format, quality, numbers, directions, alpha }) {
    const { raw, hasAlpha, format: was } = await scaledOnce(bytes, maxEdge, alpha);
    const image = sharp(raw.data, { raw: { width: raw.info.width, height: raw.info.height, channels: raw.info.channels } });
    const keepsAlpha = alpha && hasAlpha;
    const asked = format === 'keep' ? was : format;
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
    const { data, info } = await open(bytes).toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    // 16-bit pictures come as two bytes a channel
    if (data.length !== info.width * info.height * 4) throw new Error('not 8 bits a channel');
    return { width: info.width, height: info.height, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
  },
  async dropAlpha(bytes) {
    const { format } = await open(bytes).metadata();
    return write(open(bytes).removeAlpha(), format);
  },
  async packRed(red, rest) {
    const [a, b] = [await open(red).metadata(), await open(rest).metadata()];
    const [width, height] = [Math.max(a.width ?? 1, b.width ?? 1), Math.max(a.height ?? 1, b.height ?? 1)];
    const raw = (bytes: Uint8Array) =>
      open(bytes).removeAlpha().toColourspace('srgb').resize(width, height, { fit: 'fill' }).raw().toBuffer();
    const [r, gb] = [await raw(red), await raw(rest)];
    const out = Buffer.from(gb);
    for (let i = 0; i < out.length; i += 3) out[i] = r[i];
    return {
      bytes: new Uint8Array(
        await sharp(out, { raw: { width, height, channels: 3 } })
          .png({ compressionLevel: 9 })
          .toBuffer(),
      ),
      mime: 'image/png',
    };
  },
};
