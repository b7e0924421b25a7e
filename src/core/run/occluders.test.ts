/** What hides: a shape of its own as an occluder of the form does; regions of the form that hide. */
import { beforeAll, describe, expect, test } from 'vitest';
import { CastMeasure } from '../fit/cells';
import { type Form, type FormRegion, makeForm, regionIndices } from '../form';
import { formBase } from '../form/samples';
import { add, applyEdit, batch, changePart, createPiece, createSolid, type Piece, remove, shownWearer } from '../piece';
import { stageStill } from './index';
import { cellOf } from './placed';
import { wearerCapture } from './wearer';

let form: Form;
beforeAll(() => {
  form = makeForm(formBase(), 'M');
});
const FRONT = { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } };
const at = (positionM: [number, number, number]) => ({
  positionM,
  turnRad: [0, 0, 0] as [number, number, number],
  size: [1, 1, 1] as [number, number, number],
});
const solid = (id: string, form_: 'disc' | 'plane', mm: number, place: [number, number, number], occludes = false) => ({
  ...createSolid(id, id, { form: form_, sizeMm: [mm, mm, 1], roundMm: 0, wallMm: 1, open: [] }),
  offset: at(place),
  occludes,
});
/** A disc of 0.3 m far above the head, where nobody stands before it, and a smaller one nearer to the camera, which is 1.05 m away. */
const UP = 0.35;
const scene = (blind: object[]): Piece =>
  applyEdit(
    createPiece('p'),
    batch([remove('parts', 'head-block'), add('parts', solid('sign', 'disc', 100, [0, UP, -0.1])), ...(blind as never[])]),
  );
const leaksIn = (piece: Piece) => {
  const cell = cellOf(piece, { models: {} }, piece.parts.sign, shownWearer(piece), FRONT);
  return cell && new CastMeasure().leaks('M', { form, body: null }, cell);
};

describe('a solid that hides', () => {
  test('swallows what lies behind it and nobody hides: its shadow, by the closed form', () => {
    expect(leaksIn(scene([]))).toMatchObject({ leak: 0, swallowed: 0 });
    // nearer by a tenth of a metre, on the line from the camera to the sign's middle
    const eye = [0, -0.02, 1.05];
    const share = 0.1 / (eye[2] + 0.1);
    const middle: [number, number, number] = [0, UP + (eye[1] - UP) * share, -0.1 + (eye[2] + 0.1) * share];
    const blind = scene([add('parts', solid('blind', 'disc', 60, middle, true))]);
    const told = leaksIn(blind);
    // both face the camera alike: what is hidden is as the square of its share of the sign, seen from there
    const shadow = (60 / (1 - share) / 100) ** 2;
    expect(told?.leak).toBe(0);
    expect(Math.abs((told?.swallowed ?? 0) - shadow)).toBeLessThan(0.02);
    // shown itself, or switched off, or in another layer's depth, it hides nothing
    expect(leaksIn(applyEdit(blind, changePart('blind', { occludes: false })))?.swallowed).toBe(0);
    expect(leaksIn(applyEdit(blind, changePart('blind', { visible: false })))?.swallowed).toBe(0);
  });
  test('is on stage as depth alone, and the rest is not', () => {
    const piece = scene([add('parts', solid('blind', 'plane', 60, [0, 0, 0], true))]);
    const state = stageStill(piece, { models: {} }, wearerCapture(piece, FRONT));
    expect(state.parts.map((p) => [p.id, p.occludes])).toEqual([
      ['sign', false],
      ['blind', true],
    ]);
  });
});

describe('regions that hide', () => {
  const places = (region: FormRegion) => {
    const out: [number, number, number][] = [];
    for (const v of new Set(regionIndices(form, region))) out.push([...form.positions.slice(v * 3, v * 3 + 3)] as [number, number, number]);
    return out;
  };
  const mark = (name: keyof Form['landmarks']) => form.landmarks[name].position;
  test('ears: both, and nothing but them', () => {
    const ears = places('ears');
    for (const name of ['superauraleL', 'subauraleR', 'postauraleL'] as const)
      expect(Math.min(...ears.map((p) => Math.hypot(...p.map((x, k) => x - mark(name)[k]))))).toBeLessThan(1e-6);
    for (const [x, y, z] of ears) {
      expect(Math.abs(x)).toBeGreaterThan(0.055);
      expect(Math.abs(y)).toBeLessThan(0.05);
      expect(z).toBeLessThan(0.02);
    }
  });
  test('hair cap: crown and back of the head, no brow, no ear, no nape’s bone', () => {
    const hair = places('hair');
    const near = (name: keyof Form['landmarks']) => Math.min(...hair.map((p) => Math.hypot(...p.map((x, k) => x - mark(name)[k])))) * 1000;
    for (const name of ['vertex', 'opisthocranion', 'euryonL', 'euryonR'] as const) expect(near(name), name).toBeLessThan(6);
    for (const name of ['glabella', 'tragionL', 'templeL', 'cervicale', 'zygionL'] as const) expect(near(name), name).toBeGreaterThan(8);
    const sides = hair.map(([x]) => Math.sign(Math.round(x * 1e5)));
    expect(sides.filter((s) => s > 0).length).toBe(sides.filter((s) => s < 0).length);
  });
  test('neck: between jaw and shoulders', () => {
    for (const [, y] of places('neck')) {
      expect(y).toBeLessThan(mark('gonionL')[1] + 0.03);
      expect(y).toBeGreaterThan(mark('acromionL')[1] - 0.02);
    }
  });
});
