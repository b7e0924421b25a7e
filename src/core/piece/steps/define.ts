/** What a step of a recipe says about itself. */
import type * as z from 'zod';

/**
 * place: moves the whole model, which is no error. paint: brings pictures that were missing, no error either. pack: shows when the
 * bytes are written. rig: raises bones, or says what of a shape they move. pose: how it stands at rest, which is no error. shape: leaves pictures and what they are for alone. pictures: leaves shapes alone. both: neither.
 * media: of files that are no models.
 */
export type StepEffect = 'place' | 'paint' | 'pack' | 'rig' | 'pose' | 'shape' | 'pictures' | 'both' | 'media';
/** Another file that a step puts into a model, by the SHA-256 of what it is used as. */
export interface StepLink {
  file: string;
  name: string;
}

export interface StepDef<S extends z.ZodTypeAny = z.ZodTypeAny> {
  settings: S;
  /** Kinds of stock file it can be done to. */
  for: readonly string[];
  effect: StepEffect;
  /** Can be one way only: a newer choice takes the older one's place. */
  once?: true;
  /** Steps that change pixels stay in the order they were made in (1); what is chosen about the whole comes before or after. */
  rank?: number;
  /** How several become one; where it is left out the last word counts. */
  merge?: (all: z.infer<S>[]) => z.infer<S>;
  /** Pictures, motions and weights it puts into the model. */
  links?: (settings: z.infer<S>) => readonly StepLink[];
}
export const defineStep = <S extends z.ZodTypeAny>(def: StepDef<S>): StepDef<S> => def;

/** Each thing to do once. */
export const united = <T>(all: readonly { ops: T[] }[]): { ops: T[] } => ({ ops: [...new Set(all.flatMap((x) => x.ops))] });
export const joined = <T>(all: readonly { links: T[] }[]): { links: T[] } => ({ links: all.flatMap((x) => x.links) });
