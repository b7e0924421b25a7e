/** A colourway: a name, and what parts wear in it other than usually (KHR_materials_variants). */
import * as z from 'zod';
import { Id, Name } from '../words/values';

export const MOST_LOOKS = 2000;

export const ColourwayRow = z.strictObject({
  id: Id,
  name: Name,
  looks: z
    .array(
      z.strictObject({
        part: Id,
        /** Name of a material, or `*`: all of the part, whatever each wears usually. */
        material: z.string().max(1000),
        /** null: as its file has it. */
        finish: Id.nullable(),
      }),
    )
    .max(MOST_LOOKS)
    .default([]),
});
export type ColourwayRow = z.infer<typeof ColourwayRow>;
