/**
 * The steps of recipes, a file each: for which kinds of stock file, what it does, its settings, how several become one. Schemas,
 * orders and sets of steps are made from here; how a step runs stands in `prepare`, its words in `ui`.
 */
import * as z from 'zod';
import { Id } from '../../words/values';
import { alpha } from './alpha';
import { atlas } from './atlas';
import { bones } from './bones';
import { chains } from './chains';
import { clips } from './clips';
import { compress } from './compress';
import { crop } from './crop';
import type { StepDef, StepEffect, StepLink } from './define';
import { encode } from './encode';
import { figure } from './figure';
import { garment } from './garment';
import { ground } from './ground';
import { hidden } from './hidden';
import { known } from './known';
import { mend } from './mend';
import { merge } from './merge';
import { motion } from './motion';
import { pictures } from './pictures';
import { pivot } from './pivot';
import { plane } from './plane';
import { play } from './play';
import { prune } from './prune';
import { quantise } from './quantise';
import { raster } from './raster';
import { relink } from './relink';
import { reorder } from './reorder';
import { repaint } from './repaint';
import { retarget } from './retarget';
import { shares } from './shares';
import { sheet } from './sheet';
import { simplify } from './simplify';
import { stance } from './stance';
import { straighten } from './straighten';
import { texture } from './texture';
import { transform } from './transform';
import { trim } from './trim';
import { weights } from './weights';

export { AtlasSettings } from './atlas';
export { BonesSettings } from './bones';
export { ChainsSettings, WEIGHT_METHODS } from './chains';
export { ClipsSettings } from './clips';
export { PACKINGS } from './compress';
export type { StepDef, StepEffect } from './define';
export { FigureSettings } from './figure';
export { GarmentSettings } from './garment';
export { HiddenSettings } from './hidden';
export { KnownSettings } from './known';
export { MEND_OPS, MendOp } from './mend';
export { MergeSettings } from './merge';
export { MotionSettings } from './motion';
export { type PictureEncoding, type PictureRoleName, PicturesSettings } from './pictures';
export { PivotSettings } from './pivot';
export { PlaySettings } from './play';
export { QuantiseSettings } from './quantise';
export { RelinkSettings } from './relink';
export { RepaintSettings } from './repaint';
export { MOST_BLEND, RetargetSettings } from './retarget';
export { SharesSettings } from './shares';
export { SimplifySettings } from './simplify';
export { StanceSettings } from './stance';
export { TEXTURE_OPS, TextureSettings } from './texture';
export { combineTransforms, NO_TRANSFORM, TransformSettings, turnOf } from './transform';
export { Edge, metres, Pixels } from './values';
export { WeightsSettings } from './weights';

/** In the order of work. */
export const STEPS = {
  relink,
  repaint,
  transform,
  pivot,
  ground,
  mend,
  hidden,
  texture,
  merge,
  prune,
  chains,
  figure,
  garment,
  known,
  shares,
  weights,
  stance,
  motion,
  retarget,
  bones,
  clips,
  simplify,
  atlas,
  pictures,
  reorder,
  quantise,
  compress,
  raster,
  straighten,
  crop,
  alpha,
  encode,
  plane,
  play,
  sheet,
  trim,
} as const;
export type StepKind = keyof typeof STEPS;
export const STEP_KINDS = Object.keys(STEPS) as StepKind[];
export type SettingsOf<K extends StepKind> = z.infer<(typeof STEPS)[K]['settings']>;

/** Whether a step can be done to a kind of stock file. */
export const stepFits = (kind: string, step: StepKind): boolean => STEPS[step].for.includes(kind);
/** Pictures, motions and weights that steps put into a model. */
export const linkedFiles = (steps: readonly StepDraft[]): StepLink[] =>
  steps.flatMap((s) => [...((STEPS[s.step] as StepDef).links?.(s.settings) ?? [])]);
export const stepsThat = (...effects: StepEffect[]): ReadonlySet<StepKind> =>
  new Set(STEP_KINDS.filter((k) => effects.includes(STEPS[k].effect)));

/** A step before it is in a recipe: what a fix offers. */
export type StepDraft = { [K in StepKind]: { step: K; settings: SettingsOf<K> } }[StepKind];
export type RecipeStep = { [K in StepKind]: { id: string; on: boolean; step: K; settings: SettingsOf<K> } }[StepKind];
/** A step wherever it stands; `on` is left out where nothing is off. */
export type AnyStep = StepDraft & { on?: boolean };

const each = (shape: (k: StepKind) => z.ZodTypeAny) => z.discriminatedUnion('step', STEP_KINDS.map(shape) as never) as unknown;
const core = (k: StepKind) => ({ step: z.literal(k), settings: STEPS[k].settings });
export const StepDraft = each((k) => z.object(core(k))) as z.ZodType<StepDraft>;
export const RecipeStep = each((k) => z.strictObject({ id: Id, on: z.boolean(), ...core(k) })) as z.ZodType<RecipeStep>;
/** As in a file of its own: what is not said to be off is on. */
export const FileStep = each((k) => z.object({ on: z.boolean().default(true), ...core(k) })) as z.ZodType<StepDraft & { on: boolean }>;
