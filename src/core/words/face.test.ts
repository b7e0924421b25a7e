import { describe, expect, test } from 'vitest';
import { ACTION_UNITS, FACE_SIGNALS, faceOf, unitWords, WHOLE_UNITS, weightsOf, withSums } from './face';

describe('the face in words and numbers', () => {
  test('every unit has words of its own, with the wearer’s side where there are two', () => {
    const words = ACTION_UNITS.map(unitWords);
    expect(new Set(words).size).toBe(ACTION_UNITS.length);
    expect(unitWords('AU45_L')).toBe('left eye shut');
    expect(unitWords('AU45')).toBe('eye shut');
    expect(unitWords('AU30_R')).toBe('jaw to the right');
    for (const u of WHOLE_UNITS) expect(unitWords(u)).not.toMatch(/\{|^ | $| {2}/);
  });
  test('a name without side is both; what is at rest, no number or unknown is nothing; all lies within 0 and 1', () => {
    expect(weightsOf({ AU12: 0.5, AU12_L: 2, AU26: -1, AU18: 0, AU64: Number.NaN })).toEqual({ AU12_L: 1, AU12_R: 0.5 });
    expect(weightsOf({ AU99: 1 } as never)).toEqual({});
  });
  test('a capture’s sums tell of the face where its units are not said', () => {
    expect(faceOf({ mouthOpen: 0.4, blinkLeft: 1, distance: 3 })).toEqual({ AU26: 0.4, AU45_L: 1 });
    expect(faceOf({ smile: 0.2, AU12_L: 0.9 })).toEqual({ AU12_L: 0.9 });
    expect(faceOf(undefined)).toEqual({});
  });
  test('sums follow from units as their mean, and what is said stays', () => {
    expect(withSums({ AU12_L: 1, AU26: 0.3 })).toEqual({ AU12_L: 1, AU26: 0.3, smile: 0.5, mouthOpen: 0.3 });
    expect(withSums({ AU26: 0.3, mouthOpen: 0.9 }).mouthOpen).toBe(0.9);
    for (const units of Object.values(FACE_SIGNALS)) for (const u of units) expect(ACTION_UNITS).toContain(u);
  });
});
