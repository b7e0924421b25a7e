/** Depth without colour: what a real head would hide is hidden. */
import * as z from 'zod';
import { PartCommon, type PartDef } from './common';

/** What of the form hides: all of the head with the neck, the face alone, the ears, the neck, where hair grows, the whole bust, the whole body. */
export const OCCLUDER_REGIONS = ['head', 'face', 'ears', 'hair', 'neck', 'bust', 'body'] as const;
export type OccluderRegion = (typeof OCCLUDER_REGIONS)[number];
export const OCCLUDER_REGION_LABELS: Readonly<Record<OccluderRegion, string>> = {
  head: 'Head',
  face: 'Face',
  ears: 'Ears',
  hair: 'Hair cap',
  neck: 'Neck',
  bust: 'Bust',
  body: 'Body',
};

/** As thick as hair that is combed flat (*common practice*). */
export const HAIR_MM = 8;

const Millimetres = z.number().min(-50).max(50);
export const OccluderPart = z.strictObject({
  ...PartCommon,
  kind: z.literal('occluder'),
  region: z.enum(OCCLUDER_REGIONS).default('head'),
  /** Along the surface's normals; negative: within the form. */
  growMm: Millimetres.default(0),
  /** To both sides alone, away from the middle. */
  widenMm: Millimetres.default(0),
  /** What it hides fades out over this width, half within its edge and half beyond. */
  softMm: z.number().min(0).max(40).default(0),
});
export type OccluderPart = z.infer<typeof OccluderPart>;

export const occluder = {
  schema: OccluderPart,
  label: 'Occluder',
  use: 'hides what a real head would hide, and shows nothing',
  anchors: ['head'],
  onParts: false,
  drawnIn: 'parts',
  role: 'hides',
  stockFields: [],
} as const satisfies PartDef;
