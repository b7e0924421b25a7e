import { describe, expect, test } from 'vitest';
import { StepDraft, stepFits } from '@/core/piece';
import type { StepCost } from '@/core/prepare/terms';
import { asFound, asStep, beforeSearch, costsByPlace, OFFERED, sameSteps } from './steps';

const ground: StepDraft = { step: 'ground', settings: {} };
const draco: StepDraft = { step: 'compress', settings: { method: 'draco' } };

describe('steps offered in Prepare', () => {
  test('each is one a model can have, with settings its schema takes', () => {
    for (const { draft } of OFFERED) {
      expect(stepFits('model', draft.step)).toBe(true);
      expect(StepDraft.safeParse(draft).success).toBe(true);
    }
  });
  test('a recipe is the same under other names, and with a step that is off', () => {
    expect(sameSteps([asStep(ground), asStep(draco)], [asStep(ground), asStep(draco)])).toBe(true);
    expect(sameSteps([asStep(ground), { ...asStep(draco), on: false }], [asStep(ground)])).toBe(true);
    expect(sameSteps([asStep(ground), asStep(draco)], [asStep(draco), asStep(ground)])).toBe(false);
  });
  test('what a search found makes room for the next, what a user put in stays', () => {
    expect(beforeSearch([asStep(ground), asFound(draco), asStep(draco)]).map((s) => s.step)).toEqual(['ground', 'compress']);
  });
  test('costs fall on the steps that are on, whatever they are called', () => {
    const cost = (step: string) => ({ step }) as StepCost;
    const steps = [asStep(ground), { ...asStep(draco), on: false }, asStep(draco)];
    expect(costsByPlace(steps, [cost('ground'), cost('compress')]).map((c) => c?.step)).toEqual(['ground', undefined, 'compress']);
  });
});
