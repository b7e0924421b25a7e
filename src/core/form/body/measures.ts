/** The measures of a body and their presets. All lengths in millimetres. */
import { FORM_SIZES, type FormSize, type Measures } from '../measures';

/**
 * Stature; shoulder breadth from acromion to acromion; chest, waist and hip by a tape round a level ring, neck round the sloping ring at its
 * root; arm length from acromion to stylion with the arm straight; inside leg from crotch to floor; hand length from the wrist's crease to
 * the dactylion; foot length from pternion to acropodion.
 */
export const BODY_MEASURES = [
  'stature',
  'shoulderBreadth',
  'chest',
  'waist',
  'hip',
  'armLength',
  'insideLeg',
  'neck',
  'handLength',
  'footLength',
] as const;
export type BodyMeasureName = (typeof BODY_MEASURES)[number];
/** With the head's own measures, or one of its sizes. */
export type BodyMeasures = Record<BodyMeasureName, number> & { head: FormSize | Partial<Measures> };

/** Round figures inside the ordinary adult range, chosen by hand: not a statistical standard. */
// biome-ignore format: table
export const BODY_PRESETS: Readonly<Record<FormSize, BodyMeasures>> = {
  S: { stature: 1600, shoulderBreadth: 340, chest: 842, waist: 648, hip: 884, armLength: 512, insideLeg: 728, neck: 392, handLength: 171, footLength: 234, head: 'S' },
  M: { stature: 1740, shoulderBreadth: 374, chest: 922, waist: 710, hip: 938, armLength: 562, insideLeg: 800, neck: 420, handLength: 188, footLength: 254, head: 'M' },
  L: { stature: 1880, shoulderBreadth: 408, chest: 1030, waist: 812, hip: 1028, armLength: 612, insideLeg: 868, neck: 454, handLength: 205, footLength: 276, head: 'L' },
};

export class BodyError extends Error {
  readonly code = 'form/body-measure';
}

/** Millimetres in which every measure must lie. */
const RANGE: Readonly<Record<BodyMeasureName, readonly [number, number]>> = {
  stature: [1200, 2300],
  shoulderBreadth: [220, 600],
  chest: [500, 1700],
  waist: [400, 1700],
  hip: [500, 1700],
  armLength: [350, 850],
  insideLeg: [500, 1100],
  neck: [250, 700],
  handLength: [110, 280],
  footLength: [150, 380],
};

/**
 * Missing measures come from M.
 * @throws {BodyError} a measure outside its range, or legs that leave no room for a trunk.
 */
export function resolveBodyMeasures(asked: FormSize | Partial<BodyMeasures>): BodyMeasures {
  const m: BodyMeasures = typeof asked === 'string' ? { ...BODY_PRESETS[asked] } : { ...BODY_PRESETS.M, ...asked };
  for (const k of BODY_MEASURES) {
    const [lo, hi] = RANGE[k];
    if (!(m[k] >= lo && m[k] <= hi)) throw new BodyError(`makeBody: ${k} must be ${lo}–${hi} mm; got ${m[k]}.`);
  }
  if (m.insideLeg > 0.56 * m.stature || m.insideLeg < 0.36 * m.stature)
    throw new BodyError(`makeBody: insideLeg must be 36–56 % of the stature of ${m.stature} mm; got ${m.insideLeg}.`);
  if (typeof m.head === 'string' && !FORM_SIZES.includes(m.head)) throw new BodyError(`makeBody: there is no head of size ${m.head}.`);
  return m;
}
