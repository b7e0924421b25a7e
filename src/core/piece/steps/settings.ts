/** Settings of every step there is. Lengths in metres unless a name says otherwise; pixels from the upper left. */
import { z } from 'zod';
import { Sha256 } from '../../words/values';

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
  'the-form',
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
        picture: Sha256,
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

/** Pictures painted anew: each takes the place of a texture, found by its name or its bytes. */
export const RepaintSettings = z.strictObject({
  links: z
    .array(
      z.strictObject({
        texture: z.string().min(1).max(1000),
        /** SHA-256 of the texture it replaces; null: by name alone. */
        was: Sha256.nullable(),
        picture: Sha256,
        name: z.string().max(1000),
      }),
    )
    .min(1)
    .max(500),
});
export type RepaintSettings = z.infer<typeof RepaintSettings>;

const Pixels = z.number().min(-16384).max(32768);
const Edge = z.int().min(1).max(16384);
export const ENCODINGS = ['png', 'jpeg', 'webp'] as const;
/** Steps of pictures, in the order they make sense: draw, straighten, cut, mend the alpha, encode, hang. Pixels from the upper left. */
export const RasterSettings = z.strictObject({ width: Edge });
/** The picture's four corners in the photograph (upper left, upper right, lower right, lower left) become a rectangle. */
export const StraightenSettings = z.strictObject({
  corners: z.tuple([z.tuple([Pixels, Pixels]), z.tuple([Pixels, Pixels]), z.tuple([Pixels, Pixels]), z.tuple([Pixels, Pixels])]),
  width: Edge,
  height: Edge,
});
export type StraightenSettings = z.infer<typeof StraightenSettings>;
export const CropSettings = z.strictObject({ x: z.int().min(0).max(16384), y: z.int().min(0).max(16384), width: Edge, height: Edge });
export type CropSettings = z.infer<typeof CropSettings>;
export const AlphaSettings = z.strictObject({
  ops: z
    .array(z.enum(['bleed', 'drop']))
    .min(1)
    .max(2),
});
export const EncodeSettings = z.strictObject({ format: z.enum(ENCODINGS), quality: z.int().min(1).max(100) });
/** Width of the plane a picture hangs as; the height follows. */
export const PlaneSettings = z.strictObject({ widthMm: z.number().min(0.01).max(1e6) });
/** How a sequence plays. */
export const PlaySettings = z.strictObject({ fps: z.number().min(0.1).max(240), loop: z.boolean() });
export type PlaySettings = z.infer<typeof PlaySettings>;
/** Longest edge of a sequence's sheet. */
export const SheetSettings = z.strictObject({ maxEdge: z.int().min(64).max(16384) });
/** What is kept of a sound, in seconds. */
export const TrimSettings = z.strictObject({ fromS: z.number().min(0).max(86_400), toS: z.number().min(0).max(86_400) });

const metres = z.number().min(-1e6).max(1e6);
const Point = z.tuple([metres, metres, metres]);
const name = z.string().max(1000);

/** Where the model's origin comes to lie: under the middle of its base, in the middle of its box, or at a point of it. */
export const PivotSettings = z.strictObject({ to: z.enum(['base', 'centre', 'point']), pointM: Point });
export type PivotSettings = z.infer<typeof PivotSettings>;
/** The lowest point comes to lie at height nought. */
export const GroundSettings = z.strictObject({});
/** Takes out what cannot be seen: inside closed shapes, and what the named meshes hide from every side. */
export const HiddenSettings = z.strictObject({ inside: z.boolean(), behind: z.array(name).max(500) });
export type HiddenSettings = z.infer<typeof HiddenSettings>;
export const MergeSettings = z.strictObject({ materials: z.boolean(), meshes: z.boolean() });
export type MergeSettings = z.infer<typeof MergeSettings>;
export const PruneSettings = z.strictObject({});

/** A dab of "keep detail": vertices within `radiusM` of a point of the rest pose weigh more, least at its rim. */
export const DetailDab = z.strictObject({ atM: Point, radiusM: z.number().min(1e-6).max(1e6), weight: z.number().min(0.1).max(100) });
export const SimplifySettings = z.strictObject({
  /** Share of the triangles to keep; null: as `errorMm` says. */
  ratio: z.number().min(0).max(1).nullable(),
  /** Greatest quadric error in millimetres; null: as `ratio` says. With both, the first that is reached. */
  errorMm: z.number().min(0).max(1e6).nullable(),
  /** Meshes that get a number of triangles of their own. */
  meshes: z.array(z.strictObject({ mesh: name, triangles: z.int().min(1).max(1e9) })).max(10_000),
  /** Open borders stay where they are. */
  keepBorders: z.boolean(),
  /** Vertices and normals fitted to the original surface afterwards. */
  refit: z.boolean(),
  detail: z.array(DetailDab).max(2_000),
  /** Meshes that keep more: their share of triangles is so many times larger, their error so many times smaller. */
  keep: z
    .array(z.strictObject({ mesh: name, weight: z.number().min(0.1).max(100) }))
    .max(10_000)
    .default([]),
});
export type SimplifySettings = z.infer<typeof SimplifySettings>;

export const PICTURE_ROLES = ['color', 'normal', 'data', 'emission'] as const;
export type PictureRoleName = (typeof PICTURE_ROLES)[number];
const encoding = {
  /** Longest edge, px. */
  maxEdge: z.int().min(1).max(16384),
  format: z.enum(['keep', ...ENCODINGS, 'ktx2']),
  quality: z.int().min(1).max(100),
};
/** How pictures are written: by role, or one by one. What is within its limit and would grow stays as it is. */
export const PicturesSettings = z.strictObject({
  roles: z.array(z.strictObject({ role: z.enum(PICTURE_ROLES), ...encoding })).max(PICTURE_ROLES.length),
  textures: z
    .array(
      z.strictObject({
        texture: name,
        /** SHA-256 of the picture that is meant, where several have its name; null: by name alone. */
        was: Sha256.nullable(),
        ...encoding,
      }),
    )
    .max(1_000),
});
export type PicturesSettings = z.infer<typeof PicturesSettings>;
export type PictureEncoding = Pick<PicturesSettings['roles'][number], 'maxEdge' | 'format' | 'quality'>;
/** Small pictures of materials that draw alike become parts of one, at most so large; their materials become one. */
export const AtlasSettings = z.strictObject({ maxEdge: z.int().min(64).max(16384) });
export type AtlasSettings = z.infer<typeof AtlasSettings>;
export const ClipsSettings = z.strictObject({ resample: z.boolean(), dropConstant: z.boolean() });
export type ClipsSettings = z.infer<typeof ClipsSettings>;
export const BonesSettings = z.strictObject({
  dropUnused: z.boolean(),
  fourInfluences: z.boolean(),
  /** Most bones a skin may have; the least moving are merged into their parents. null: any. */
  limit: z.int().min(1).max(10_000).nullable(),
});
export type BonesSettings = z.infer<typeof BonesSettings>;

/** How fine numbers are written, in bits; it shows where bytes are packed or written as whole numbers. */
export const QuantiseSettings = z.strictObject({
  positionBits: z.int().min(6).max(16),
  normalBits: z.int().min(4).max(16),
  uvBits: z.int().min(6).max(16),
});
export type QuantiseSettings = z.infer<typeof QuantiseSettings>;
/** Vertices and triangles in an order that packs and draws well; nothing changes but the order. */
export const ReorderSettings = z.strictObject({});
export const PACKINGS = ['meshopt', 'draco'] as const;
export const CompressSettings = z.strictObject({ method: z.enum(PACKINGS) });
export type CompressSettings = z.infer<typeof CompressSettings>;
