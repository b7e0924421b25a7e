/** The one definition of a piece. Lengths in metres, turns in radians (yaw, pitch, roll, composed YXZ), head frame. */
import { z } from 'zod';
import { FORM_SIZES } from '../form/measures';
import { Kind } from '../words/kinds';
import { Recipe, stepFits } from './recipe';

export const PIECE_SCHEMA = 3;

/** Own ids: letters, digits, dash and underscore, so that they are safe in URLs and file names. */
export const Id = z.string().regex(/^[A-Za-z0-9_-]{1,40}$/, 'an id of 1–40 letters, digits, - or _');
/** A name people give: any script, 1–120 characters, no control characters, no blank ends. */
export const Name = z
  .string()
  .min(1)
  .max(120)
  .refine((s) => s.trim() === s, 'a name does not begin or end with a blank')
  // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is refused
  .refine((s) => !/[\u0000-\u001f\u007f]/.test(s), 'a name has no control characters');
export const Sha256 = z.string().regex(/^[0-9a-f]{64}$/, 'a SHA-256 in lower-case hex');

/** Beyond ±1 km a float's step is no longer small against a millimetre. */
const Metres = z.number().min(-1000).max(1000);
const Turn = z.number().min(-1000).max(1000);
/** Sizes are never zero or negative: mirrored and flattened parts break normals and rays. */
const Factor = z.number().min(1e-6).max(1e6);

const three = <T extends z.ZodTypeAny>(t: T) => z.tuple([t, t, t]);

/** Where a part hangs from its anchor: side, up, fore; yaw is about up, pitch about side, roll about fore. */
export const Offset = z.strictObject({
  positionM: three(Metres),
  /** About side (pitch), up (yaw), fore (roll); composed yaw, then pitch, then roll. */
  turnRad: three(Turn),
  size: three(Factor),
});
export type Offset = z.infer<typeof Offset>;

export const ANCHORS = ['head'] as const;
export const Anchor = z.enum(ANCHORS);
export type Anchor = z.infer<typeof Anchor>;

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
/** A stock file as the piece knows it: content by hash, never altered. */
export const ModelItem = z.strictObject({
  ...StockCommon,
  kind: z.literal('model'),
  /** What it is, as the user says. */
  stated: Kind.nullable().default(null),
});
export type ModelItem = z.infer<typeof ModelItem>;
export const MEDIA_KINDS = ['picture', 'sequence', 'sound', 'environment', 'motion', 'footage'] as const;
export type MediaKind = (typeof MEDIA_KINDS)[number];
/** Everything in Stock that is no model. */
export const MediaItem = z.strictObject({ ...StockCommon, kind: z.enum(MEDIA_KINDS) });
export type MediaItem = z.infer<typeof MediaItem>;
export const StockItem = z.discriminatedUnion('kind', [ModelItem, MediaItem]);
export type StockItem = z.infer<typeof StockItem>;
export type StockKind = StockItem['kind'];
/** What can hang as a part: it is drawn from a GLB. */
export const canHang = (item: Pick<StockItem, 'kind'> | undefined): boolean =>
  item?.kind === 'model' || item?.kind === 'picture' || item?.kind === 'sequence';

const PartCommon = {
  id: Id,
  name: Name,
  /** null: lies in the rack, hangs nowhere. */
  anchor: Anchor.nullable(),
  visible: z.boolean(),
  locked: z.boolean(),
};
export const ModelPart = z.strictObject({
  ...PartCommon,
  kind: z.literal('model'),
  stockId: Id,
  offset: Offset,
  /** 0 clear .. 1 as the file's materials say. */
  opacity: z.number().min(0).max(1),
  /** Drawn as if its materials were opaque. */
  solid: z.boolean(),
});
/** Writes depth and no colour. Its shape is the form's own. */
export const OccluderPart = z.strictObject({ ...PartCommon, kind: z.literal('occluder'), anchor: Anchor });
export const Part = z.discriminatedUnion('kind', [ModelPart, OccluderPart]);
export type ModelPart = z.infer<typeof ModelPart>;
export type OccluderPart = z.infer<typeof OccluderPart>;
export type Part = z.infer<typeof Part>;

export const ProfileId = z.enum(['light', 'pocket', 'wide']);
export type ProfileId = z.infer<typeof ProfileId>;

export const MAX_PARTS = 500;
export const MAX_STOCK = 500;

export const Piece = z
  .strictObject({
    schema: z.literal(PIECE_SCHEMA),
    name: Name,
    form: z.enum(FORM_SIZES),
    profile: ProfileId,
    stock: z.record(Id, StockItem),
    /** Stock file → what is done to it before it is used. */
    recipes: z.record(Id, Recipe),
    parts: z.record(Id, Part),
    /** Every part once: the order in the rack, and the order of drawing. */
    rack: z.array(Id).max(MAX_PARTS),
  })
  .superRefine((p, ctx) => {
    const bad = (message: string, path: (string | number)[]) => ctx.addIssue({ code: 'custom', message, path });
    if (Object.keys(p.stock).length > MAX_STOCK) bad(`a piece has at most ${MAX_STOCK} stock files`, ['stock']);
    for (const [id, s] of Object.entries(p.stock)) if (s.id !== id) bad(`is filed under ${id} but says ${s.id}`, ['stock', id, 'id']);
    for (const [id, recipe] of Object.entries(p.recipes)) {
      const item = p.stock[id];
      if (!item) bad(`belongs to ${id}, which is not in the piece`, ['recipes', id]);
      else if (!recipe.steps.every((s) => stepFits(item.kind, s.step))) bad(`has a step that is not for a ${item.kind}`, ['recipes', id]);
    }
    for (const [id, part] of Object.entries(p.parts)) {
      if (part.id !== id) bad(`is filed under ${id} but says ${part.id}`, ['parts', id, 'id']);
      if (part.kind === 'model' && !canHang(p.stock[part.stockId]))
        bad(`names stock file ${part.stockId}, which is nothing in the piece that can hang`, ['parts', id, 'stockId']);
    }
    const inRack = new Set(p.rack);
    if (inRack.size !== p.rack.length || p.rack.length !== Object.keys(p.parts).length || p.rack.some((id) => !Object.hasOwn(p.parts, id)))
      bad('must list every part exactly once', ['rack']);
  });
export type Piece = z.infer<typeof Piece>;
