import { describe, expect, test } from 'vitest';
import { StepDraft, stepFits } from '@/core/piece';
import type { StepCost } from '@/core/prepare/terms';
import { TINTS } from '../kit/depths';
import { DEPTHS, depthOf, heatSurface, unseenMm } from './looks';
import { addDab } from './painting';
import { asFound, asStep, beforeSearch, costsByPlace, OFFERED, portable, sameSteps } from './steps';

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

describe('what is taken along to another model', () => {
  test('steps that belong to one file stay, and what was painted on it', () => {
    const dab = { atM: [0, 0, 0] as [number, number, number], radiusM: 0.01, weight: 4 };
    const half = { ratio: 0.5, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [dab], keep: [] };
    const links = [{ wanted: 'a.png', picture: 'a'.repeat(64), name: 'a.png' }];
    const taken = portable([asStep({ step: 'relink', settings: { links } }), asStep({ step: 'simplify', settings: half }), asStep(ground)]);
    expect(taken.map((s) => s.step)).toEqual(['simplify', 'ground']);
    expect(taken[0].settings).toEqual({ ...half, detail: [] });
    expect(taken[0]).not.toHaveProperty('id');
  });

  test('nor places that were pressed, dragged or painted on its bones', () => {
    const at: [number, number, number] = [0, 0, 0];
    const pressed = { name: 'chain 1', rootM: at, tipM: at, bones: null };
    const taken = portable([
      asStep({ step: 'chains', settings: { chains: 'all', more: [pressed], changes: {}, weights: 'auto' } }),
      asStep({ step: 'chains', settings: { chains: [pressed], more: [], changes: {}, weights: 'auto' } }),
      asStep({ step: 'figure', settings: { detail: 22, jointsM: { hips: at }, weights: 'auto' } }),
      asStep({ step: 'shares', settings: { edits: [{ kind: 'piece', atM: at, bone: 'a' }], mirrored: false } }),
      asStep({ step: 'weights', settings: { taken: [{ weights: 'a'.repeat(64), name: 'w.glb' }] } }),
    ]);
    expect(taken.map((s) => s.step)).toEqual(['chains', 'figure']);
    expect(taken[0].settings).toMatchObject({ chains: 'all', more: [] });
    expect(taken[1].settings).toMatchObject({ jointsM: {} });
  });
});

describe('painted detail', () => {
  test('a dab near another of the same weight is the same place; of another weight it is one more', () => {
    const one = addDab([], [0, 0, 0], 0.01, 4);
    expect(addDab(one, [0.004, 0, 0], 0.01, 4)).toBe(one);
    expect(addDab(one, [0.006, 0, 0], 0.01, 4)).toHaveLength(2);
    expect(addDab(one, [0.004, 0, 0], 0.01, 8)).toHaveLength(2);
  });
});

describe('the error on the surface', () => {
  test('is a tint deeper at each share of what is not seen, which grows with the distance', () => {
    expect(TINTS).toHaveLength(DEPTHS.length);
    expect([unseenMm(0.5), unseenMm(2)]).toEqual([1, 4]);
    expect([0, 0.09, 0.1, 0.3, 0.5, 1, 9].map((mm) => depthOf(mm, 0.5))).toEqual([0, 0, 1, 2, 3, 4, 4]);
    expect(depthOf(1, 2)).toBe(2);
    expect(depthOf(Number.POSITIVE_INFINITY, 0.5)).toBe(4);
    const heat = {
      positions: new Float32Array(6),
      normals: new Float32Array(6),
      triangles: new Uint32Array(),
      gapMm: new Float32Array([0, 5]),
    };
    const { colors } = heatSurface(heat, 0.5);
    expect(colors[0]).toBeGreaterThan(0.85);
    expect(colors[3]).toBeLessThan(0.05);
  });
});
