/** What Stock and the command line say of a model: the contract of `./scaphos inspect --json`. */
import { z } from 'zod';
import { StepDraft } from '../piece/recipe';
import { Kind } from './placing/kinds';

export const FindingLevel = z.enum(['blocker', 'warning', 'note']);
export type FindingLevel = z.infer<typeof FindingLevel>;
/** A step of the recipe that mends the finding, and what it will change, in sentences. */
export const Fix = z.intersection(StepDraft, z.object({ changes: z.array(z.string()) }));
export type Fix = z.infer<typeof Fix>;
export const Finding = z.strictObject({
  code: z.string(),
  level: FindingLevel,
  message: z.string(),
  where: z.string().optional(),
  fix: Fix.optional(),
});
export type Finding = z.infer<typeof Finding>;

export const ModelFormat = z.enum(['glb', 'gltf', 'fbx', 'obj', 'collada', 'ply', 'stl', '3ds', 'off', 'x']);
export type ModelFormat = z.infer<typeof ModelFormat>;

const three = <T extends z.ZodTypeAny>(t: T) => z.tuple([t, t, t]);
export const UnitGuessFacts = z.strictObject({ factor: z.number(), reason: z.string(), confidence: z.number() });
export const TurnGuessFacts = z.strictObject({
  yawDeg: z.number(),
  pitchDeg: z.number(),
  rollDeg: z.number(),
  reason: z.string(),
  confidence: z.number(),
});
export const PlacingFacts = z.strictObject({ units: UnitGuessFacts.nullable(), orientation: TurnGuessFacts.nullable() });
export const KindOrNone = z.enum([...Kind.options, 'unstated']);

/** A picture slot of a material that waits for its picture. */
export const WantedPicture = z.strictObject({
  /** As the file asks for it. */
  name: z.string(),
  slots: z.array(z.strictObject({ material: z.string(), role: z.string() })),
  /** It came along but cannot be read. */
  broken: z.boolean(),
});
export type WantedPicture = z.infer<typeof WantedPicture>;

/** A picture on its own: in Stock, or come along with a model that does not use it. */
export const PictureFacts = z.strictObject({
  name: z.string(),
  sha: z.string(),
  bytes: z.int().min(0),
  type: z.string(),
  width: z.int(),
  height: z.int(),
  hasAlpha: z.boolean(),
  alphaMin: z.number(),
  look: z.enum(['normal map', 'packed map', 'grey', 'colour']),
});
export type PictureFacts = z.infer<typeof PictureFacts>;

/** Who made it and what it permits, as the file itself says; empty strings where it says nothing. */
export const FileCredit = z.strictObject({ author: z.string(), source: z.string(), licence: z.string(), says: z.string() });
export type FileCredit = z.infer<typeof FileCredit>;

/** What inspection prints of a readable model. */
export const ModelFacts = z.strictObject({
  format: ModelFormat,
  bytes: z.int().min(0),
  readable: z.literal(true),
  /** Side, up, fore: the default scene as placed by its nodes, skins posed, no morphs. */
  sizeMm: three(z.number()),
  /** Drawn: instances multiplied, strips expanded. */
  triangles: z.int().min(0),
  vertices: z.int().min(0),
  meshes: z.int().min(0),
  materials: z.int().min(0),
  textures: z.array(z.strictObject({ name: z.string(), width: z.int(), height: z.int(), bytes: z.int(), type: z.string() })),
  bones: z.int().min(0),
  clips: z.array(z.strictObject({ name: z.string(), seconds: z.number() })),
  missing: z.array(z.string()),
  findings: z.array(Finding),
});
export type ModelFacts = z.infer<typeof ModelFacts>;

/** What is kept of a stock model: the facts, and what findings are judged from once a kind, a credit and other files are known. */
export const StockFacts = ModelFacts.extend({
  meshList: z.array(z.strictObject({ name: z.string(), triangles: z.int(), primitives: z.int(), materials: z.array(z.string()) })),
  /** Keys of each clip, in the order of `clips`. */
  clipKeys: z.array(z.int().min(0)),
  /** Box in metres: where the model lies. */
  boxM: z.tuple([z.number(), z.number(), z.number(), z.number(), z.number(), z.number()]),
  placing: z.record(KindOrNone, PlacingFacts),
  /** What the format's own record says one unit is. */
  unitRecord: z.string().nullable(),
  /** What the format cannot carry. */
  cannotCarry: z.string().nullable(),
  wanted: z.array(WantedPicture),
  loose: z.array(PictureFacts),
  credit: FileCredit,
});
export type StockFacts = z.infer<typeof StockFacts>;
export type Unreadable = { readable: false; error: { code: string; message: string } };
