/** A row of the cast. */
import * as z from 'zod';
import { BODY_MEASURES, BODY_RANGE, type BodyMeasureName } from '../form/body/ask';
import { FINER, type FinerName, FORM_SIZES, type FormSize, MEASURES, type MeasureName, type Measures } from '../form/measures';
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
/** The same of the finer ones; an angle in degrees. */
export const FINER_RANGE: Readonly<Record<FinerName, readonly [number, number]>> = {
  browToCrown: [108, 170],
  templeBreadth: [100, 165],
  earLength: [45, 76],
  earHeight: [10, 24],
  noseBridgeBreadth: [10, 26],
  noseBridgeAngle: [0, 30],
  neckGirth: [270, 500],
};
const NO_FINER = Object.fromEntries(FINER.map((name) => [name, null])) as Record<FinerName, number | null>;
const finer = (name: FinerName) => z.number().min(FINER_RANGE[name][0]).max(FINER_RANGE[name][1]).nullable().default(null);
const NO_BODY = Object.fromEntries(BODY_MEASURES.map((name) => [name, null])) as Record<BodyMeasureName, number | null>;
const ofBody = (name: BodyMeasureName) => z.number().min(BODY_RANGE[name][0]).max(BODY_RANGE[name][1]).nullable().default(null);
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
  /** What single things need (`FINER_ENDS`), mm, an angle in degrees; null: as it follows from the others. */
  finer: z
    .strictObject(Object.fromEntries(FINER.map((name) => [name, finer(name)])) as Record<FinerName, ReturnType<typeof finer>>)
    .default(NO_FINER),
  /** The body's, mm; null: as its size has it. */
  body: z
    .strictObject(
      Object.fromEntries(BODY_MEASURES.map((name) => [name, ofBody(name)])) as Record<BodyMeasureName, ReturnType<typeof ofBody>>,
    )
    .default(NO_BODY),
});
export type FormRow = z.infer<typeof FormRow>;

/** A row of somebody with these measures. */
export function formRow(id: string, name: string, size: FormSize, measures: Measures): FormRow {
  return {
    id,
    name,
    size,
    measures: Object.fromEntries(MEASURES.map((m) => [m, measures[m]])) as FormRow['measures'],
    headCircumference: measures.headCircumference ?? null,
    finer: Object.fromEntries(FINER.map((m) => [m, measures[m] ?? null])) as FormRow['finer'],
    body: { ...NO_BODY },
  };
}
