/** What goes into a package, what stays behind and why, and what of it a GLB cannot say. */
import { describe, expect, test } from 'vitest';
import {
  add,
  applyEdit,
  batch,
  changePart,
  createFace,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  type Edit,
  type Follow,
  followAll,
  onAnchor,
  onPart,
  order,
  type Piece,
  settings,
  Trail,
} from '../piece';
import { packageContents, rootsOf } from './index';

const BOX = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
const piece = applyEdit(
  createPiece('Packed'),
  batch([
    add('stock', createModelItem({ id: 's', name: 'hat.glb', original: 'a'.repeat(64), model: 'b'.repeat(64), bytes: 1 })),
    add('parts', createModelPart('hat', 's', 'Hat')),
    add('parts', createSolid('knob', 'Knob', BOX, onPart('hat'))),
    add('parts', createGroup('group', 'Group')),
  ]),
);
const edited = (...edits: Edit[]) => edits.reduce(applyEdit, piece);
const kept = (p: Piece) => packageContents(p).parts.map((x) => x.id);
const whyOf = (p: Piece, name: string) => packageContents(p).leftOut.find((l) => l.name === name)?.why;
const lostOf = (p: Piece, name = 'Hat') => packageContents(p).lost.find((l) => l.name === name)?.why;
const follow = (set: Partial<Follow>) => changePart('hat', { follow: { ...followAll(), ...set } });

describe('what is delivered', () => {
  test('is what hangs and is seen; a group goes where it carries something', () => {
    expect(kept(piece)).toEqual(['hat', 'knob']);
    expect(whyOf(piece, 'Form M')).toBe('the wearer stands in for it');
    expect(whyOf(piece, 'Hat')).toBeUndefined();
    const carried = edited(changePart('hat', { hang: onPart('group') }));
    expect(kept(carried)).toEqual(['hat', 'knob', 'group']);
    // groups in a group carry nothing
    expect(kept(edited(add('parts', { ...createGroup('in', 'In'), hang: onPart('group') })))).toEqual(['hat', 'knob']);
  });

  const screen = { id: 'back', name: 'Back', colour: '#102030', layer: 'sky', hang: onAnchor('screen') };
  test.each<[string, Edit[], string, string]>([
    ['not hung', [changePart('hat', { hang: null })], 'Hat', 'not hung'],
    ['what hangs from it', [changePart('hat', { hang: null })], 'Knob', 'hangs from what is not hung'],
    [
      'on the picture’s edges',
      [changePart('hat', { hang: onAnchor('screen') })],
      'Hat',
      'hangs on the picture’s edges; a GLB cannot carry it',
    ],
    ['hidden', [changePart('hat', { visible: false })], 'Hat', 'hidden'],
    ['hidden with another', [changePart('hat', { visible: false })], 'Knob', 'hangs from Hat, which is hidden'],
    ['clear', [changePart('hat', { opacity: 0 })], 'Hat', 'fully transparent'],
    ['on something clear', [changePart('hat', { opacity: 0 })], 'Knob', 'hangs from Hat, which is left out'],
    ['on an occluder', [changePart('hat', { hang: onPart('head-block') })], 'Hat', 'hangs from Head block, which is left out'],
    ['further down', [changePart('hat', { hang: onPart('head-block') })], 'Knob', 'hangs from Head block, which is left out'],
    [
      'in a layer that is off',
      [{ kind: 'change', table: 'layers', id: 'main', set: { visible: false } }],
      'Hat',
      'in Main, a layer that is switched off',
    ],
    ['an occluder', [], 'Head block', 'an occluder; a GLB cannot carry it'],
    [
      'a face surface',
      [add('parts', createFace('lips', 'Lips', 'lips', '#aa2233'))],
      'Lips',
      'lies on the wearer’s face; a GLB cannot carry it',
    ],
    ['a model that hides', [changePart('hat', { occludes: true })], 'Hat', 'an occluder; a GLB cannot carry it'],
    [
      'a screen',
      [
        add('layers', { id: 'sky', kind: 'screen', name: null, visible: true }, 0),
        { kind: 'add', table: 'parts', row: { kind: 'screen', ...screen } } as never,
      ],
      'Back',
      'fixed to the picture’s edges; a GLB cannot carry it',
    ],
    [
      'only in Stock',
      [changePart('knob', { hang: onAnchor('head') }), { kind: 'remove', table: 'parts', id: 'hat' }],
      'hat.glb',
      'in Stock, not a part',
    ],
  ])('left out: %s', (_, edits, name, why) => expect(whyOf(edited(...edits), name)).toBe(why));

  test('an opacity that is not nothing, and a hidden layer of others, leave nothing out', () => {
    expect(kept(edited(changePart('hat', { opacity: 0.01 })))).toEqual(['hat', 'knob']);
    expect(kept(edited(add('layers', { id: 'l2', kind: 'parts', name: 'Two', visible: false, sort: 'depth' } as never)))).toEqual([
      'hat',
      'knob',
    ]);
  });

  test('roots by the names of their anchors, each once', () => {
    const two = edited(
      changePart('knob', { hang: onAnchor('shoulders') }),
      add('parts', createSolid('more', 'More', BOX, onAnchor('head'))),
    );
    expect(rootsOf(two, packageContents(two).parts)).toEqual(['Head', 'Shoulders']);
    expect(rootsOf(two, [])).toEqual([]);
  });
});

describe('what a GLB cannot say', () => {
  test('nothing of a part that follows all and stands before the wearer', () => expect(packageContents(piece).lost).toEqual([]));
  test.each<[Partial<Follow>, string]>([
    [{ place: false }, 'does not follow place'],
    [{ yaw: false, roll: false }, 'does not follow yaw, roll'],
    [{ pitch: false }, 'does not follow pitch'],
    [{ upright: true }, 'stays upright'],
    [{ size: 'headBreadth' }, 'grows with the form'],
    [{ trail: Trail.parse({ placeHalfLifeMs: 100 }) }, 'lags behind'],
    [{ pitch: false, upright: true, trail: Trail.parse({}) }, 'does not follow pitch, stays upright, lags behind'],
  ])('%o', (set, why) => expect(lostOf(edited(follow(set)))).toBe(why));

  test('that it stands behind the wearer: only where a matte that is on lies over its layer', () => {
    const matte = (visible: boolean) =>
      add('layers', {
        id: 'person',
        kind: 'matte',
        name: null,
        visible,
        matte: { name: 'person', invert: false, growPx: 0, featherPx: 0 },
      });
    expect(lostOf(edited(matte(true)))).toBe('stands behind the wearer');
    expect(lostOf(edited(matte(false)))).toBeUndefined();
    expect(lostOf(edited(matte(true), order('layers', 'person', 0)))).toBeUndefined();
    expect(lostOf(edited(matte(true), follow({ upright: true })))).toBe('stays upright, stands behind the wearer');
  });

  test('a light of the piece’s own is told, once, and the usual one is not', () => {
    const surroundings = { ...piece.settings.surroundings, turnDeg: 30, environment: 'night-market' as const };
    expect(packageContents(edited(settings({ surroundings }))).lost).toEqual([
      { name: 'The light', why: expect.stringContaining('whoever shows the GLB lights it') },
    ]);
  });

  test('of what stays behind nothing is lost', () => {
    expect(packageContents(edited(follow({ upright: true }), changePart('hat', { visible: false }))).lost).toEqual([]);
    expect(packageContents(edited(changePart('group', { follow: { ...followAll(), upright: true } }))).lost).toEqual([]);
  });
});
