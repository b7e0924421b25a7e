/**
 * How measures of heads are spread among adults: means and standard deviations in mm, each as a normal distribution. The respirator
 * survey of U.S. workers of 2003 (Zhuang & Bradtmiller, J. Occup. Environ. Hyg. 2005), *from memory*; bitragion breadth by *common practice*;
 * ear length, neck girth and all of the body (arms as the sum of their two lengths) by the survey of U.S. soldiers of 2012 (ANSUR II),
 * *from memory*.
 */
import { BODY_MEASURES, type BodyMeasureName } from './body/ask';
import { type FinerName, MEASURES, type MeasureName } from './measures';

export const PEOPLE = { women: 'Women', men: 'Men', both: 'Women and men' } as const;
export type People = keyof typeof PEOPLE;
/** Of the finer measures those that surveys hold. */
export const SPREAD_FINER = ['earLength', 'noseBridgeBreadth', 'neckGirth'] as const satisfies readonly FinerName[];
/** Of a body's all but its neck at the root. */
type SpreadBody = Exclude<BodyMeasureName, 'neck'>;
export const bodyHasSpread = (name: BodyMeasureName): name is SpreadBody => name !== 'neck';
export const SPREAD_BODY = BODY_MEASURES.filter(bodyHasSpread);
export type SpreadMeasure = SpreadBody | MeasureName | 'headCircumference' | (typeof SPREAD_FINER)[number];
export const hasSpread = (name: FinerName): name is (typeof SPREAD_FINER)[number] => (SPREAD_FINER as readonly string[]).includes(name);

type Spread = readonly [meanMm: number, sdMm: number];
// biome-ignore format: a table, one measure a line
const SPREAD: Readonly<Record<SpreadMeasure, Readonly<Record<'women' | 'men', Spread>>>> = {
  headLength: { women: [187.5, 7.2], men: [197.3, 7.4] },
  headBreadth: { women: [146.8, 5.6], men: [153, 6] },
  bizygomaticBreadth: { women: [135.1, 6.5], men: [143.5, 6.9] },
  bitragionBreadth: { women: [135, 5.4], men: [144, 6] },
  faceLength: { women: [113.4, 6.1], men: [122.7, 7] },
  interpupillaryDistance: { women: [61.9, 3.5], men: [64.5, 3.6] },
  noseProtrusion: { women: [19.8, 2.7], men: [21.1, 2.7] },
  noseBreadth: { women: [33.2, 3.9], men: [36.6, 4.1] },
  headCircumference: { women: [554.9, 17.9], men: [575.7, 17.1] },
  earLength: { women: [59.6, 3.9], men: [63.1, 4.1] },
  noseBridgeBreadth: { women: [16.3, 2], men: [16.6, 2.3] },
  neckGirth: { women: [330.1, 17.8], men: [397.7, 25.9] },
  stature: { women: [1628, 64], men: [1756, 69] },
  shoulderBreadth: { women: [365, 18], men: [416, 19] },
  chest: { women: [947, 83], men: [1059, 87] },
  waist: { women: [861, 100], men: [941, 112] },
  hip: { women: [1021, 76], men: [1020, 76] },
  armLength: { women: [554, 26], men: [602, 27] },
  insideLeg: { women: [779, 44], men: [846, 46] },
  handLength: { women: [181, 9.6], men: [193, 9.9] },
  footLength: { women: [246, 12.5], men: [271, 13] },
};

/** Share of a normal distribution below z (Abramowitz & Stegun 26.2.17: to 7.5e-8). */
export function normalBelow(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const tail =
    (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return z > 0 ? 1 - tail : tail;
}

/** The share of people whose measure is smaller, 0 … 1. */
export function percentileOf(measure: SpreadMeasure, mm: number, of: People): number {
  const { women, men } = SPREAD[measure];
  const below = ([mean, sd]: Spread) => normalBelow((mm - mean) / sd);
  if (of === 'both') return (below(women) + below(men)) / 2;
  return below(SPREAD[measure][of]);
}

/** The measure that a share of people stays below, mm. @param share 0.001 … 0.999 */
export function measureAt(measure: SpreadMeasure, share: number, of: People): number {
  let [lo, hi] = [0, 3000];
  for (let i = 0; i < 60; i++) {
    const mid = (lo + hi) / 2;
    if (percentileOf(measure, mid, of) < share) lo = mid;
    else hi = mid;
  }
  return (lo + hi) / 2;
}

/** A head of which every measure is at one share; to a tenth of a millimetre. */
export const headAt = (share: number, of: People): Record<MeasureName, number> =>
  Object.fromEntries(MEASURES.map((m) => [m, Math.round(measureAt(m, share, of) * 10) / 10])) as Record<MeasureName, number>;
/** The same of a body, to a millimetre; what no survey holds follows its size. */
export const bodyAt = (share: number, of: People): Record<SpreadBody, number> =>
  Object.fromEntries(SPREAD_BODY.map((m) => [m, Math.round(measureAt(m, share, of))])) as Record<SpreadBody, number>;
