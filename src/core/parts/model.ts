/** A stock model, picture or sequence. */
import * as z from 'zod';
import { Id, Share } from '../words/values';
import { ANCHORS, PartCommon, type PartDef } from './common';

/** The clip that plays; times in seconds and milliseconds. */
export const Motion = z.strictObject({
  clip: z.string().min(1).max(1000),
  loop: z.boolean().default(true),
  speed: z.number().min(-100).max(100).default(1),
  fromS: z.number().min(0).max(86_400).default(0),
  fadeMs: z.number().min(0).max(60_000).default(0),
});
export type Motion = z.infer<typeof Motion>;

export const ModelPart = z.strictObject({
  ...PartCommon,
  kind: z.literal('model'),
  stock: Id,
  /** null: the file's first clip, as the file says. */
  motion: Motion.nullable().default(null),
  /** 0 clear .. 1 as the file's materials say. */
  opacity: Share.default(1),
  /** Drawn as if its materials were opaque. */
  solid: z.boolean().default(false),
});
export type ModelPart = z.infer<typeof ModelPart>;

export const model = {
  schema: ModelPart,
  label: 'Model',
  use: 'a model, picture or sequence from Stock',
  anchors: ANCHORS,
  onParts: true,
  drawnIn: 'parts',
  role: 'made',
  stockFields: ['stock'],
} as const satisfies PartDef;
