/**
 * How two answers are compared: E first, then all that is seen besides, the worst first (lexicographic on sorted terms). E is a
 * maximum: where one term cannot be helped, the others still count.
 */
import { errorOf, errorTerms } from '../measure/error';
import { THRESHOLDS, type VisibleError } from '../terms';

/** Terms closer than this are one: finer is the noise of the measures. */
const STEP = Math.log(1.02);
/** A share of what is not seen: below it no bytes are worth spending. */
export const FLOOR = 0.01;

/** Terms in steps of 2 % over a floor, E before all others. */
export type Rank = readonly number[];

/**
 * @param pictures what each picture loses by itself, as 1 − SSIM at the size it is seen
 * @param floor terms under it are equal
 */
export function rankOf(error: VisibleError, distanceM: number, pictures: readonly number[], floor = FLOOR): Rank {
  const step = (term: number) => (term <= floor ? 0 : Math.round(Math.log(term / floor) / STEP));
  const rest = [...Object.values(errorTerms(error, distanceM)), ...pictures.map((loss) => loss / THRESHOLDS.ssimLoss)];
  return [step(errorOf(error, distanceM)), ...rest.map(step).sort((a, b) => b - a)];
}

/** Negative where the first shows less. */
export function compareRanks(a: Rank, b: Rank): number {
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    const d = (a[i] ?? 0) - (b[i] ?? 0);
    if (d !== 0) return d;
  }
  return 0;
}
