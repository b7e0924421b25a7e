/** Pictures the solver chooses from: sizes, formats and qualities of each texture, with real bytes and a loss. */
import type { Document, Texture } from '@gltf-transform/core';
import { textureName } from '../../intake/check/textures';
import { wantedName } from '../../intake/wanted';
import type { Pixels } from '../../math/pixels';
import type { PictureEncoding } from '../../piece/recipe';
import type { Reference } from '../measure/error';
import { greyStats, ssim } from '../measure/ssim';
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
}

const QUALITIES = [92, 80, 65, 45];
const LEAST_EDGE = 32;
/** Under this many pixels lossless is tried too: it is often the smallest. */
const TINY = 128 * 128;

/** Luma (ITU-R BT.601), 0 to 1. */
function grey({ width, height, data }: Pixels): Float32Array {
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = (0.299 * data[i * 4] + 0.587 * data[i * 4 + 1] + 0.114 * data[i * 4 + 2]) / 255;
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

/** The grey of the mip level nearest to a size, made exactly that size. */
function greyAt(mip: MipTexture, size: readonly [number, number]): Float32Array {
  const level = mip.levels.findLast((l) => l.width >= size[0] && l.height >= size[1]) ?? mip.levels[0];
  return scaled(grey(level), [level.width, level.height], size);
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
  const original = greyStats(greyAt(mip, [lw, lh]), lw, lh);
  const all: TextureOption[] = [];
  const change = mustChange(t, edge, { maxEdge: source.maxEdge, format: source.webp ? 'webp' : 'jpeg' });
  if (!change) all.push({ encoding: null, bytes: bytes.byteLength, edge, loss: 0, mip });
  const attempt = async (encoding: PictureEncoding): Promise<TextureOption | null> => {
    const made = await tools.encode(bytes, askFor(document, t, encoding)).catch(() => null);
    if (!made || (!change && made.bytes.byteLength >= bytes.byteLength)) return null;
    const after = mipTexture(await tools.decode(made.bytes));
    const loss = 1 - ssim(original, greyStats(greyAt(after, [lw, lh]), lw, lh), lw, lh);
    const size = Math.max(after.levels[0].width, after.levels[0].height);
    return { encoding, bytes: made.bytes.byteLength, edge: size, loss, mip: after };
  };
  const format = source.webp ? 'webp' : 'jpeg';
  for (let e = Math.min(edge, source.maxEdge); e >= Math.min(edge, LEAST_EDGE); e = Math.floor(e / 2)) {
    // finer than it is seen shows nothing: two good qualities are enough there
    const qualities = e > look * 2 ? [92, 65] : QUALITIES;
    const asks: PictureEncoding[] = qualities.map((quality) => ({ maxEdge: e, format, quality }));
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
  return options.length > 0 ? { name: textureName(t, at), sha: tools.sha256(bytes), at, share: seen.share, options } : null;
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

/** Which option of each texture; in the order of the choices. */
export type Assignment = readonly number[];

/** Assignments that lose least for their bytes: from the best of all textures, the step that frees most bytes per loss comes next. */
export function assignments(
  choices: readonly TextureChoices[],
  factor: readonly number[],
): { pick: Assignment; bytes: number; loss: number }[] {
  const pick = choices.map(() => 0);
  const lossOf = (i: number, k: number) => choices[i].options[k].loss * choices[i].share * factor[i];
  const total = () => ({
    pick: [...pick],
    bytes: choices.reduce((s, c, i) => s + Math.ceil(c.options[pick[i]].bytes / 4) * 4, 0),
    loss: choices.reduce((s, _, i) => s + lossOf(i, pick[i]), 0),
  });
  const out = [total()];
  for (;;) {
    let [best, at, to] = [-1, -1, -1];
    choices.forEach((c, i) => {
      for (let k = pick[i] + 1; k < c.options.length; k++) {
        const saved = c.options[pick[i]].bytes - c.options[k].bytes;
        const worth = saved / Math.max(1e-9, lossOf(i, k) - lossOf(i, pick[i]));
        if (worth > best) [best, at, to] = [worth, i, k];
      }
    });
    if (at < 0) return out;
    pick[at] = to;
    out.push(total());
  }
}
