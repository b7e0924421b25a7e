/** The measures of a body and their presets. All lengths in millimetres. */
import { FORM_SIZES, type FormAsk, type FormSize, type Measures } from '../measures';

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
export const BODY_LABELS: Readonly<Record<BodyMeasureName, string>> = {
  stature: 'Stature',
  shoulderBreadth: 'Shoulders apart',
  chest: 'Chest',
  waist: 'Waist',
  hip: 'Hip',
  armLength: 'Arm length',
  insideLeg: 'Inside leg',
  neck: 'Neck root',
  handLength: 'Hand length',
  footLength: 'Foot length',
};
/** With the head's own measures, or one of its sizes. */
export type BodyMeasures = Record<BodyMeasureName, number> & { head: FormSize | Partial<Measures> };

/** Round figures inside the ordinary adult range, chosen by hand: not a statistical standard. */
// biome-ignore format: table
export const BODY_PRESETS: Readonly<Record<FormSize, BodyMeasures>> = {
  S: { stature: 1600, shoulderBreadth: 340, chest: 842, waist: 648, hip: 884, armLength: 512, insideLeg: 728, neck: 392, handLength: 171, footLength: 234, head: 'S' },
  M: { stature: 1740, shoulderBreadth: 374, chest: 922, waist: 710, hip: 938, armLength: 562, insideLeg: 800, neck: 420, handLength: 188, footLength: 254, head: 'M' },
  L: { stature: 1880, shoulderBreadth: 408, chest: 1030, waist: 812, hip: 1028, armLength: 612, insideLeg: 868, neck: 454, handLength: 205, footLength: 276, head: 'L' },
};

/** Whose body: a size's, with measures typed over it, mm; and the head it carries. */
export interface BodyAsk {
  size: FormSize;
  body: Partial<Record<BodyMeasureName, number>>;
  head: FormAsk;
}
/** A body as its size has it, head and all. */
export const bodyOfSize = (size: FormSize): BodyAsk => ({ size, body: {}, head: size });
/** Whether that is what is asked for. */
export const isOfSize = ({ size, body, head }: BodyAsk): boolean => head === size && Object.keys(body).length === 0;
/** Legs as a share of the stature: shorter or longer ones leave no trunk that is one. */
const LEG_SHARE = [0.36, 0.56] as const;
/** What is asked for, legs as far as they leave a trunk. */
export function bodyMeasures({ size, body, head }: BodyAsk): BodyMeasures {
  const all = { ...BODY_PRESETS[size], ...body, head };
  const [least, most] = LEG_SHARE.map((share) => share * all.stature);
  return { ...all, insideLeg: Math.min(most, Math.max(least, all.insideLeg)) };
}
/** Measures of a body that nobody has together, in words. */
export function bodyContradictions(ask: BodyAsk): string[] {
  const { insideLeg, stature } = { ...BODY_PRESETS[ask.size], ...ask.body };
  const taken = bodyMeasures(ask).insideLeg;
  if (Math.abs(taken - insideLeg) < 0.05) return [];
  const why = insideLeg > taken ? 'leaves no trunk' : 'is no leg';
  return [`${BODY_LABELS.insideLeg} ${round(insideLeg)} mm ${why} at a stature of ${round(stature)} mm: ${round(taken)} mm is taken.`];
}
const round = (mm: number) => Math.round(mm * 10) / 10;

export class BodyError extends Error {
  readonly code = 'form/body-measure';
}

/** Millimetres in which every measure must lie. */
export const BODY_RANGE: Readonly<Record<BodyMeasureName, readonly [number, number]>> = {
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
    const [lo, hi] = BODY_RANGE[k];
    if (!(m[k] >= lo && m[k] <= hi)) throw new BodyError(`makeBody: ${k} must be ${lo}–${hi} mm; got ${m[k]}.`);
  }
  const [least, most] = LEG_SHARE;
  if (m.insideLeg > most * m.stature || m.insideLeg < least * m.stature)
    throw new BodyError(`makeBody: insideLeg must be 36–56 % of the stature of ${m.stature} mm; got ${m.insideLeg}.`);
  if (typeof m.head === 'string' && !FORM_SIZES.includes(m.head)) throw new BodyError(`makeBody: there is no head of size ${m.head}.`);
  return m;
}
