/** Recipes: the ordered preparation steps of a stock file. The original is never altered; a step is data. */
import * as z from 'zod';
import { Id, Sha256 } from '../words/values';
import { type AnyStep, FileStep, RecipeStep } from './steps';

export * from './steps';

export const Recipe = z.strictObject({
  steps: z.array(RecipeStep).min(1).max(200),
  result: Sha256,
});
export type Recipe = z.infer<typeof Recipe>;
/** As it stands in a piece: under the id of its stock file. */
export const RecipeRow = z.strictObject({ id: Id, ...Recipe.shape });
export type RecipeRow = z.infer<typeof RecipeRow>;

/** Made upon the form, which was taken out of it: it lies where it belongs, wherever its origin is. */
export const isUponForm = (steps: readonly AnyStep[]): boolean =>
  steps.some((s) => s.step === 'mend' && s.on !== false && s.settings.ops.includes('the-form'));

/** A recipe in a file of its own: what `./scaphos prepare --recipe` reads and a yard keeps under a name. */
export const RecipeFile = z.strictObject({ name: z.string().min(1).max(200).optional(), steps: z.array(FileStep).min(1).max(200) });
export type RecipeFile = z.infer<typeof RecipeFile>;
