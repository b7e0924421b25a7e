import { describe, expect, test } from 'vitest';
import { SEED, share } from '../../../e2e/support/sweep';
import { seededRandom } from '../math';
import { BODY_PRESETS } from './body/measures';
import { MEASURE_ENDS, MEASURES, makeForm, PRESETS, skeletonFor, skeletonOf } from './index';
import { bodyAt, headAt, measureAt, normalBelow, PEOPLE, type People, percentileOf, SPREAD_BODY } from './people';
import { formBase } from './samples';

describe('how heads are spread', () => {
  test('shares of the normal distribution are those of tables (Abramowitz & Stegun 26.1)', () => {
    for (const [z, p] of [
      [0, 0.5],
      [1, 0.841344746],
      [1.644853627, 0.95],
      [-1.281551566, 0.1],
      [-2.326347874, 0.01],
      [3, 0.998650102],
    ])
      expect(normalBelow(z)).toBeCloseTo(p, 6);
  });
  test('a measure at a share has that share; a mean is the middle; between women and men lie both', () => {
    for (const of of Object.keys(PEOPLE) as People[])
      for (const m of [...MEASURES, 'headCircumference'] as const)
        for (const p of [0.01, 0.05, 0.5, 0.78, 0.95, 0.99]) {
          const mm = measureAt(m, p, of);
          expect(percentileOf(m, mm, of)).toBeCloseTo(p, 6);
          if (of === 'both') {
            expect(mm).toBeGreaterThanOrEqual(measureAt(m, p, 'women') - 1e-6);
            expect(mm).toBeLessThanOrEqual(measureAt(m, p, 'men') + 1e-6);
          }
        }
    expect(measureAt('headLength', 0.5, 'men')).toBeCloseTo(197.3, 3);
    // S, M and L lie within the range of adults
    for (const size of ['S', 'M', 'L'] as const)
      for (const m of MEASURES) {
        expect(percentileOf(m, PRESETS[size][m], 'both'), `${size} ${m}`).toBeGreaterThan(0.03);
        expect(percentileOf(m, PRESETS[size][m], 'both'), `${size} ${m}`).toBeLessThan(0.97);
      }
    // their bodies among women or men: slender ones
    for (const size of ['S', 'M', 'L'] as const)
      for (const m of SPREAD_BODY) {
        const shares = (['women', 'men'] as const).map((of) => percentileOf(m, BODY_PRESETS[size][m], of));
        expect(Math.max(...shares), `${size} ${m}`).toBeGreaterThan(0.015);
        expect(Math.min(...shares), `${size} ${m}`).toBeLessThan(0.985);
      }
    expect(bodyAt(0.5, 'men')).toMatchObject({ stature: 1756, hip: 1020 });
  });
});

describe('forms of any measures', () => {
  const random = seededRandom(SEED);
  const drawnHead = () => headAt(0.02 + 0.96 * random(), (['women', 'men', 'both'] as const)[Math.floor(random() * 3)]);
  test('are exact to half a millimetre, by separate sums over their landmarks', () => {
    for (let i = 0; i < share(60); i++) {
      const m = drawnHead();
      const form = makeForm(formBase(), m);
      for (const [name, [a, b]] of Object.entries(MEASURE_ENDS)) {
        const [p, q] = [form.landmarks[a].position, form.landmarks[b].position];
        const mm = 1000 * Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
        expect(Math.abs(mm - m[name as keyof typeof m]), `seed ${SEED}: ${name} ${JSON.stringify(m)}`).toBeLessThan(0.5);
      }
    }
  });
  test('bend about joints that their measures alone tell', () => {
    for (let i = 0; i < share(60); i++) {
      const m = drawnHead();
      const made = skeletonOf(makeForm(formBase(), m));
      const told = skeletonFor(m);
      for (const key of ['neckBaseM', 'neckTopM', 'shouldersM'] as const)
        for (const k of [0, 1, 2]) expect(Math.abs(told[key][k] - made[key][k]), `seed ${SEED}: ${key} ${k}`).toBeLessThan(5e-5);
    }
    expect(skeletonFor('L')).toEqual(skeletonFor('L'));
    for (const size of ['S', 'M', 'L'] as const)
      for (const k of [0, 1, 2]) expect(skeletonFor(PRESETS[size]).shouldersM[k]).toBeCloseTo(skeletonFor(size).shouldersM[k], 4);
  });
});
