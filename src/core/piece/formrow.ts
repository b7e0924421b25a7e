/** A row of the cast. */
import * as z from 'zod';
import { FORM_SIZES, MEASURES, type MeasureName } from '../form/measures';
import { Id, Name } from '../words/values';

/** Millimetres within which a measure is one of a person's. */
export const MEASURE_RANGE: Readonly<Record<MeasureName | 'headCircumference', readonly [number, number]>> = {
  headLength: [150, 240],
  headBreadth: [115, 195],
  bizygomaticBreadth: [100, 175],
  bitragionBreadth: [105, 180],
  faceLength: [85, 155],
  interpupillaryDistance: [45, 85],
  noseProtrusion: [10, 35],
  noseBreadth: [20, 60],
  headCircumference: [450, 700],
};
const within = (name: keyof typeof MEASURE_RANGE) => z.number().min(MEASURE_RANGE[name][0]).max(MEASURE_RANGE[name][1]);

/** A wearer by measures, mm, straight from landmark to landmark (`MEASURE_ENDS`). */
export const FormRow = z.strictObject({
  id: Id,
  name: Name,
  /** The size its body has. */
  size: z.enum(FORM_SIZES).default('M'),
  measures: z.strictObject(Object.fromEntries(MEASURES.map((m) => [m, within(m)])) as Record<MeasureName, z.ZodNumber>),
  /** By tape, mm; null: as it follows from the others. */
  headCircumference: within('headCircumference').nullable().default(null),
});
export type FormRow = z.infer<typeof FormRow>;
