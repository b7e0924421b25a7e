/** The measures of a body and their presets. All lengths in millimetres. */
import { FORM_SIZES, type FormSize, type Measures } from '../measures';
import { BODY_MEASURES, BODY_RANGE, type BodyAsk, type BodyMeasureName } from './ask';

/** With the head's own measures, or one of its sizes. */
export type BodyMeasures = Record<BodyMeasureName, number> & { head: FormSize | Partial<Measures> };

/** Round figures inside the ordinary adult range, chosen by hand: not a statistical standard. */
// biome-ignore format: table
export const BODY_PRESETS: Readonly<Record<FormSize, BodyMeasures>> = {
  S: { stature: 1600, shoulderBreadth: 340, chest: 842, waist: 648, hip: 884, armLength: 512, insideLeg: 728, neck: 392, handLength: 171, footLength: 234, head: 'S' },
  M: { stature: 1740, shoulderBreadth: 374, chest: 922, waist: 710, hip: 938, armLength: 562, insideLeg: 800, neck: 420, handLength: 188, footLength: 254, head: 'M' },
  L: { stature: 1880, shoulderBreadth: 408, chest: 1030, waist: 812, hip: 1028, armLength: 612, insideLeg: 868, neck: 454, handLength: 205, footLength: 276, head: 'L' },
};

/** Legs as a share of the stature: shorter or longer ones leave no trunk that is one. */
const LEG_SHARE = [0.36, 0.56] as const;
/** What is asked for, legs as far as they leave a trunk. */
export function bodyMeasures({ size, body, head }: BodyAsk): BodyMeasures {
  const all = { ...BODY_PRESETS[size], ...body, head };
  const [least, most] = LEG_SHARE.map((share) => share * all.stature);
  return { ...all, insideLeg: Math.min(most, Math.max(least, all.insideLeg)) };
}
export class BodyError extends Error {
  readonly code = 'form/body-measure';
}

/**
 * Missing measures come from M.
 * @throws {BodyError} a measure outside its range, or legs that leave no room for a trunk.
 */
export function resolveBodyMeasures(asked: FormSize | Partial<BodyMeasures>): BodyMeasures {
  const m: BodyMeasures = typeof asked === 'string' ? { ...BODY_PRESETS[asked] } : { ...BODY_PRESETS.M, ...asked };
  for (const k of BODY_MEASURES) {
    const [lo, hi] = BODY_RANGE[k];
    if (!(m[k] >= lo && m[k] <= hi)) throw new BodyError(`makeBody: ${k} must be ${lo}–${hi} mm; got ${m[k]}.`);
  }
  const [least, most] = LEG_SHARE;
  if (m.insideLeg > most * m.stature || m.insideLeg < least * m.stature)
    throw new BodyError(`makeBody: insideLeg must be 36–56 % of the stature of ${m.stature} mm; got ${m.insideLeg}.`);
  if (typeof m.head === 'string' && !FORM_SIZES.includes(m.head)) throw new BodyError(`makeBody: there is no head of size ${m.head}.`);
  return m;
}
