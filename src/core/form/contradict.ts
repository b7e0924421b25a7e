/** Measures that no head can have together. Bounds far outside what people have (*common practice*): beyond them a form folds. */
import { FINER_LABELS, MEASURE_LABELS } from './labels';
import { type FinerName, type FormAsk, type MeasureName, type Measures, PRESETS } from './measures';

type Any = MeasureName | FinerName;
const LABELS: Readonly<Record<Any, string>> = { ...MEASURE_LABELS, ...FINER_LABELS };

/** The first is at most so many times the second and so many millimetres. */
const AT_MOST: readonly [Any, number, number, Any, string][] = [
  ['headBreadth', 1, 0, 'headLength', 'a head is longer than broad'],
  ['bizygomaticBreadth', 1, 12, 'headBreadth', 'cheekbones do not stand out beyond the head'],
  ['bitragionBreadth', 1, 12, 'headBreadth', 'ears begin where the head is'],
  ['faceLength', 0.8, 0, 'headLength', 'a face is shorter than its head is long'],
  ['interpupillaryDistance', 0.62, 0, 'bizygomaticBreadth', 'eyes lie between the cheekbones'],
  ['noseBreadth', 0.45, 0, 'bizygomaticBreadth', 'a nose leaves room for cheeks'],
  ['noseProtrusion', 0.3, 0, 'faceLength', 'a nose is shorter than that'],
  ['templeBreadth', 1, 8, 'headBreadth', 'temples do not stand out beyond the head'],
  ['noseBridgeBreadth', 1, -34, 'interpupillaryDistance', 'the bridge ends at the inner corners of the eyes'],
  ['earHeight', 0.4, 0, 'earLength', 'the root lies below the top of the ear'],
];

/** What contradicts, in words: “Pupils apart 90 mm and Cheekbones 110 mm: eyes lie between the cheekbones.” Those not asked for follow. */
export function contradictions(m: Measures): string[] {
  return AT_MOST.flatMap(([a, times, plus, b, why]) => {
    const [x, y] = [m[a], m[b]];
    if (x === undefined || y === undefined || x <= y * times + plus) return [];
    return [`${LABELS[a]} ${round(x)} mm and ${LABELS[b].toLowerCase()} ${round(y)} mm: ${why}.`];
  });
}
const round = (mm: number) => Math.round(mm * 10) / 10;

/** A tape nearer than this is the one that was asked for, mm. */
const TAPE_NEAR = 0.5;
/** A head circumference that the other measures do not allow; null: it is met. */
export function tapeContradiction(asked: number | undefined, reachedMm: number): string | null {
  if (asked === undefined || Math.abs(asked - reachedMm) < TAPE_NEAR) return null;
  return `Head circumference ${round(asked)} mm: length and breadth of the head allow ${asked > reachedMm ? 'no more' : 'no less'} than ${round(reachedMm)} mm.`;
}

/** All that contradicts in what was asked, of the form that was made of it. */
export function contradictionsOf(ask: FormAsk, { headCircumferenceMm }: { headCircumferenceMm: number }): string[] {
  if (typeof ask === 'string') return [];
  const tape = tapeContradiction(ask.headCircumference, headCircumferenceMm);
  return [...contradictions({ ...PRESETS.M, headCircumference: undefined, ...ask }), ...(tape ? [tape] : [])];
}
