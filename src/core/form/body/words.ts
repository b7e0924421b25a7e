/** What is said of a body's measures. */
import type { BodyAsk, BodyMeasureName } from './ask';
import { BODY_PRESETS, bodyMeasures } from './measures';

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

/** Measures of a body that nobody has together, in words. */
export function bodyContradictions(ask: BodyAsk): string[] {
  const { insideLeg, stature } = { ...BODY_PRESETS[ask.size], ...ask.body };
  const taken = bodyMeasures(ask).insideLeg;
  if (Math.abs(taken - insideLeg) < 0.05) return [];
  const why = insideLeg > taken ? 'leaves no trunk' : 'is no leg';
  return [`${BODY_LABELS.insideLeg} ${round(insideLeg)} mm ${why} at a stature of ${round(stature)} mm: ${round(taken)} mm is taken.`];
}
const round = (mm: number) => Math.round(mm * 10) / 10;
