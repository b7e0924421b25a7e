/** Where the trouble starts: between a wearer on whom a thing sits right and one on whom it does not, from which measure on it is wrong. */
import { MEASURES, type MeasureName, type Measures } from '../form/measures';
import { percentileOf } from '../form/people';

export interface Starts {
  /** Of those that differ, the one that goes furthest through people. */
  measure: MeasureName;
  /** From here on it is wrong, mm. */
  mm: number;
  /** Share of people, women and men, whose measure is smaller, 0 … 1. */
  share: number;
  /** Whether larger heads are the trouble. */
  upwards: boolean;
}

/** Halvings between the two: to a hundredth of the way. */
const HALVINGS = 7;

const betweenHeads = (from: Measures, to: Measures, share: number): Measures =>
  Object.fromEntries(MEASURES.map((m) => [m, from[m] + (to[m] - from[m]) * share])) as Measures;

/**
 * @param fits measures of a head on which nothing is wrong @param not of one on which something is
 * @returns null: the two do not differ
 */
export async function whereItStarts(
  fits: Measures,
  not: Measures,
  isWrong: (of: Measures) => Promise<boolean> | boolean,
): Promise<Starts | null> {
  const goes = (m: MeasureName) => Math.abs(percentileOf(m, not[m], 'both') - percentileOf(m, fits[m], 'both'));
  const measure = MEASURES.reduce((a, b) => (goes(b) > goes(a) ? b : a));
  if (goes(measure) === 0) return null;
  let [right, wrong] = [0, 1];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (right + wrong) / 2;
    if (await isWrong(betweenHeads(fits, not, middle))) wrong = middle;
    else right = middle;
  }
  const mm = fits[measure] + ((not[measure] - fits[measure]) * (right + wrong)) / 2;
  return { measure, mm, share: percentileOf(measure, mm, 'both'), upwards: not[measure] > fits[measure] };
}

/** Of a cast the two who are most alike, one on whom nothing is wrong and one on whom something is: numbers in the list; null: all are one or the other. */
export function nearestPair(cast: readonly { measures: Measures; wrong: boolean }[]): { fits: number; not: number } | null {
  let best: { fits: number; not: number; apart: number } | null = null;
  for (const [fits, a] of cast.entries())
    for (const [not, b] of cast.entries()) {
      if (a.wrong || !b.wrong) continue;
      const apart = MEASURES.reduce(
        (s, m) => s + Math.abs(percentileOf(m, a.measures[m], 'both') - percentileOf(m, b.measures[m], 'both')),
        0,
      );
      if (!best || apart < best.apart) best = { fits, not, apart };
    }
  return best && { fits: best.fits, not: best.not };
}
