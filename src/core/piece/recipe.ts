/** Recipes: the ordered preparation steps of a stock model. The original is never altered; a step is data. */
import { z } from 'zod';

/** Rigid change of the whole model: first size, then turn (YXZ), then shift; baked into shapes, bones and clips. */
export const TransformSettings = z.strictObject({
  factor: z.number().min(1e-6).max(1e6),
  turnDeg: z.strictObject({
    yaw: z.number().min(-360).max(360),
    pitch: z.number().min(-360).max(360),
    roll: z.number().min(-360).max(360),
  }),
  shiftM: z.tuple([z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6)]),
  /** Node scale and turns are worked into the shapes where nothing moves them. */
  apply: z.boolean(),
});
export type TransformSettings = z.infer<typeof TransformSettings>;

export const MEND_OPS = [
  'not-finite',
  'degenerate',
  'duplicates',
  'flipped',
  'normals',
  'tangents',
  'weld',
  'unused',
  'close',
  'inner-shells',
  'crumbs',
  'merge-materials',
  'opaque',
  'single-sided',
  'lit',
  'unlit',
  'four-influences',
  'weights',
  'unused-bones',
  'constant-tracks',
] as const;
export const MendOp = z.enum(MEND_OPS);
export type MendOp = z.infer<typeof MendOp>;
export const MendSettings = z.strictObject({ ops: z.array(MendOp).min(1).max(MEND_OPS.length) });

/** Pictures for what a file asked for and did not get. */
export const RelinkSettings = z.strictObject({
  links: z
    .array(
      z.strictObject({
        wanted: z.string().min(1).max(1000),
        /** SHA-256 of the picture's bytes. */
        picture: z.string().regex(/^[0-9a-f]{64}$/),
        name: z.string().max(1000),
      }),
    )
    .min(1)
    .max(500),
});
export type RelinkSettings = z.infer<typeof RelinkSettings>;

export const TEXTURE_OPS = ['resize', 'drop-alpha', 'merge', 'roles', 'pack'] as const;
export const TextureSettings = z.strictObject({
  ops: z.array(z.enum(TEXTURE_OPS)).min(1).max(TEXTURE_OPS.length),
  /** Longest edge in pixels for `resize`. */
  maxEdge: z.int().min(16).max(16384),
});
export type TextureSettings = z.infer<typeof TextureSettings>;

/** A step before it is in a recipe: what a fix offers. */
export const StepDraft = z.discriminatedUnion('step', [
  z.object({ step: z.literal('transform'), settings: TransformSettings }),
  z.object({ step: z.literal('mend'), settings: MendSettings }),
  z.object({ step: z.literal('relink'), settings: RelinkSettings }),
  z.object({ step: z.literal('texture'), settings: TextureSettings }),
]);
export type StepDraft = z.infer<typeof StepDraft>;

const id = z.string().regex(/^[A-Za-z0-9_-]{1,40}$/);
const common = { id, on: z.boolean() };
export const RecipeStep = z.discriminatedUnion('step', [
  z.strictObject({ ...common, step: z.literal('transform'), settings: TransformSettings }),
  z.strictObject({ ...common, step: z.literal('mend'), settings: MendSettings }),
  z.strictObject({ ...common, step: z.literal('relink'), settings: RelinkSettings }),
  z.strictObject({ ...common, step: z.literal('texture'), settings: TextureSettings }),
]);
export type RecipeStep = z.infer<typeof RecipeStep>;

/** The steps of one stock model, and the blob they yield from its `model`. */
export const Recipe = z.strictObject({
  steps: z.array(RecipeStep).min(1).max(200),
  result: z.string().regex(/^[0-9a-f]{64}$/),
});
export type Recipe = z.infer<typeof Recipe>;

export const NO_TRANSFORM: TransformSettings = { factor: 1, turnDeg: { yaw: 0, pitch: 0, roll: 0 }, shiftM: [0, 0, 0], apply: false };
