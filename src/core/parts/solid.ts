/** A plain shape from numbers. */
import { z } from 'zod';
import { ANCHORS, PartCommon, type PartDef } from './common';

export const SOLID_FORMS = ['box', 'sphere', 'cylinder', 'capsule', 'cone', 'ring', 'plane', 'disc', 'tube', 'arch'] as const;
export type SolidForm = (typeof SOLID_FORMS)[number];
export const SOLID_LABELS: Readonly<Record<SolidForm, string>> = {
  box: 'Box',
  sphere: 'Sphere',
  cylinder: 'Cylinder',
  capsule: 'Capsule',
  cone: 'Cone',
  ring: 'Ring',
  plane: 'Plane',
  disc: 'Disc',
  tube: 'Tube',
  arch: 'Arch',
};
export const SOLID_FACES = ['top', 'bottom', 'front', 'back', 'side'] as const;
export type SolidFace = (typeof SOLID_FACES)[number];
/** The faces of a form that can be left open. `side` of a box is both; of what is round, its mantle. */
export const OPEN_FACES: Readonly<Record<SolidForm, readonly SolidFace[]>> = {
  box: ['top', 'bottom', 'front', 'back', 'side'],
  cylinder: ['top', 'bottom', 'side'],
  cone: ['bottom'],
  sphere: [],
  capsule: [],
  ring: [],
  plane: [],
  disc: [],
  tube: ['top', 'bottom'],
  arch: [],
};

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

export const SolidPart = z.strictObject({ ...PartCommon, kind: z.literal('solid'), shape: SolidShape });
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
