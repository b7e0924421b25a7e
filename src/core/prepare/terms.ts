/** What preparing tells: the shapes of its answers. Light enough for a page; the rest of the folder computes. */
import * as z from 'zod';
import { StepDraft } from '../piece/recipe';

export const VisibleError = z.strictObject({
  /** Larger of the two directed mean distances, mm. */
  meanMm: z.number(),
  /** Larger of the two directed greatest distances, at rest and as its clips bend it, mm. */
  maxMm: z.number(),
  /** Larger of the two mean angles between normals, degrees. */
  normalDeg: z.number(),
  /** Area covered in one picture and not the other, over the area covered, in the worst view. */
  silhouette: z.number(),
  /** Structural similarity in the worst view. */
  ssimWorst: z.number(),
  /** The view that is worst. */
  worstView: z.string(),
});
export type VisibleError = z.infer<typeof VisibleError>;

/** Where each term counts as 1: together "not seen". Ours; millimetres at half a metre. */
export const THRESHOLDS = { meanMm: 0.2, maxMm: 1, normalDeg: 5, silhouette: 0.005, ssimLoss: 0.02 } as const;

export const Weight = z.strictObject({
  /** Of the file as it is written. */
  bytes: z.int().min(0),
  /** Drawn: instances multiplied. */
  triangles: z.int().min(0),
  /** Held in vertex buffers. */
  vertices: z.int().min(0),
  /** Of the encoded pictures. */
  textureBytes: z.int().min(0),
  /** Most bones of one skin. */
  bones: z.int().min(0),
  materials: z.int().min(0),
  /** Longest edge of a picture, px. */
  textureEdge: z.int().min(0),
  drawCalls: z.int().min(0),
  /** On a device: pictures unpacked with their mip levels, geometry as uploaded. */
  deviceBytes: z.int().min(0),
});
export type Weight = z.infer<typeof Weight>;

export const WeightPart = z.strictObject({ kind: z.enum(['mesh', 'texture', 'clip', 'rest']), name: z.string(), bytes: z.int().min(0) });
export type WeightPart = z.infer<typeof WeightPart>;

export const StepCost = z.strictObject({
  id: z.string(),
  step: z.string(),
  /** After this step. */
  bytes: z.int(),
  triangles: z.int(),
  savedBytes: z.int(),
  savedTriangles: z.int(),
  /** Of all steps so far together; null where it was not measured. */
  e: z.number().nullable(),
  error: VisibleError.nullable(),
  ms: z.number(),
});
export type StepCost = z.infer<typeof StepCost>;

export const FrontPoint = z.strictObject({
  bytes: z.int(),
  triangles: z.int(),
  e: z.number(),
  error: VisibleError,
  /** What makes it, after the steps the solver was given. */
  steps: z.array(StepDraft),
});
export type FrontPoint = z.infer<typeof FrontPoint>;

export const Solution = z.strictObject({
  /** Points that nothing measured beats, lightest first. */
  front: z.array(FrontPoint),
  /** Place in the front of the one that meets the limits with least error; where none does, of the one that comes nearest. */
  chosen: z.int(),
  met: z.boolean(),
  /** Why not, and what would have to give. */
  unmet: z.array(z.string()),
  /** Candidates that were packed and measured. */
  measured: z.int(),
});
export type Solution = z.infer<typeof Solution>;

const most = z.int().min(0).max(1e12).nullable();
/** null: no limit. */
export const Limits = z.strictObject({
  bytes: most,
  triangles: most,
  /** Longest edge of a picture, px. */
  textureEdge: most,
  materials: most,
  bones: most,
  drawCalls: most,
  /** Pictures with mip levels and geometry, unpacked. */
  deviceBytes: most,
  /** How bytes may be packed; `webp`: pictures may be WebP. */
  formats: z.strictObject({ draco: z.boolean(), meshopt: z.boolean(), webp: z.boolean() }),
});
export type Limits = z.infer<typeof Limits>;
export type LimitName = Exclude<keyof Limits, 'formats'>;

export const NO_LIMITS: Limits = {
  bytes: null,
  triangles: null,
  textureEdge: null,
  materials: null,
  bones: null,
  drawCalls: null,
  deviceBytes: null,
  formats: { draco: true, meshopt: true, webp: true },
};
