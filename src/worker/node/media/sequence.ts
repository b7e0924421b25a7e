/** Picture sequences in Node: numbered frames or an animation, packed on one sheet. */
import sharp from 'sharp';
import {
  alphaStats,
  composeFrames,
  type FrameGroup,
  findImporter,
  gapFindings,
  IntakeError,
  MOST_FRAMES,
  mmOfPixels,
  type Pixels,
  pictureLeaf,
  pixelsFor,
  readApng,
  type SequenceFacts,
} from '@/core/intake';
import type { PlaySettings, StepDraft } from '@/core/piece';
import { putFrame, sequencePlane, sheetLayout } from '@/core/prepare';
import { sha256Hex } from '../codecs';
import { writeGlb } from '../glb';
import { decodePixels, encodePixels, readPicture } from './picture';

/** Frames one after another, all of one size. */
interface Frames {
  format: SequenceFacts['format'];
  width: number;
  height: number;
  count: number;
  /** Milliseconds each is shown, where the file says. */
  delaysMs: number[] | null;
  loop: boolean;
  oddSizes: string[];
  gaps: number[];
  frame: (i: number) => Promise<Pixels>;
}

/** *Common practice* for drawn frames where nothing says otherwise. */
const USUAL_FPS = 24;
export const USUAL_SHEET = 2048;
/** Pixels of all frames of an animation together: 512 MB decoded. */
const ROLL_PIXELS = 134e6;

const brokenFrame = (name: string, e: Error) =>
  e instanceof IntakeError
    ? e
    : new IntakeError('picture/unreadable', `${pictureLeaf(name)} cannot be read as a picture: ${e.message.slice(0, 120)}. Save it again.`);

const tooMany = (name: string, n: number) =>
  new IntakeError('sequence/too-many', `${pictureLeaf(name)} has ${n} frames; up to ${MOST_FRAMES} are read. Cut it.`);

async function numbered(name: string, group: FrameGroup, files: ReadonlyMap<string, Uint8Array>): Promise<Frames> {
  if (group.frames.length > MOST_FRAMES) throw tooMany(name, group.frames.length);
  const bytes = (i: number) => files.get(group.frames[i]) as Uint8Array;
  const usable = async (i: number) => {
    const id = findImporter(bytes(i).subarray(0, 4096), group.frames[i])?.id;
    if (id === 'png' || id === 'jpeg' || id === 'webp' || id === 'avif') return bytes(i);
    return (await readPicture(group.frames[i], bytes(i))).used.bytes;
  };
  const sizes = await Promise.all(
    group.frames.map(async (f, i) =>
      sharp(await usable(i), { limitInputPixels: pixelsFor(bytes(i).length) })
        .metadata()
        .catch((e: Error) => {
          throw brokenFrame(f, e);
        }),
    ),
  );
  const [{ width = 1, height = 1 }] = sizes;
  return {
    format: 'frames',
    width,
    height,
    count: group.frames.length,
    delaysMs: null,
    loop: true,
    gaps: group.gaps,
    oddSizes: group.frames.filter((_, i) => sizes[i].width !== width || sizes[i].height !== height).map(pictureLeaf),
    frame: async (i) =>
      placed(
        await decodePixels(await usable(i)).catch((e: Error) => {
          throw brokenFrame(group.frames[i], e);
        }),
        width,
        height,
      ),
  };
}

/** A frame of another size at the upper left of the usual one. */
function placed(p: Pixels, width: number, height: number): Pixels {
  if (p.width === width && p.height === height) return p;
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < Math.min(height, p.height); y++)
    data.set(p.data.subarray(y * p.width * 4, (y * p.width + Math.min(width, p.width)) * 4), y * width * 4);
  return { width, height, data };
}

const rollTooLarge = (name: string, width: number, height: number, count: number) =>
  new IntakeError(
    'sequence/too-large',
    `${pictureLeaf(name)} has ${count} frames of ${width} × ${height} px: more than ${ROLL_PIXELS / 1e6} million pixels together. Make it smaller or shorter.`,
  );

/** The frames of an animated GIF, WebP or PNG; null where it is a still picture. */
async function animated(name: string, bytes: Uint8Array): Promise<Frames | null> {
  const format = findImporter(bytes.subarray(0, 4096), name)?.id;
  if (format === 'png') {
    const apng = readApng(bytes);
    if (!apng) return null;
    if (apng.width * apng.height * apng.frames.length > ROLL_PIXELS) throw rollTooLarge(name, apng.width, apng.height, apng.frames.length);
    const decoded = await Promise.all(apng.frames.map((f) => decodePixels(f.png))).catch((e: Error) => {
      throw brokenFrame(name, e);
    });
    const whole = composeFrames(apng, decoded);
    return {
      format,
      width: apng.width,
      height: apng.height,
      count: whole.length,
      delaysMs: apng.frames.map((f) => f.delayMs),
      loop: apng.plays === 0,
      oddSizes: [],
      gaps: [],
      frame: async (i) => whole[i],
    };
  }
  if (format !== 'gif' && format !== 'webp') return null;
  if (format === 'gif' && gifFrames(bytes) > MOST_FRAMES) throw tooMany(name, gifFrames(bytes));
  const meta = await sharp(bytes, { limitInputPixels: pixelsFor(bytes.length), pages: -1 })
    .metadata()
    .catch(() => null);
  const count = meta?.pages ?? 1;
  if (!meta || count < 2) return null;
  if (count > MOST_FRAMES) throw tooMany(name, count);
  const [width, height] = [meta.width ?? 1, meta.pageHeight ?? 1];
  if (width * height * count > ROLL_PIXELS) throw rollTooLarge(name, width, height, count);
  const { data } = await sharp(bytes, { limitInputPixels: pixelsFor(bytes.length), pages: -1 })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
    .catch((e: Error) => {
      throw brokenFrame(name, e);
    });
  const size = width * height * 4;
  return {
    format,
    width,
    height,
    count,
    delaysMs: meta.delay ?? null,
    loop: (meta.loop ?? 0) === 0,
    oddSizes: [],
    gaps: [],
    frame: async (i) => ({ width, height, data: new Uint8Array(data.buffer, data.byteOffset + i * size, size) }),
  };
}

/** Frames of a GIF, by walking its blocks: nothing is decoded. (GIF89a specification, 1990.) */
function gifFrames(bytes: Uint8Array): number {
  let at = 13 + (bytes[10] & 0x80 ? 3 << ((bytes[10] & 7) + 1) : 0);
  const skipBlocks = () => {
    while (at < bytes.length && bytes[at] !== 0) at += bytes[at] + 1;
    at++;
  };
  let n = 0;
  while (at < bytes.length && bytes[at] !== 0x3b) {
    if (bytes[at] === 0x2c) {
      n++;
      at += 10 + (bytes[at + 9] & 0x80 ? 3 << ((bytes[at + 9] & 7) + 1) : 0) + 1;
      skipBlocks();
    } else if (bytes[at] === 0x21) {
      at += 2;
      skipBlocks();
    } else break;
  }
  return n;
}

export interface SequenceResult {
  facts: SequenceFacts;
  sheet: Uint8Array;
  glb: Uint8Array;
}

const last = <K extends StepDraft['step']>(steps: readonly StepDraft[], step: K) =>
  steps.findLast((s): s is Extract<StepDraft, { step: K }> => s.step === step);

async function build(name: string, total: number, f: Frames, steps: readonly StepDraft[]): Promise<SequenceResult> {
  const maxEdge = last(steps, 'sheet')?.settings.maxEdge ?? USUAL_SHEET;
  const layout = sheetLayout(f.count, f.width, f.height, maxEdge);
  const sheet: Pixels = { width: layout.width, height: layout.height, data: new Uint8Array(layout.width * layout.height * 4) };
  for (let i = 0; i < f.count; i++) {
    const whole = await f.frame(i);
    putFrame(sheet, layout.scale === 1 ? whole : await smaller(whole, layout.frameWidth, layout.frameHeight), layout, i);
  }
  const own = ownPlay(f);
  const play: PlaySettings = last(steps, 'play')?.settings ?? { fps: own.fps, loop: f.loop };
  const alpha = alphaStats(sheet).kind;
  const bytes = await encodePixels(sheet);
  const wide = last(steps, 'plane')?.settings.widthMm ?? mmOfPixels(f.width, null);
  const sizeMm: [number, number] = [Math.round(wide * 1000) / 1000, Math.round(((wide * f.height) / f.width) * 1000) / 1000];
  const glb = await writeGlb(
    sequencePlane(pictureLeaf(name).replace(/\.[^.]+$/, ''), { bytes, mime: 'image/png', alpha }, layout, f.count, play, sizeMm),
  );
  return {
    sheet: bytes,
    glb,
    facts: {
      kind: 'sequence',
      readable: true,
      bytes: total,
      format: f.format,
      frames: f.count,
      width: f.width,
      height: f.height,
      fps: play.fps,
      seconds: Math.round((f.count / play.fps) * 1000) / 1000,
      loop: play.loop,
      gaps: f.gaps,
      alpha,
      sheet: {
        sha: sha256Hex(bytes),
        bytes: bytes.byteLength,
        width: layout.width,
        height: layout.height,
        columns: layout.columns,
        rows: layout.rows,
        frameWidth: layout.frameWidth,
        frameHeight: layout.frameHeight,
        scale: Math.round(layout.scale * 1000) / 1000,
      },
      sizeMm,
      findings: [
        ...gapFindings(f.gaps, f.oddSizes),
        ...(own.uneven
          ? [
              {
                code: 'sequence/uneven',
                level: 'note' as const,
                message: `Its frames are shown for ${own.uneven}; here each takes the same time.`,
              },
            ]
          : []),
        ...(layout.scale < 1
          ? [
              {
                code: 'sequence/smaller',
                level: 'note' as const,
                message: `${f.count} frames of ${f.width} × ${f.height} px do not fit a sheet of ${maxEdge} px: each is kept at ${layout.frameWidth} × ${layout.frameHeight}.`,
              },
            ]
          : []),
      ],
    },
  };
}

function ownPlay(f: Frames): { fps: number; uneven: string | null } {
  // browsers show frames of no time for a tenth of a second
  const d = f.delaysMs?.map((ms) => (ms <= 10 ? 100 : ms));
  if (!d || d.length === 0) return { fps: USUAL_FPS, uneven: null };
  const mean = d.reduce((a, b) => a + b, 0) / d.length;
  const [lo, hi] = [Math.min(...d), Math.max(...d)];
  return {
    fps: Math.min(240, Math.max(0.1, Math.round((1000 / mean) * 100) / 100)),
    uneven: hi - lo > 1 ? `${Math.round(lo)} to ${Math.round(hi)} ms` : null,
  };
}

const smaller = async (p: Pixels, width: number, height: number): Promise<Pixels> => {
  const { data } = await sharp(p.data, { raw: { width: p.width, height: p.height, channels: 4 } })
    .resize(width, height, { fit: 'fill' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width, height, data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength) };
};

export const readFrames = async (
  name: string,
  total: number,
  group: FrameGroup,
  files: ReadonlyMap<string, Uint8Array>,
  steps: readonly StepDraft[] = [],
): Promise<SequenceResult> => build(name, total, await numbered(name, group, files), steps);

/** null: a still picture. */
export async function readAnimated(name: string, bytes: Uint8Array, steps: readonly StepDraft[] = []): Promise<SequenceResult | null> {
  const frames = await animated(name, bytes);
  return frames && build(name, bytes.byteLength, frames, steps);
}
