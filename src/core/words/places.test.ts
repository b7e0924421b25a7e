import { expect, test } from 'vitest';
import { LANDMARKS } from './landmarks';
import { placeWords } from './places';

test('every landmark has words of its own, sides are the wearer’s', () => {
  const words = LANDMARKS.map(placeWords);
  expect(words.every((w) => /^[a-z, ]+$/.test(w))).toBe(true);
  // both places of the chin are the chin
  expect(new Set(words).size).toBe(LANDMARKS.length - 1);
  expect(placeWords('tragionL')).toBe('the front of the left ear');
  expect(placeWords('otobasionSuperiorR')).toBe('the root of the right ear');
  for (const n of LANDMARKS) expect(/left/.test(placeWords(n)), n).toBe(/[a-z]L$/.test(n));
});
