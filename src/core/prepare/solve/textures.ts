/** Pictures the solver chooses from: sizes, formats and qualities of each texture, with real bytes and a loss. */
import type { Document, Texture } from '@gltf-transform/core';
import { textureName } from '../../intake/check/textures';
import { wantedName } from '../../intake/wanted';
import type { Pixels } from '../../math/pixels';
import type { PictureEncoding } from '../../piece/recipe';
import type { Reference } from '../measure/error';
import { type GreyStats, greyStats, ssim } from '../measure/ssim';
import { type MipTexture, mipTexture } from '../measure/texture';
import type { View } from '../measure/view';
import { askFor, mustChange } from '../pictures';
import type { PictureEncoder } from '../picturetools';

export interface TextureOption {
  encoding: PictureEncoding | null;
  bytes: number;
  /** Longest edge, px. */
  edge: number;
  /** 1 − structural similarity to the original at the size it is seen, in texture space. */
  loss: number;
  mip: MipTexture;
}
export interface TextureChoices {
  name: string;
  sha: string;
  /** Its number in the document. */
  at: number;
  /** Share of the picture it covers in the view that shows most of it. */
  share: number;
  /** Cheapest last, each cheaper and worse than the one before. */
  options: TextureOption[];
  /** It in another encoding; null where that cannot be, or saves nothing. */
  attempt: (encoding: PictureEncoding) => Promise<TextureOption | null>;
}

const QUALITIES = [92, 80, 65, 45];
/** Beyond them, where a limit may leave room for it: at sizes in which more than is seen is not kept for nothing. */
const FINEST = 98;
/** Numbers are written as JPEG with every channel whole: lossy WebP thins out two of three at any quality (VP8 is YUV 4:2:0: RFC 6386, section 2). */
const NUMBERS = { jpeg: [95, 88, 75, 50], webp: [65] };
const LEAST_EDGE = 32;
/** Below this share of the size in which it is seen a picture is a blur. */
const COARSE = 4;
/** Under this many pixels lossless is tried too: it is often the smallest. */
const TINY = 128 * 128;

/** What is compared of a pixel, as weights of red, green and blue. */
type Weights = readonly [number, number, number];
/** Of colours, and of numbers that are the same in every channel (ITU-R BT.601). */
const LUMA: Weights = [0.299, 0.587, 0.114];
const CHANNELS: readonly Weights[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
/** Channels of grey numbers may differ by so much: JPEG rounds. */
const SAME = 2;

/** Of numbers each channel by itself, where it holds any. */
function planesOf({ data }: Pixels, numbers: boolean, directions: boolean): readonly Weights[] {
  if (!numbers) return [LUMA];
  // the length of a direction is known: two of its numbers tell the third
  if (directions) return CHANNELS.slice(0, 2);
  const [low, high] = [
    [255, 255, 255],
    [0, 0, 0],
  ];
  let grey = true;
  for (let i = 0; i < data.length; i += 4) {
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k], data[i + k]);
      high[k] = Math.max(high[k], data[i + k]);
    }
    grey &&= Math.abs(data[i] - data[i + 1]) <= SAME && Math.abs(data[i] - data[i + 2]) <= SAME;
  }
  const planes = CHANNELS.filter((_, k) => high[k] - low[k] > SAME);
  return grey || planes.length === 0 ? [LUMA] : planes;
}

/** 0 to 1. */
function planeOf({ width, height, data }: Pixels, [r, g, b]: Weights): Float32Array {
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = (r * data[i * 4] + g * data[i * 4 + 1] + b * data[i * 4 + 2]) / 255;
  return out;
}

/** Bilinear, by pixel middles; beyond the edge the outermost pixels go on. */
function scaled(p: Float32Array, from: readonly [number, number], [width, height]: readonly [number, number]): Float32Array {
  const [fromWidth, fromHeight] = from;
  if (fromWidth === width && fromHeight === height) return p;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const fy = Math.max(0, ((y + 0.5) * fromHeight) / height - 0.5);
    const y0 = Math.min(fromHeight - 1, Math.floor(fy));
    const y1 = Math.min(fromHeight - 1, y0 + 1);
    for (let x = 0; x < width; x++) {
      const fx = Math.max(0, ((x + 0.5) * fromWidth) / width - 0.5);
      const x0 = Math.min(fromWidth - 1, Math.floor(fx));
      const x1 = Math.min(fromWidth - 1, x0 + 1);
      const top = p[y0 * fromWidth + x0] * (1 - (fx - x0)) + p[y0 * fromWidth + x1] * (fx - x0);
      const low = p[y1 * fromWidth + x0] * (1 - (fx - x0)) + p[y1 * fromWidth + x1] * (fx - x0);
      out[y * width + x] = top * (1 - (fy - y0)) + low * (fy - y0);
    }
  }
  return out;
}

/** Planes of the mip level nearest to a size, made exactly that size. */
function planesAt(mip: MipTexture, size: readonly [number, number], planes: readonly Weights[]): GreyStats[] {
  const level = mip.levels.findLast((l) => l.width >= size[0] && l.height >= size[1]) ?? mip.levels[0];
  return planes.map((w) => greyStats(scaled(planeOf(level, w), [level.width, level.height], size), ...size));
}

interface Seen {
  /** Longest edge at which it is seen, px. */
  edge: number;
  share: number;
}

/** How large and how much of a texture the views show. */
function seenOf(ref: Reference, views: readonly View[], at: number, edge: number): Seen {
  let share = 0;
  let level = Number.POSITIVE_INFINITY;
  views.forEach((v, i) => {
    const s = v.seen.get(at);
    if (!s || s.pixels <= 0) return;
    const all = ref.masks[i].reduce((n, m) => n + m, 0);
    share = Math.max(share, s.pixels / Math.max(1, all));
    level = Math.min(level, s.levels / s.pixels);
  });
  return { edge: Number.isFinite(level) ? Math.max(8, Math.round(edge / 2 ** level)) : 0, share };
}

interface Hasher {
  sha256: (bytes: Uint8Array) => string;
}
export interface TextureSource {
  /** Decoded, by their number in the document; and the model's views with what was seen of each. */
  textures: readonly (MipTexture | null)[];
  views: readonly View[];
  maxEdge: number;
  webp: boolean;
}

async function choicesOf(
  document: Document,
  t: Texture,
  at: number,
  ref: Reference,
  source: TextureSource,
  tools: PictureEncoder & Hasher,
): Promise<TextureChoices | null> {
  const bytes = t.getImage();
  const mip = source.textures[at];
  if (!bytes || !mip || wantedName(t) !== null) return null;
  const { width, height } = mip.levels[0];
  const edge = Math.max(width, height);
  const seen = seenOf(ref, source.views, at, edge);
  const look = seen.edge > 0 ? Math.min(seen.edge, edge) : 8;
  const [lw, lh] = [Math.max(1, Math.round((width * look) / edge)), Math.max(1, Math.round((height * look) / edge))];
  const { numbers, directions, alpha } = askFor(document, t, { maxEdge: edge, format: 'keep', quality: 100 });
  const planes = planesOf(mip.levels[0], numbers, directions);
  const original = planesAt(mip, [lw, lh], planes);
  const all: TextureOption[] = [];
  const change = mustChange(t, edge, { maxEdge: source.maxEdge, format: source.webp ? 'webp' : 'jpeg' });
  if (!change) all.push({ encoding: null, bytes: bytes.byteLength, edge, loss: 0, mip });
  const attempt = async (encoding: PictureEncoding): Promise<TextureOption | null> => {
    const made = await tools.encode(bytes, askFor(document, t, encoding)).catch(() => null);
    if (!made || (!change && made.bytes.byteLength >= bytes.byteLength)) return null;
    const after = mipTexture(await tools.decode(made.bytes));
    const now = planesAt(after, [lw, lh], planes);
    const loss = Math.max(...original.map((o, k) => 1 - ssim(o, now[k], lw, lh)));
    const size = Math.max(after.levels[0].width, after.levels[0].height);
    return { encoding, bytes: made.bytes.byteLength, edge: size, loss, mip: after };
  };
  const ways = (e: number): PictureEncoding[] => {
    const as = (format: 'webp' | 'jpeg', qualities: readonly number[]) => qualities.map((quality) => ({ maxEdge: e, format, quality }));
    const whole = numbers && !alpha;
    // far coarser than it is seen nothing helps; finer than that shows nothing: one and two good qualities are enough there
    if (e * COARSE < look) return as(whole || !source.webp ? 'jpeg' : 'webp', [80]);
    const idle = e > look * 2;
    if (whole) return [...as('jpeg', idle ? [92, 65] : NUMBERS.jpeg), ...as('webp', source.webp && !idle ? NUMBERS.webp : [])];
    return as(source.webp ? 'webp' : 'jpeg', idle ? [92, 65] : e >= look ? [FINEST, ...QUALITIES] : QUALITIES);
  };
  for (let e = Math.min(edge, source.maxEdge); e >= Math.min(edge, LEAST_EDGE); e = Math.floor(e / 2)) {
    const asks = ways(e);
    if (width * height * (e / edge) ** 2 <= TINY) asks.push({ maxEdge: e, format: 'png', quality: 100 });
    // side by side: the encoders have threads of their own
    for (const o of await Promise.all(asks.map(attempt))) if (o) all.push(o);
  }
  all.sort((a, b) => b.bytes - a.bytes || a.loss - b.loss);
  // each must be worth its bytes
  const options: TextureOption[] = [];
  for (const o of all) {
    while (options.length > 0 && options[options.length - 1].loss >= o.loss) options.pop();
    options.push(o);
  }
  return options.length > 0 ? { name: textureName(t, at), sha: tools.sha256(bytes), at, share: seen.share, options, attempt } : null;
}

/** What each texture could become. @param progress 0 to 1 */
export async function textureChoices(
  document: Document,
  ref: Reference,
  source: TextureSource,
  tools: PictureEncoder & Hasher,
  progress: (share: number) => void,
): Promise<TextureChoices[]> {
  const out: TextureChoices[] = [];
  const list = document.getRoot().listTextures();
  for (const [at, t] of list.entries()) {
    const c = await choicesOf(document, t, at, ref, source, tools);
    if (c) out.push(c);
    progress((at + 1) / list.length);
  }
  return out;
}

/** The option of each texture, in the order of the choices. */
export type Assignment = readonly TextureOption[];

/** As they lie in the file: each begins at a multiple of four bytes. */
export const picturesBytes = (pick: Assignment): number => pick.reduce((sum, o) => sum + Math.ceil(o.bytes / 4) * 4, 0);

/** What tells assignments of the same textures apart. */
export const keyOf = (pick: Assignment): string => pick.map(({ encoding: e }) => (e ? `${e.format} ${e.maxEdge} ${e.quality}` : '')).join();

/** An assignment made better with the bytes that are left: the picture that loses most by itself first, as far as it can be helped. */
export function raised(choices: readonly TextureChoices[], from: Assignment, room: number): Assignment {
  const pick = [...from];
  const stuck = new Set<number>();
  const lossOf = (i: number) => (choices[i].share > 0 ? pick[i].loss : 0);
  for (;;) {
    let worst = -1;
    for (let i = 0; i < choices.length; i++)
      if (!stuck.has(i) && pick[i] !== choices[i].options[0] && (worst < 0 || lossOf(i) > lossOf(worst))) worst = i;
    if (worst < 0) return pick;
    const had = pick[worst];
    pick[worst] = choices[worst].options[choices[worst].options.indexOf(had) - 1];
    if (picturesBytes(pick) <= room) continue;
    pick[worst] = had;
    stuck.add(worst);
  }
}

/** Qualities nearer to one another than this differ by nothing that is seen. */
const NEAR = 3;
/** Encodings tried for one that fits. */
const TRIES = 3;

/**
 * A quality between an option and the next better one, put among the options where it takes at most `room` bytes more.
 * @returns whether there is one
 */
export async function addBetween(c: TextureChoices, option: TextureOption, room: number): Promise<boolean> {
  const { encoding } = option;
  const at = c.options.indexOf(option);
  if (!encoding || at <= 0 || encoding.format === 'png') return false;
  const better = c.options[at - 1];
  const same = better.encoding?.format === encoding.format && better.encoding.maxEdge === encoding.maxEdge;
  let high = same && better.encoding ? better.encoding.quality : 100;
  for (let tries = 0; tries < TRIES && high - encoding.quality > NEAR; tries++) {
    const quality = Math.round((encoding.quality + high) / 2);
    const made = await c.attempt({ ...encoding, quality });
    if (!made || made.bytes > option.bytes + room) {
      high = quality;
      continue;
    }
    // each must be worth its bytes
    if (made.bytes <= option.bytes || made.bytes >= better.bytes || made.loss >= option.loss || made.loss <= better.loss) return false;
    c.options.splice(at, 0, made);
    return true;
  }
  return false;
}

/** Assignments that lose least for their bytes: from the best of all textures, the step that frees most bytes per loss comes next. */
export function assignments(
  choices: readonly TextureChoices[],
  factor: readonly number[],
): { pick: Assignment; bytes: number; loss: number }[] {
  const steps = choices.map(() => 0);
  const lossOf = (i: number, k: number) => choices[i].options[k].loss * choices[i].share * factor[i];
  const total = () => {
    const pick = choices.map((c, i) => c.options[steps[i]]);
    return { pick, bytes: picturesBytes(pick), loss: steps.reduce((s, k, i) => s + lossOf(i, k), 0) };
  };
  const out = [total()];
  for (;;) {
    let [best, at, to] = [-1, -1, -1];
    choices.forEach((c, i) => {
      for (let k = steps[i] + 1; k < c.options.length; k++) {
        const saved = c.options[steps[i]].bytes - c.options[k].bytes;
        const worth = saved / Math.max(1e-9, lossOf(i, k) - lossOf(i, steps[i]));
        if (worth > best) [best, at, to] = [worth, i, k];
      }
    });
    if (at < 0) return out;
    steps[at] = to;
    out.push(total());
  }
}
