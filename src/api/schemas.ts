/** Requests and answers between browser and server. */
import * as z from 'zod';
import { FileFacts, INTAKE_LIMITS } from '@/core/intake';
import {
  BARE_EDITS_SCHEMA,
  FinishClip,
  Id,
  MediaItem,
  ModelItem,
  Name,
  Piece,
  ProfileId,
  REACHED,
  RecipeFile,
  RecipeStep,
  Sha256,
  stepFits,
} from '@/core/piece';

export const ApiErrorBody = z.object({ error: z.object({ code: z.string(), message: z.string(), details: z.unknown().optional() }) });
export type ApiErrorBody = z.infer<typeof ApiErrorBody>;

export const Email = z.email('an e-mail address').max(200);
export const Password = z.string().min(10, 'a password of at least 10 characters').max(200);
export const SignInRequest = z.strictObject({ email: z.string().max(200), password: z.string().max(200) });
export const SetupRequest = z.strictObject({ name: Name, email: Email, password: Password, yard: Name });

export const YardSummary = z.object({ id: Id, name: z.string() });
export type YardSummary = z.infer<typeof YardSummary>;
/** Of a yard that is made or renamed. */
export const NewYardRequest = z.strictObject({ name: Name });

export const PieceSummary = z.object({
  id: Id,
  name: z.string(),
  revision: z.int(),
  profile: ProfileId,
  /** How far it has come. */
  reached: z.enum(REACHED),
  createdAt: z.string(),
  updatedAt: z.string(),
  deletedAt: z.string().nullable(),
  /** The revision the kept cover shows; null: none yet. */
  coverRevision: z.int().nullable(),
  findings: z.object({ blocker: z.int(), warning: z.int(), note: z.int() }),
});
export type PieceSummary = z.infer<typeof PieceSummary>;

/** A piece whose document this Scaphos cannot read; it is kept as it is. */
export const UnreadablePiece = z.object({ id: Id, unreadable: z.string(), revision: z.int(), updatedAt: z.string() });
export type UnreadablePiece = z.infer<typeof UnreadablePiece>;
export const YardPiece = z.union([PieceSummary, UnreadablePiece]);
export type YardPiece = z.infer<typeof YardPiece>;

/** Bytes of a yard's files, seconds they were read for in the last hour, and the most there may be. */
export const YardUse = z.object({ bytes: z.number(), most: z.number(), readS: z.number(), mostReadS: z.number() });
export type YardUse = z.infer<typeof YardUse>;

export const NewPieceRequest = z.strictObject({ name: Name });

/** What was read of a file, in one of the forms it is used as; null where it cannot be read any more. */
export const AssetFacts = z.object({ original: Sha256, model: Sha256, facts: FileFacts.nullable() });
export type AssetFacts = z.infer<typeof AssetFacts>;
export const PieceAnswer = z.object({
  id: Id,
  yard: YardSummary,
  revision: z.int(),
  document: Piece,
  assets: z.array(AssetFacts),
});
export type PieceAnswer = z.infer<typeof PieceAnswer>;

/** More go in several saves, one after the other. */
export const MOST_EDITS_A_SAVE = 500;
export const SaveRequest = z.strictObject({
  /** Chosen by the browser; the same save sent twice counts once. */
  saveId: Id,
  baseRevision: z.int().min(0),
  /** Schema the edits were made for; left out by pages from before it was told. */
  schema: z.int().min(1).default(BARE_EDITS_SCHEMA),
  /** Read by `readEdits` on the document they were made on. */
  edits: z.array(z.unknown()).min(1).max(MOST_EDITS_A_SAVE),
});
export type SaveRequest = z.input<typeof SaveRequest>;
export const SaveAnswer = z.object({ revision: z.int() });
/** Details of a 409: where the piece stands, and the entities that were changed since (`touchedByEdit`). */
export const BehindDetails = z.object({
  revision: z.int(),
  document: Piece,
  changed: z.array(z.string()),
  assets: z.array(AssetFacts),
});
export type BehindDetails = z.infer<typeof BehindDetails>;

/** A revision whose document is kept; `name`: null where nobody gave it one, `by`: who did. */
export const Version = z.object({ revision: z.int(), name: z.string().nullable(), by: z.string().nullable(), at: z.string() });
export type Version = z.infer<typeof Version>;
export const VersionAnswer = z.object({ revision: z.int(), at: z.string(), document: Piece, assets: z.array(AssetFacts) });
export type VersionAnswer = z.infer<typeof VersionAnswer>;
export const NameVersionRequest = z.strictObject({ name: Name });

/** Finished uploads that were dropped together, and what their bytes were when they were sent. */
export const TakeRequest = z.strictObject({
  uploads: z
    .array(z.strictObject({ id: z.string().max(100), name: z.string().min(1).max(1000), sha256: Sha256.optional() }))
    .min(1)
    .max(INTAKE_LIMITS.archiveEntries),
});
export type TakeRequest = z.infer<typeof TakeRequest>;
/** What came in with them: one model, or files that are none. */
export const UploadAnswer = z.object({
  items: z.array(z.object({ item: z.union([ModelItem.omit({ id: true }), MediaItem.omit({ id: true })]), asset: AssetFacts })),
});
export type UploadAnswer = z.infer<typeof UploadAnswer>;
/** A recipe to be run on a stock file: `model` is what it came to be used as, `name` the file's. */
export const PrepareRequest = z.strictObject({
  original: Sha256,
  model: Sha256,
  name: Name,
  steps: z.array(RecipeStep).min(1).max(200),
});
export type PrepareRequest = z.infer<typeof PrepareRequest>;
const NamedSteps = RecipeFile.shape.steps.refine((list) => list.every((s) => stepFits('model', s.step)), {
  message: 'a step among them is none for a model',
});
/** A recipe of the yard, to be kept under its name. */
export const NamedRecipeDraft = z.strictObject({ name: Name, steps: NamedSteps });
export type NamedRecipeDraft = z.infer<typeof NamedRecipeDraft>;
export const NamedRecipe = NamedRecipeDraft.extend({ id: Id });
export type NamedRecipe = z.infer<typeof NamedRecipe>;
/** A finish of the yard, to be kept under its name. */
export const KeptFinishDraft = z.strictObject({ name: Name, clip: FinishClip });
export type KeptFinishDraft = z.infer<typeof KeptFinishDraft>;
export const KeptFinish = KeptFinishDraft.extend({ id: Id });
export type KeptFinish = z.infer<typeof KeptFinish>;
export const PrepareAnswer = z.object({ asset: AssetFacts, unmatched: z.array(z.string()) });
export type PrepareAnswer = z.infer<typeof PrepareAnswer>;
export const WeightAnswer = z.object({ revision: z.int(), bytes: z.int() });
/** Weights of a yard's pieces by their ids: bytes at a revision, or why there are none; null: it is being worked out, ask again. */
export const YardWeights = z.record(Id, z.union([WeightAnswer, z.object({ revision: z.int(), why: z.string() })]).nullable());
export type YardWeights = z.infer<typeof YardWeights>;
export const CreatedAnswer = z.object({ id: Id });
export const Done = z.object({ ok: z.literal(true) });
