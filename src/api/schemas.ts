/** Requests and answers between browser and server. */
import { z } from 'zod';
import { ModelFacts } from '@/core/intake';
import { Edit, Id, Name, Piece, Sha256, StockItem } from '@/core/piece';

export const ApiErrorBody = z.object({ error: z.object({ code: z.string(), message: z.string(), details: z.unknown().optional() }) });
export type ApiErrorBody = z.infer<typeof ApiErrorBody>;

export const Email = z.email('an e-mail address').max(200);
export const Password = z.string().min(10, 'a password of at least 10 characters').max(200);
export const SignInRequest = z.strictObject({ email: z.string().max(200), password: z.string().max(200) });
export const SetupRequest = z.strictObject({ name: Name, email: Email, password: Password, yard: Name });

export const YardSummary = z.object({ id: Id, name: z.string() });
export type YardSummary = z.infer<typeof YardSummary>;
export const NewYardRequest = z.strictObject({ name: Name });

export const PieceSummary = z.object({
  id: Id,
  name: z.string(),
  revision: z.int(),
  document: Piece,
  updatedAt: z.string(),
  deletedAt: z.string().nullable(),
  /** The revision the kept cover shows; null: none yet. */
  coverRevision: z.int().nullable(),
  findings: z.object({ blocker: z.int(), warning: z.int(), note: z.int() }),
});
export type PieceSummary = z.infer<typeof PieceSummary>;

export const NewPieceRequest = z.strictObject({ name: Name });

export const AssetFacts = z.object({ original: Sha256, model: Sha256, facts: ModelFacts });
export type AssetFacts = z.infer<typeof AssetFacts>;
export const PieceAnswer = z.object({
  id: Id,
  yard: YardSummary,
  revision: z.int(),
  document: Piece,
  assets: z.array(AssetFacts),
});
export type PieceAnswer = z.infer<typeof PieceAnswer>;

export const SaveRequest = z.strictObject({
  /** Chosen by the browser; the same save sent twice counts once. */
  saveId: Id,
  baseRevision: z.int().min(0),
  edits: z.array(Edit).min(1).max(1000),
});
export type SaveRequest = z.infer<typeof SaveRequest>;
export const SaveAnswer = z.object({ revision: z.int() });
/** Details of a 409: where the piece stands, and what was done since. */
export const BehindDetails = z.object({ revision: z.int(), document: Piece, edits: z.array(Edit), assets: z.array(AssetFacts) });
export type BehindDetails = z.infer<typeof BehindDetails>;

export const UploadAnswer = z.object({ item: StockItem.omit({ id: true }), facts: ModelFacts });
export type UploadAnswer = z.infer<typeof UploadAnswer>;
export const WeightAnswer = z.object({ revision: z.int(), bytes: z.int() });
export const CreatedAnswer = z.object({ id: Id });
export const Done = z.object({ ok: z.literal(true) });
