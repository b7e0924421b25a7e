import { Matrix4, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { simulateCapture } from '../capture';
import { evaluate, worldVertices } from '../evaluate';
import { buildFormBase, type Form, makeForm, POSES } from '../form';
import { type Model, readGltf, readModel } from '../intake';
import { boxGlb, rawGlb } from '../intake/samples';
import { offsetMatrix, turnAbout, turnMatrix, wrapTurn } from '../math';
import { applyEdit, createModelItem, createModelPart, createPiece, type Edit, type ModelPart, type Piece } from '../piece';
import { mendOf, type Sight, whyHidden } from './index';

let form: Form;
let box: Model;
let clear: Model;
let empty: Model;
beforeAll(async () => {
  form = makeForm(buildFormBase(), 'M');
  const open = async (b: Uint8Array) => readModel((await readGltf(b, {})).document);
  box = await open(await boxGlb());
  clear = await open(await boxGlb([0.05, 0.05, 0.05], [0, 0, 0], 0));
  empty = await open(rawGlb({ asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: [0] }], nodes: [{}] }));
});

describe('turns', () => {
  const fore = new Vector3(0, 0, 1);
  test('yaw + looks to the wearer’s left, pitch + looks down, roll + tips the crown to the wearer’s right', () => {
    expect(fore.clone().applyMatrix4(turnMatrix({ yawDeg: 30, pitchDeg: 0, rollDeg: 0 })).x).toBeCloseTo(0.5, 9);
    expect(fore.clone().applyMatrix4(turnMatrix({ yawDeg: 0, pitchDeg: 30, rollDeg: 0 })).y).toBeCloseTo(-0.5, 9);
    expect(new Vector3(0, 1, 0).applyMatrix4(turnMatrix({ yawDeg: 0, pitchDeg: 0, rollDeg: 30 })).x).toBeCloseTo(-0.5, 9);
  });
  test('a plane that faces +Z lies on the floor after −90° of pitch (common practice)', () => {
    const m = offsetMatrix({ positionM: [0, 0, 0], turnRad: [-Math.PI / 2, 0, 0], size: [1, 1, 1] });
    expect(
      fore
        .clone()
        .applyMatrix4(m)
        .distanceTo(new Vector3(0, 1, 0)),
    ).toBeLessThan(1e-12);
  });
  test('turning four times by 90° about any axis comes home', () => {
    for (const axis of [0, 1, 2] as const) {
      let t: [number, number, number] = [0.3, -0.2, 0.1];
      const before = offsetMatrix({ positionM: [0, 0, 0], turnRad: t, size: [1, 1, 1] });
      for (let i = 0; i < 4; i++) t = turnAbout(t, axis, Math.PI / 2);
      const after = offsetMatrix({ positionM: [0, 0, 0], turnRad: t, size: [1, 1, 1] });
      after.elements.forEach((x, i) => {
        expect(x).toBeCloseTo(before.elements[i], 9);
      });
    }
    expect(wrapTurn(3 * Math.PI)).toBeCloseTo(Math.PI, 12);
    expect(wrapTurn(-Math.PI)).toBeCloseTo(Math.PI, 12);
    expect(wrapTurn(2 * Math.PI)).toBe(0);
  });
});

function pieceWith(change: Partial<ModelPart> = {}): Piece {
  let p = applyEdit(createPiece('Sight'), {
    kind: 'add-stock',
    item: createModelItem({ id: 's', name: 'b.glb', original: 'a'.repeat(64), model: 'b'.repeat(64), bytes: 1 }),
  });
  const part = { ...createModelPart('p', 's', 'Box'), ...change };
  p = applyEdit(p, { kind: 'add-part', part, index: 1 });
  return p;
}

function look(piece: Piece, model: Model = box, turn = POSES[2] as { yawDeg: number; pitchDeg: number; rollDeg: number }): Sight {
  const capture = simulateCapture(turn);
  const state = evaluate(piece, { ['b'.repeat(64)]: model }, capture);
  const staged = state.parts.find((s) => s.id === 'p');
  if (!staged || !capture.head) throw new Error('nothing staged');
  return {
    part: piece.parts.p as ModelPart,
    model,
    posed: worldVertices(staged, model),
    camera: capture.camera,
    widthPx: 320,
    heightPx: 560,
    head: capture.head,
    form,
    occluderOn: state.parts.some((s) => s.kind === 'occluder' && s.shown),
    headBreadthM: 0.151,
  };
}
const at = (positionM: [number, number, number], size = 1): Partial<ModelPart> => ({
  offset: { positionM, turnRad: [0, 0, 0], size: [size, size, size] },
});
const cause = (change: Partial<ModelPart>, model?: Model, turn?: Parameters<typeof look>[2]) =>
  whyHidden(look(pieceWith(change), model, turn)).cause;

describe('whyHidden', () => {
  test('a box before the face is seen', () => expect(cause(at([0, 0, 0.2]))).toBe('seen'));
  test('hidden', () => expect(cause({ visible: false })).toBe('hidden'));
  test('not hung', () => expect(cause({ anchor: null })).toBe('not-hung'));
  test('no triangles', () => expect(cause({}, empty)).toBe('no-triangles'));
  test('fully transparent, by the part and by its materials', () => {
    expect(whyHidden(look(pieceWith({ opacity: 0 })))).toEqual({ cause: 'transparent', byMaterial: false });
    expect(whyHidden(look(pieceWith(at([0, 0, 0.2])), clear))).toEqual({ cause: 'transparent', byMaterial: true });
    expect(cause({ ...at([0, 0, 0.2]), solid: true }, clear)).toBe('seen');
  });
  test('outside the picture, beside it and behind the camera', () => {
    expect(cause(at([5, 0, 0]))).toBe('outside');
    expect(cause(at([0, 0, 9]))).toBe('outside');
  });
  test('the camera is inside it: 100 times too large', () => {
    const c = whyHidden(look(pieceWith(at([0, 0, 0], 100))));
    expect(c.cause).toBe('camera-inside');
    expect(c.cause === 'camera-inside' && c.headWidths).toBeCloseTo(10 / 0.151, 3);
  });
  test('too small: a hundredth of a box is a few pixels', () => {
    const c = whyHidden(look(pieceWith(at([0, 0, 0.2], 0.01))));
    expect(c).toMatchObject({ cause: 'too-small', far: false });
    // 1 mm at 0.85 m, 29° over 560 px: 560 · 0.001 / (2 · 0.85 · tan 14.5°) = 1.27 px
    expect(c.cause === 'too-small' && c.pixels).toBeCloseTo(1.27, 1);
  });
  test('a wall ten metres wide behind the wearer crosses the picture though none of its corners is in it', () => {
    const wall = (turn?: Parameters<typeof look>[2]) =>
      whyHidden(look(applyEdit(pieceWith(at([0, 0, -8], 100)), { kind: 'show-part', id: 'head-block', visible: false }), box, turn)).cause;
    expect(wall()).toBe('seen');
    expect(cause(at([0, 60, 0], 100))).toBe('outside');
  });
  test('inside the form', () => expect(cause(at([0, 0.03, 0], 0.4))).toBe('inside-form'));
  test('behind an occluder: a box at the nape', () => expect(cause(at([0, 0, -0.25], 0.5))).toBe('behind-occluder'));
  test('with the occluder off, nothing hides', () => {
    const off = applyEdit(pieceWith(at([0, 0, -0.25], 0.5)), { kind: 'show-part', id: 'head-block', visible: false });
    expect(whyHidden(look(off)).cause).toBe('seen');
  });
  test('causes are checked in their order: hidden comes before not hung, not hung before transparent', () => {
    expect(cause({ visible: false, anchor: null, opacity: 0 })).toBe('hidden');
    expect(cause({ anchor: null, opacity: 0 })).toBe('not-hung');
    expect(cause({ opacity: 0, ...at([9, 0, 0]) })).toBe('transparent');
  });
});

describe('mendOf', () => {
  /** Presses the mend until the part is seen; every press must change the cause or the piece. */
  function mendAll(start: Piece, model: Model = box): string[] {
    const trail: string[] = [];
    let piece = start;
    let turn: Parameters<typeof look>[2] = POSES[2];
    for (let i = 0; i < 8; i++) {
      if (!piece.parts.p) return [...trail, 'gone'];
      const s = look(piece, model, turn);
      const c = whyHidden(s);
      trail.push(c.cause);
      if (c.cause === 'seen') return trail;
      const seenAt = POSES.filter((p) => whyHidden(look(piece, model, p)).cause === 'seen');
      const mend = mendOf(s, c, piece.parts['head-block'].visible ? 'head-block' : null, seenAt);
      if (!mend) throw new Error(`no mend for ${c.cause}`);
      if (mend.act.kind === 'pose') turn = mend.act.pose;
      else piece = applyEdit(piece, mend.act.edit as Edit);
    }
    throw new Error(`never seen: ${trail.join(' → ')}`);
  }
  test.each<[string, Partial<ModelPart>]>([
    ['hidden', { visible: false, ...at([0, 0, 0.2]) }],
    ['not hung', { anchor: null, ...at([0, 0, 0.2]) }],
    ['clear', { opacity: 0, ...at([0, 0, 0.2]) }],
    ['beside', at([7, 3, 0])],
    ['huge', at([0, 0, 0], 140)],
    ['tiny', at([0, 0, 0.2], 0.001)],
    ['buried', at([0, 0.03, 0], 0.3)],
    ['at the nape', at([0, 0, -0.25], 0.5)],
    ['everything at once', { visible: false, anchor: null, opacity: 0, ...at([400, -20, 3], 100) }],
  ])('%s: pressing leads to a part that is seen', (_, change) => {
    expect(mendAll(pieceWith(change)).at(-1)).toBe('seen');
  });
  test('a file of clear materials is drawn solid; one without triangles is lifted off', () => {
    expect(mendAll(pieceWith(at([0, 0, 0.2])), clear)).toEqual(['transparent', 'seen']);
    expect(mendAll(pieceWith(), empty)).toEqual(['no-triangles', 'gone']);
  });
  test('a size that is wrong by a unit is mended by that unit', () => {
    const s = look(pieceWith(at([0, 0, 0], 140)));
    const mend = mendOf(s, whyHidden(s), null, []);
    expect(mend?.label).toBe('Make it about a head wide (×0.01)');
  });
});

describe('evaluate', () => {
  test('a part rides its head: world = head · offset', () => {
    const piece = pieceWith(at([0.1, 0.02, 0.05], 0.5));
    const turn = { yawDeg: 40, pitchDeg: -10, rollDeg: 5 };
    const staged = evaluate(piece, { ['b'.repeat(64)]: box }, simulateCapture(turn)).parts[1];
    const corner = new Vector3(0.05, 0.05, 0.05)
      .multiplyScalar(0.5)
      .add(new Vector3(0.1, 0.02, 0.05))
      .applyMatrix4(turnMatrix(turn));
    const got = worldVertices(staged, box)[0].positions;
    let nearest = Infinity;
    for (let i = 0; i < got.length; i += 3) nearest = Math.min(nearest, corner.distanceTo(new Vector3(got[i], got[i + 1], got[i + 2])));
    expect(nearest).toBeLessThan(1e-7);
  });
  test('is deterministic, and shows nothing without a head', () => {
    const piece = pieceWith();
    const run = () =>
      JSON.stringify(evaluate(piece, { ['b'.repeat(64)]: box }, simulateCapture({ yawDeg: 12, pitchDeg: 3, rollDeg: 0 }, 1.5)));
    expect(run()).toBe(run());
    const lost = evaluate(piece, { ['b'.repeat(64)]: box }, { ...simulateCapture(POSES[0]), head: null });
    expect(lost.form).toBeNull();
    expect(lost.parts.every((p) => !p.shown)).toBe(true);
  });
  test('the head’s turn keeps distances', () => {
    const m = turnMatrix({ yawDeg: 33, pitchDeg: 21, rollDeg: -8 });
    expect(m.determinant()).toBeCloseTo(1, 12);
    expect(new Matrix4().copy(m).multiply(m.clone().transpose()).elements[0]).toBeCloseTo(1, 12);
  });
});
