import { describe, expect, test } from 'vitest';
import { PRESETS } from '../form/measures';
import {
  add,
  applyEdit,
  askOf,
  castOf,
  change,
  createPiece,
  EditError,
  formRow,
  invertEdit,
  remove,
  settings,
  shownAsk,
  shownBody,
  shownWearer,
  wearerWords,
  wornBy,
} from './index';

const { headCircumference: _, ...M } = PRESETS.M;
const row = (id: string, name: string, over: Partial<typeof M> = {}) => formRow(id, name, 'L', { ...M, ...over });
const cast = [add('forms', row('b', 'Tall Ines', { headLength: 205 })), add('forms', row('a', 'Small Pell'))].reduce(
  applyEdit,
  createPiece('x'),
);

describe('the cast', () => {
  test('is the three sizes, then one’s own by name', () => {
    expect(castOf(createPiece('x')).map((w) => w.key)).toEqual(['S', 'M', 'L']);
    expect(castOf(cast).map(wearerWords)).toEqual(['form S', 'form M', 'form L', 'Small Pell', 'Tall Ines']);
    // who is called by a letter is still somebody else
    expect(castOf(applyEdit(cast, add('forms', row('M', 'M')))).map((w) => w.key)).toContain('own M');
  });
  test('who is shown is asked for by their measures, and back to a size; who leaves leaves the size they had', () => {
    const [, , , , tall] = castOf(cast);
    const shown = applyEdit(cast, settings(tall.set));
    expect(shownWearer(shown).name).toBe('Tall Ines');
    expect(shownAsk(shown)).toEqual({ ...M, headLength: 205 });
    expect(shownWearer(applyEdit(shown, remove('forms', 'b'))).key).toBe('L');
    expect(shownAsk(applyEdit(shown, settings({ form: 'S', wearer: null })))).toBe('S');
    const taped = applyEdit(shown, change('forms', 'b', { headCircumference: 570 }));
    expect(shownAsk(taped)).toMatchObject({ headCircumference: 570 });
    const finer = { ...shown.forms.b.finer, neckGirth: 340 };
    expect(shownAsk(applyEdit(shown, change('forms', 'b', { finer })))).toEqual({ ...M, headLength: 205, neckGirth: 340 });
    expect(() => applyEdit(shown, change('forms', 'b', { finer: { ...finer, noseBridgeAngle: 80 } }))).toThrow(/noseBridgeAngle/);
    const body = { ...shown.forms.b.body, stature: 1850 };
    expect(shownBody(shown)).toEqual({ size: 'L', body: {}, head: { ...M, headLength: 205 } });
    expect(shownBody(applyEdit(shown, change('forms', 'b', { body }))).body).toEqual({ stature: 1850 });
    expect(shownBody(applyEdit(shown, settings({ form: 'S', wearer: null })))).toEqual({ size: 'S', body: {}, head: 'S' });
    expect(() => applyEdit(shown, change('forms', 'b', { body: { ...body, waist: 20 } }))).toThrow(/waist/);
    expect(wornBy(cast, tall).settings).toMatchObject(tall.set);
    expect(wornBy(shown, tall)).toBe(shown);
    expect(askOf(castOf(cast)[0])).toBe('S');
  });
  test('measures that are no person’s are refused by name; edits come back', () => {
    expect(() => applyEdit(cast, add('forms', row('c', 'Nobody', { headLength: 20 })))).toThrow(EditError);
    expect(() => applyEdit(cast, add('forms', row('c', 'Nobody', { noseBreadth: 200 })))).toThrow(/noseBreadth/);
    const edit = change('forms', 'b', { measures: { ...M, headLength: 190 } });
    expect(applyEdit(applyEdit(cast, edit), invertEdit(cast, edit))).toEqual(cast);
  });
});
