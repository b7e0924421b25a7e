/**
 * The steps of recipes, one entry each: for which kinds of stock file, in the order of work, and what it does. Schemas, orders and
 * sets of steps are made from here; how a step runs stands in `prepare`, its words in `ui`.
 */
import { z } from 'zod';
import { Id } from '../../words/values';
import {
  AlphaSettings,
  AtlasSettings,
  BonesSettings,
  ClipsSettings,
  CompressSettings,
  CropSettings,
  EncodeSettings,
  GroundSettings,
  HiddenSettings,
  MendSettings,
  MergeSettings,
  PicturesSettings,
  PivotSettings,
  PlaneSettings,
  PlaySettings,
  PruneSettings,
  QuantiseSettings,
  RasterSettings,
  RelinkSettings,
  ReorderSettings,
  RepaintSettings,
  SheetSettings,
  SimplifySettings,
  StraightenSettings,
  TextureSettings,
  TransformSettings,
  TrimSettings,
} from './settings';

export * from './settings';

/**
 * place: moves the whole model, which is no error. paint: brings pictures that were missing, no error either. pack: shows when the
 * bytes are written. shape: leaves pictures and what they are for alone. pictures: leaves shapes alone. both: neither.
 * media: of files that are no models.
 */
export type StepEffect = 'place' | 'paint' | 'pack' | 'shape' | 'pictures' | 'both' | 'media';
export interface StepDef<S extends z.ZodTypeAny = z.ZodTypeAny> {
  settings: S;
  for: readonly string[];
  effect: StepEffect;
  /** Can be one way only: a newer choice takes the older one's place. */
  once?: true;
  /** Steps that change pixels stay in the order they were made in (1); what is chosen about the whole comes before or after. */
  rank?: number;
}
const defineStep = <S extends z.ZodTypeAny>(def: StepDef<S>): StepDef<S> => def;

/** In the order of work. */
export const STEPS = {
  relink: defineStep({ settings: RelinkSettings, for: ['model'], effect: 'paint' }),
  repaint: defineStep({ settings: RepaintSettings, for: ['model'], effect: 'paint' }),
  transform: defineStep({ settings: TransformSettings, for: ['model'], effect: 'place' }),
  pivot: defineStep({ settings: PivotSettings, for: ['model'], effect: 'place' }),
  ground: defineStep({ settings: GroundSettings, for: ['model'], effect: 'place' }),
  mend: defineStep({ settings: MendSettings, for: ['model'], effect: 'both' }),
  hidden: defineStep({ settings: HiddenSettings, for: ['model'], effect: 'shape' }),
  texture: defineStep({ settings: TextureSettings, for: ['model'], effect: 'pictures' }),
  merge: defineStep({ settings: MergeSettings, for: ['model'], effect: 'shape' }),
  prune: defineStep({ settings: PruneSettings, for: ['model'], effect: 'shape' }),
  bones: defineStep({ settings: BonesSettings, for: ['model'], effect: 'shape' }),
  clips: defineStep({ settings: ClipsSettings, for: ['model'], effect: 'shape' }),
  simplify: defineStep({ settings: SimplifySettings, for: ['model'], effect: 'shape' }),
  atlas: defineStep({ settings: AtlasSettings, for: ['model'], effect: 'pictures' }),
  pictures: defineStep({ settings: PicturesSettings, for: ['model'], effect: 'pictures' }),
  reorder: defineStep({ settings: ReorderSettings, for: ['model'], effect: 'pack' }),
  quantise: defineStep({ settings: QuantiseSettings, for: ['model'], effect: 'pack' }),
  compress: defineStep({ settings: CompressSettings, for: ['model'], effect: 'pack' }),
  raster: defineStep({ settings: RasterSettings, for: ['picture'], effect: 'media', once: true, rank: 0 }),
  straighten: defineStep({ settings: StraightenSettings, for: ['picture'], effect: 'media' }),
  crop: defineStep({ settings: CropSettings, for: ['picture'], effect: 'media' }),
  alpha: defineStep({ settings: AlphaSettings, for: ['picture'], effect: 'media' }),
  encode: defineStep({ settings: EncodeSettings, for: ['picture'], effect: 'media', once: true, rank: 2 }),
  plane: defineStep({ settings: PlaneSettings, for: ['picture', 'sequence'], effect: 'media', once: true, rank: 3 }),
  play: defineStep({ settings: PlaySettings, for: ['sequence'], effect: 'media', once: true, rank: 1 }),
  sheet: defineStep({ settings: SheetSettings, for: ['sequence'], effect: 'media', once: true, rank: 2 }),
  trim: defineStep({ settings: TrimSettings, for: ['sound'], effect: 'media', once: true }),
} as const;
export type StepKind = keyof typeof STEPS;
export const STEP_KINDS = Object.keys(STEPS) as StepKind[];
export type SettingsOf<K extends StepKind> = z.infer<(typeof STEPS)[K]['settings']>;

/** Whether a step can be done to a kind of stock file. */
export const stepFits = (kind: string, step: StepKind): boolean => STEPS[step].for.includes(kind);
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
