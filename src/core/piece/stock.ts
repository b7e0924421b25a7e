/** Stock files as the piece knows them: content by hash, never altered. */
import * as z from 'zod';
import { Kind } from '../words/kinds';
import { Id, Name, Sha256 } from '../words/values';

/** Whose a file is: SPDX id, `own-work`, or empty: unknown. */
export const StockCredit = z.strictObject({ author: z.string().max(200), source: z.string().max(500), licence: z.string().max(64) });
export type StockCredit = z.infer<typeof StockCredit>;
export const NO_STOCK_CREDIT: StockCredit = { author: '', source: '', licence: '' };

/** A finding the user has looked at and lets be, with the reason. */
export const Dismissed = z.strictObject({ code: z.string().min(1).max(60), where: z.string().max(1000), reason: z.string().max(300) });
export type Dismissed = z.infer<typeof Dismissed>;

const StockCommon = {
  id: Id,
  /** The file's own name. */
  name: Name,
  /** What came in. */
  original: Sha256,
  bytes: z.int().min(0),
  /**
   * The same in the one form the piece works with: a GLB of models, motion clips, and of pictures and sequences as planes;
   * RGBE of an environment; else, and where the file already was that, the same as `original`.
   */
  model: Sha256,
  credit: StockCredit.default(NO_STOCK_CREDIT),
  dismissed: z.array(Dismissed).max(200).default([]),
};
export const ModelItem = z.strictObject({
  ...StockCommon,
  kind: z.literal('model'),
  /** What it is, as the user says. */
  stated: Kind.nullable().default(null),
});
export type ModelItem = z.infer<typeof ModelItem>;
export const MEDIA_KINDS = ['picture', 'sequence', 'sound', 'environment', 'motion', 'footage'] as const;
/** Everything in Stock that is no model. */
export const MediaItem = z.strictObject({ ...StockCommon, kind: z.enum(MEDIA_KINDS) });
export type MediaItem = z.infer<typeof MediaItem>;
export const StockItem = z.discriminatedUnion('kind', [ModelItem, MediaItem]);
export type StockItem = z.infer<typeof StockItem>;
export type StockKind = StockItem['kind'];
/** What can hang as a part: it is drawn from a GLB. */
export const canHang = (item: Pick<StockItem, 'kind'> | undefined): boolean =>
  item?.kind === 'model' || item?.kind === 'picture' || item?.kind === 'sequence';
/** What a screen can show. */
export const canFill = (item: Pick<StockItem, 'kind'> | undefined): boolean => item?.kind === 'picture' || item?.kind === 'environment';
