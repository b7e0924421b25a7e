/** What Stock and the command line say of a model: the contract of `./scaphos inspect --json`. */
import * as z from 'zod';
import { FORM_SIZES } from '../form/measures';
import { Kind } from '../words/kinds';
import { Finding } from './findings';
import { MediaFacts, PictureFacts } from './media/facts';

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

/** Who made it and what it permits, as the file itself says; empty strings where it says nothing. */
export const FileCredit = z.strictObject({ author: z.string(), source: z.string(), licence: z.string(), says: z.string() });
export type FileCredit = z.infer<typeof FileCredit>;

/** The form found in a model: what brings it back to where it was. */
export const FormReturn = z.strictObject({
  size: z.enum(FORM_SIZES),
  factor: z.number(),
  turnDeg: z.strictObject({ yaw: z.number(), pitch: z.number(), roll: z.number() }),
  shiftM: three(z.number()),
  rmsMm: z.number(),
  /** It came back as its mirror image. */
  mirrored: z.boolean(),
});
export type FormReturn = z.infer<typeof FormReturn>;

/** What inspection prints of a readable model. */
export const ModelFacts = z.strictObject({
  kind: z.literal('model'),
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
  /** Names of morph targets, by number where they have none; of all meshes, each once. */
  morphs: z.array(z.string()).default([]),
  /** Shapes that are no surface, and how many points or lines they draw. */
  points: z.int().min(0).default(0),
  lines: z.int().min(0).default(0),
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
  form: FormReturn.nullable(),
});
export type StockFacts = z.infer<typeof StockFacts>;

/** What is kept of any stock file. */
export const FileFacts = z.discriminatedUnion('kind', [StockFacts, ...MediaFacts.options]);
export type FileFacts = z.infer<typeof FileFacts>;

export const Unreadable = z.strictObject({ readable: z.literal(false), error: z.strictObject({ code: z.string(), message: z.string() }) });
export type Unreadable = z.infer<typeof Unreadable>;
