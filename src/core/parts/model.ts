/** A stock model, picture or sequence. */
import * as z from 'zod';
import { BARE_TEXT } from '../form/body/bare';
import { BODY_AREAS, HUMANOID_BONES } from '../words/humanoid';
import { Id, Share } from '../words/values';
import { ANCHORS, Occludes, PartCommon, type PartDef } from './common';

/** The clip that plays; times in seconds and milliseconds. */
export const Motion = z.strictObject({
  clip: z.string().min(1).max(1000),
  loop: z.boolean().default(true),
  speed: z.number().min(-100).max(100).default(1),
  fromS: z.number().min(0).max(86_400).default(0),
  fadeMs: z.number().min(0).max(60_000).default(0),
});
export type Motion = z.infer<typeof Motion>;

/** A garment: its bones go with the joints of the wearer's body. */
export const Worn = z.strictObject({
  /** Node of the file → bone of the body. What is not named keeps its place on what it hangs from. */
  bones: z.record(z.string().min(1).max(1000), z.enum(HUMANOID_BONES as [string, ...string[]])),
  /** Areas of the body over which nothing of it is drawn. */
  hides: z.array(z.enum(BODY_AREAS)).max(BODY_AREAS.length).default([]),
  /** Areas of the body that hide nothing while it is worn: it lies over them all round. */
  under: z.array(z.enum(BODY_AREAS)).max(BODY_AREAS.length).default([]),
  /** Where else the body hides nothing, vertex by vertex (`packBare`). */
  bare: z.base64().min(1).max(BARE_TEXT).nullable().default(null),
});
export type Worn = z.infer<typeof Worn>;

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
  /** null: it hangs as one piece. */
  worn: Worn.nullable().default(null),
  occludes: Occludes,
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
