/** A plain shape from numbers. */
import * as z from 'zod';
import { ANCHORS, Occludes, PartCommon, type PartDef } from './common';
import { SOLID_FACES, SOLID_FORMS } from './solidforms';

const Millimetres = z.number().min(0.01).max(100_000);
export const SolidShape = z.strictObject({
  form: z.enum(SOLID_FORMS),
  /** Side, up, fore of the box round it. A plane and a disc have no depth; a ring, a tube and an arch stand about up. */
  sizeMm: z.tuple([Millimetres, Millimetres, Millimetres]),
  /** Radius of rounded edges; at most half of the shortest size counts. */
  roundMm: z.number().min(0).max(50_000).default(0),
  /** Thickness of a ring, a tube and an arch. */
  wallMm: Millimetres.default(8),
  open: z.array(z.enum(SOLID_FACES)).max(SOLID_FACES.length).default([]),
});
export type SolidShape = z.infer<typeof SolidShape>;

export const SolidPart = z.strictObject({ ...PartCommon, kind: z.literal('solid'), shape: SolidShape, occludes: Occludes });
export type SolidPart = z.infer<typeof SolidPart>;

export const solid = {
  schema: SolidPart,
  label: 'Solid',
  use: 'a box, ball, cylinder or other plain shape, by its measures',
  anchors: ANCHORS,
  onParts: true,
  drawnIn: 'parts',
  role: 'made',
  stockFields: [],
} as const satisfies PartDef;

/** What a solid looks like until it wears a finish: linear RGB, roughness. */
export const SOLID_LOOK = { colour: [0.56, 0.53, 0.46] as [number, number, number], roughness: 0.85 } as const;
