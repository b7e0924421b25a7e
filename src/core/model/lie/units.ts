/** In which unit a file was made, from its size and what it is said to be. */
import { KINDS, type Kind } from '../../words/kinds';

export interface UnitGuess {
  /** Multiply by this to reach metres as they should be read; 1: right as it is. */
  factor: number;
  reason: string;
  /** 0..1: the share of likelihood among the units tried. */
  confidence: number;
}

/** Metres that one unit of the file is, and how often files come so (natural logarithm; *common practice*). */
const UNITS: readonly { factor: number; word: string; prior: number }[] = [
  { factor: 1, word: 'metres', prior: 0 },
  { factor: 0.01, word: 'centimetres', prior: -0.7 },
  { factor: 0.001, word: 'millimetres', prior: -0.7 },
  { factor: 0.0254, word: 'inches', prior: -1.2 },
  { factor: 0.1, word: 'decimetres', prior: -2.2 },
  { factor: 0.3048, word: 'feet', prior: -3.2 },
  { factor: 10, word: 'a tenth of their size', prior: -2 },
  { factor: 100, word: 'a hundredth of their size', prior: -2.5 },
  { factor: 1000, word: 'a thousandth of their size', prior: -3 },
];

export const unitWord = (factor: number): string | null => UNITS.find((u) => u.factor === factor && factor < 1)?.word ?? null;

/** A length in words: mm below 1 m, metres from there. */
export function lengthWords(mm: number): string {
  if (!Number.isFinite(mm)) return 'not measurable';
  if (mm >= 1000) return `${(mm / 1000).toFixed(mm >= 100_000 ? 0 : 1)} m`;
  return `${mm >= 100 ? Math.round(mm) : Number(mm.toPrecision(2))} mm`;
}

const MEASURE = ['wide', 'tall'] as const;

/** "14.0 m wide; spectacles are about 140 mm: ×0.01". */
function reason(kind: Kind, sizeMm: readonly number[], factor: number): string {
  const { told, plural, usualMm } = KINDS[kind];
  const about = usualMm[told] >= 100 ? Math.round(usualMm[told] / 10) * 10 : Math.round(usualMm[told]);
  const tell = `${lengthWords(sizeMm[told])} ${MEASURE[told]}; ${plural} are about ${lengthWords(about)}`;
  return factor === 1 ? `${tell}: right as it is` : `${tell}: ×${factor}`;
}

/**
 * The unit of a model of a stated kind.
 * @param sizeMm side, up, fore once it is turned right, read in metres
 * @returns null where there is nothing to measure
 */
export function guessUnit(kind: Kind, sizeMm: readonly [number, number, number]): UnitGuess | null {
  if (!sizeMm.every(Number.isFinite) || Math.max(...sizeMm) <= 0) return null;
  const { usualMm, spread, leastMm } = KINDS[kind];
  const scores = UNITS.map(({ factor, prior }) =>
    sizeMm.reduce((s, mm, k) => {
      const off = Math.log(Math.max(mm * factor, 1e-6) / usualMm[k]) / spread[k];
      // heavy tails: one odd measure must not decide alone
      const tooSmall = mm * factor < leastMm[k] ? 4 : 0;
      return s - 2.5 * Math.log1p((off * off) / 5) - tooSmall;
    }, prior),
  );
  const top = Math.max(...scores);
  const weights = scores.map((s) => Math.exp(s - top));
  const at = scores.indexOf(top);
  const { factor } = UNITS[at];
  return { factor, reason: reason(kind, sizeMm, factor), confidence: 1 / weights.reduce((s, w) => s + w, 0) };
}

/** The unit by which a length comes nearest to what it usually is. */
export function unitNear(lengthMm: number, usualMm: number): number {
  const score = ({ factor, prior }: (typeof UNITS)[number]) => prior - 2 * Math.log((lengthMm * factor) / usualMm) ** 2;
  return UNITS.reduce((a, b) => (score(b) > score(a) ? b : a)).factor;
}

/** Without a kind only the impossible can be said, and not surely: nothing worn or held is over 4 m or under 4 mm. */
export function guessUnitUnstated(sizeMm: readonly [number, number, number]): UnitGuess | null {
  const largest = Math.max(...sizeMm);
  if (!Number.isFinite(largest) || largest <= 0 || (largest >= 4 && largest <= 4000)) return null;
  const tries = largest > 4000 ? [0.01, 0.001] : [100, 1000];
  const factor = tries.find((f) => largest * f >= 4 && largest * f <= 4000);
  if (!factor) return null;
  return { factor, reason: `${lengthWords(largest)} at its longest; unsure without its kind, perhaps ×${factor}`, confidence: 0.3 };
}
