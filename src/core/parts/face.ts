/** The face surface: the wearer's own face, or some of it, as a thing to paint and to re-sculpt. It lies on the form and goes with it. */
import * as z from 'zod';
import { FACE_COVERS } from '../words/covers';
import { Colour, Id, Share } from '../words/values';
import { PartCommon, type PartDef } from './common';

export const FacePart = z.strictObject({
  ...PartCommon,
  kind: z.literal('face'),
  covers: z.enum(FACE_COVERS).default('face'),
  /** A picture of Stock, painted over the form's UV template; null: the colour alone. */
  stock: Id.nullable().default(null),
  /** Where the picture is clear, or all over without one; null: nothing. */
  colour: Colour.nullable().default(null),
  /** Left open, so that the wearer's own eyes and mouth are seen. */
  holes: z.strictObject({ eyes: z.boolean().default(true), mouth: z.boolean().default(true) }).default({ eyes: true, mouth: true }),
  /** A model of Stock: the form, re-sculpted elsewhere. null: the face as it is. */
  sculpt: Id.nullable().default(null),
  /** How far it stands off the skin. */
  growMm: z.number().min(-5).max(30).default(0.3),
  opacity: Share.default(1),
});
export type FacePart = z.infer<typeof FacePart>;

export const face = {
  schema: FacePart,
  label: 'Face surface',
  use: 'the wearer’s face, lids, brows, lips or eyeballs, painted and re-sculpted',
  anchors: ['head'],
  onParts: false,
  drawnIn: 'parts',
  role: 'lies',
  stockFields: ['stock', 'sculpt'],
  stockKinds: { stock: ['picture'], sculpt: ['model'] },
} as const satisfies PartDef;
