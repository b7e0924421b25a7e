/** What a body is asked for by. */
import type { FormAsk, FormSize } from '../measures';

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
