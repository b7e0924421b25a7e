/** What is read of stock files that are no models: a part of the contract of `./scaphos inspect --json`. */
import * as z from 'zod';
import { Finding } from '../findings';

const common = {
  readable: z.literal(true),
  /** Of the file as it came. */
  bytes: z.int().min(0),
  findings: z.array(Finding),
};
const degrees = z.number();

export const PICTURE_FORMATS = ['png', 'jpeg', 'webp', 'avif', 'gif', 'tiff', 'svg', 'psd', 'tga', 'bmp', 'dds'] as const;
/** Alpha by its histogram: `none` is opaque everywhere, `cut-out` is clear or opaque but for a thin edge, `soft` has more between. */
export const AlphaKind = z.enum(['none', 'cut-out', 'soft']);
export type AlphaKind = z.infer<typeof AlphaKind>;

/** A picture on its own: in Stock, or come along with a model that does not use it. */
export const PictureFacts = z.strictObject({
  kind: z.literal('picture'),
  ...common,
  format: z.enum(PICTURE_FORMATS),
  name: z.string(),
  /** SHA-256 and type of the PNG, JPEG or WebP it is used as: the file itself where it is one. */
  sha: z.string(),
  type: z.string(),
  usedBytes: z.int().min(0),
  width: z.int(),
  height: z.int(),
  hasAlpha: z.boolean(),
  /** 0..1. */
  alphaMin: z.number(),
  alpha: AlphaKind,
  /** Mean width in pixels of what the alpha cuts out, 2·area/outline; null without alpha. */
  alphaWidthPx: z.number().nullable(),
  look: z.enum(['normal map', 'packed map', 'grey', 'colour']),
  /** As its decoder names it: srgb, b-w, cmyk, rgb16 … */
  space: z.string(),
  /** Name of the embedded colour profile. */
  profile: z.string().nullable(),
  bitsPerChannel: z.int(),
  /** Recorded pixels an inch. */
  density: z.number().nullable(),
  /** Side and up of the plane it hangs as. */
  sizeMm: z.tuple([z.number(), z.number()]),
});
export type PictureFacts = z.infer<typeof PictureFacts>;

export const SequenceFacts = z.strictObject({
  kind: z.literal('sequence'),
  ...common,
  /** What it came as. */
  format: z.enum(['frames', 'gif', 'png', 'webp']),
  frames: z.int().min(1),
  width: z.int(),
  height: z.int(),
  fps: z.number(),
  seconds: z.number(),
  loop: z.boolean(),
  /** Numbers that are missing between the first and the last. */
  gaps: z.array(z.int()),
  alpha: AlphaKind,
  sheet: z.strictObject({
    sha: z.string(),
    bytes: z.int(),
    width: z.int(),
    height: z.int(),
    columns: z.int(),
    rows: z.int(),
    frameWidth: z.int(),
    frameHeight: z.int(),
    /** 1: every pixel of the frames is kept. */
    scale: z.number(),
  }),
  sizeMm: z.tuple([z.number(), z.number()]),
});
export type SequenceFacts = z.infer<typeof SequenceFacts>;

export const SoundFacts = z.strictObject({
  kind: z.literal('sound'),
  ...common,
  format: z.enum(['wav', 'mp3', 'ogg', 'm4a', 'flac', 'webm']),
  codec: z.string(),
  seconds: z.number(),
  channels: z.int(),
  sampleRate: z.int(),
  /** Integrated loudness (ITU-R BS.1770-4), LUFS; null: silent, under 0.4 s, or not decoded. */
  loudnessLufs: z.number().nullable(),
  /** Highest sample, dB under full scale. */
  peakDb: z.number().nullable(),
  /** Lowest and highest sample of equal stretches, −1..1, in turn; empty where it could not be decoded. */
  waveform: z.array(z.number()),
  silence: z.strictObject({ startS: z.number(), endS: z.number() }),
});
export type SoundFacts = z.infer<typeof SoundFacts>;

export const EnvironmentFacts = z.strictObject({
  kind: z.literal('environment'),
  ...common,
  format: z.enum(['hdr', 'exr']),
  width: z.int(),
  height: z.int(),
  /** log₂ of the mean luminance over the sphere; 0: mean 1. */
  exposureEv: z.number(),
  /** log₂ of the brightest pixel over the darkest hundredth. */
  rangeEv: z.number(),
  /** Bearing from the picture's middle, + to the picture's right; height above the horizon; share of all light within 10°. */
  brightest: z.strictObject({ bearingDeg: degrees, heightDeg: degrees, share: z.number() }),
  /** Step across the picture's two ends over the usual step between columns. */
  seam: z.number(),
  notFinite: z.int(),
});
export type EnvironmentFacts = z.infer<typeof EnvironmentFacts>;

export const MotionFacts = z.strictObject({
  kind: z.literal('motion'),
  ...common,
  format: z.string(),
  joints: z.array(z.strictObject({ name: z.string(), parent: z.int() })),
  /** What its lengths are multiplied by to be metres. */
  factor: z.number(),
  heightMm: z.number(),
  clips: z.array(
    z.strictObject({
      name: z.string(),
      seconds: z.number(),
      fps: z.number(),
      frames: z.int(),
      /** How far the root has gone over ground from the first frame to the last. */
      rootMm: z.number(),
      /** Largest turn of a joint between last and first frame, and which. */
      loopDeg: z.number(),
      loopJoint: z.string(),
    }),
  ),
});
export type MotionFacts = z.infer<typeof MotionFacts>;

export const FootageFacts = z.strictObject({
  kind: z.literal('footage'),
  ...common,
  format: z.enum(['mp4', 'webm']),
  codec: z.string(),
  seconds: z.number(),
  width: z.int(),
  height: z.int(),
  fps: z.number(),
  sound: z.boolean(),
});
export type FootageFacts = z.infer<typeof FootageFacts>;

export const MediaFacts = z.discriminatedUnion('kind', [
  PictureFacts,
  SequenceFacts,
  SoundFacts,
  EnvironmentFacts,
  MotionFacts,
  FootageFacts,
]);
export type MediaFacts = z.infer<typeof MediaFacts>;
