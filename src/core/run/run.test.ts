/** The run in closed form: anchors, follow, trails, memory. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { type CaptureFrame, poseWearer, simulateCapture } from '../capture';
import { LOOK_ABOUT, POSES, poseAtTime, SHOULDER_SWAY, SKELETONS } from '../form';
import { type Model, readGltf, readModel } from '../intake';
import { boxGlb } from '../intake/samples';
import { turnMatrix, yawPitchRoll } from '../math';
import {
  add,
  applyEdit,
  batch,
  change,
  changePart,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  createScreen,
  createSolid,
  type Edit,
  type Follow,
  followAll,
  type Hang,
  onAnchor,
  onPart,
  type Piece,
  type SoleAnchor,
  settings,
} from '../piece';
import { advance, compile, copyMemory, Runner, restFramesOf, settle, sourceOf, stageOf, stageStill, start, worldVertices } from './index';

const BOX = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
const solid = (
  id: string,
  hang: Hang | null,
  set: { follow?: Partial<Follow>; at?: [number, number, number]; visible?: boolean } = {},
) => ({
  ...createSolid(id, id, BOX, hang),
  visible: set.visible ?? true,
  follow: { ...followAll(), ...set.follow },
  offset: { positionM: set.at ?? [0, 0, 0], turnRad: [0, 0, 0] as [number, number, number], size: [1, 1, 1] as [number, number, number] },
});
const pieceOf = (...parts: Parameters<typeof add<'parts'>>[1][]): Piece =>
  applyEdit(createPiece('Run'), batch(parts.map((p) => add('parts', p))));
const turn = (yawDeg = 0, pitchDeg = 0, rollDeg = 0) => ({ yawDeg, pitchDeg, rollDeg });
const B = SKELETONS.M;
const still = (piece: Piece, capture: CaptureFrame, models: Record<string, Model> = {}) => stageStill(piece, { models }, capture);
const matrixOf = (piece: Piece, capture: CaptureFrame, id = 'a') =>
  new Matrix4().fromArray(still(piece, capture).parts.find((p) => p.id === id)?.matrix as number[]);
const angles = (m: Matrix4) => {
  const e = yawPitchRoll(new Quaternion().setFromRotationMatrix(m));
  return [e.y, e.x, e.z].map((x) => (x * 180) / Math.PI);
};
const place = (m: Matrix4) => new Vector3().setFromMatrixPosition(m);
const near = (m: Matrix4, want: Matrix4, digits = 9) => {
  for (const [i, x] of m.elements.entries()) expect(x).toBeCloseTo(want.elements[i], digits);
};

describe('anchors', () => {
  test('the head’s numbers are what they always were: a turn about its own origin', () => {
    for (const p of POSES) near(matrixOf(pieceOf(solid('a', onAnchor('head'))), simulateCapture(p, B)), turnMatrix(p), 12);
  });
  test('the shoulders do not turn with the head; the neck turns half as far', () => {
    const at = (kind: SoleAnchor, pose: Parameters<typeof simulateCapture>[0]) =>
      matrixOf(pieceOf(solid('a', onAnchor(kind))), simulateCapture(pose, B));
    const rest = at('shoulders', turn());
    for (const p of POSES) near(at('shoulders', p), rest, 12);
    expect(
      place(rest)
        .toArray()
        .map((x) => x + 0),
    ).toEqual([...B.shouldersM]);
    expect(angles(at('neck', turn(60)))[0]).toBeCloseTo(30, -1);
    expect(place(at('neck', turn())).y).toBeCloseTo((B.neckBaseM[1] + B.neckTopM[1]) / 2, 9);
    const both = at('shoulders', { head: turn(-25), shoulders: turn(25) });
    expect(angles(both)[0]).toBeCloseTo(25, 9);
    expect(angles(at('head', { head: turn(-25), shoulders: turn(25) }))[0]).toBeCloseTo(0, 9);
  });
  test('the screen stands half a metre before the camera, whatever the wearer does', () => {
    const camera = { positionM: [0, 0, 1] as const, targetM: [0, 0, 0] as const, fovDeg: 29 };
    for (const p of POSES)
      expect(
        place(matrixOf(pieceOf(solid('a', onAnchor('screen'))), simulateCapture(p, B, 0, camera)))
          .toArray()
          .map((x) => Math.round(x * 1e9) / 1e9 + 0),
      ).toEqual([0, 0, 0.5]);
  });
  test('what is not seen shows nothing: no head, or shoulders that are not found', () => {
    const piece = pieceOf(solid('a', onAnchor('head')), solid('b', onAnchor('shoulders')), solid('c', onAnchor('screen')));
    const shown = (c: CaptureFrame) =>
      still(piece, c)
        .parts.slice(1)
        .map((p) => p.shown);
    const c = simulateCapture(turn(), B);
    expect(shown(c)).toEqual([true, true, true]);
    expect(shown({ ...c, head: null })).toEqual([false, false, true]);
    expect(shown({ ...c, shoulders: null })).toEqual([true, false, true]);
    // left out, they are derived: upright under the head
    const { shoulders: _none, ...derived } = c;
    expect(shown(derived)).toEqual([true, true, true]);
    expect(still(piece, { ...c, head: null }).form).toBeNull();
  });
});

describe('parts on parts', () => {
  test('frames at rest: of a carrier where it is, of an anchor where that is', () => {
    const piece = pieceOf(
      { ...createGroup('g', 'G'), offset: { positionM: [0, 0.1, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } },
      solid('a', onPart('g'), { at: [0.01, 0, 0] }),
    );
    const rest = restFramesOf(compile(piece, { models: {} }));
    near(rest.of(onPart('g')), rest.world('g'), 12);
    near(rest.of(onPart('g')), rest.world('a').multiply(new Matrix4().makeTranslation(-0.01, 0, 0)), 12);
    expect(
      place(rest.of(onAnchor('shoulders')))
        .toArray()
        .map((x) => x + 0),
    ).toEqual([...B.shouldersM]);
  });
  test('world = frame · offset, down the whole line', () => {
    const piece = pieceOf(
      { ...createGroup('g', 'G'), offset: { positionM: [0, 0.1, 0], turnRad: [0, Math.PI / 2, 0], size: [2, 2, 2] } },
      solid('a', onPart('g'), { at: [0.01, 0, 0] }),
      solid('b', onPart('a'), { at: [0, 0, 0.01] }),
    );
    const head = turnMatrix(turn(30));
    const g = head
      .clone()
      .multiply(
        new Matrix4().compose(
          new Vector3(0, 0.1, 0),
          new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), Math.PI / 2),
          new Vector3(2, 2, 2),
        ),
      );
    const a = g.clone().multiply(new Matrix4().makeTranslation(0.01, 0, 0));
    near(matrixOf(piece, simulateCapture(turn(30), B), 'b'), a.multiply(new Matrix4().makeTranslation(0, 0, 0.01)));
  });
  test('what hangs in something hidden, or in nothing, is not shown; a part may come before what it hangs from', () => {
    const piece = applyEdit(
      pieceOf(solid('a', null), solid('g', onAnchor('head'), { visible: false })),
      changePart('a', { hang: onPart('g') }),
    );
    const shown = (p: Piece) => still(p, simulateCapture(turn(), B)).parts.find((x) => x.id === 'a')?.shown;
    expect(shown(piece)).toBe(false);
    expect(shown(applyEdit(piece, changePart('g', { visible: true })))).toBe(true);
    expect(shown(applyEdit(piece, batch([changePart('g', { visible: true, hang: null })])))).toBe(false);
  });
  test('a bone carries: world = part · bone · offset', async () => {
    const glb = await boxGlb();
    const model = readModel((await readGltf(glb, {})).document);
    model.nodes[0].name = 'tip';
    model.nodes[0].translation = [0, 0.2, 0];
    let p = applyEdit(
      createPiece('x'),
      add('stock', createModelItem({ id: 's', name: 'b.glb', original: 'a'.repeat(64), model: 'b'.repeat(64), bytes: 1 })),
    );
    p = applyEdit(
      p,
      batch([
        add('parts', createModelPart('m', 's', 'M')),
        add('parts', solid('a', onPart('m', 'tip'))),
        add('parts', solid('lost', onPart('m', 'no such bone'))),
      ]),
    );
    const state = still(p, simulateCapture(turn(), B), { ['b'.repeat(64)]: model });
    const at = (id: string) => place(new Matrix4().fromArray(state.parts.find((x) => x.id === id)?.matrix as number[])).y;
    expect(at('a')).toBeCloseTo(0.2, 7);
    expect(at('lost')).toBeCloseTo(0, 9);
    // from the part, not one of its bones
    const plain = still(applyEdit(p, changePart('a', { hang: onPart('m') })), simulateCapture(turn(), B), { ['b'.repeat(64)]: model });
    expect(plain.parts.find((x) => x.id === 'a')?.matrix[13]).toBeCloseTo(0, 9);
    // what follows no place stays where that bone is at rest
    const still2 = applyEdit(p, changePart('a', { follow: { ...followAll(), place: false } }));
    const moved = { ...simulateCapture(turn(), B), head: new Matrix4().makeTranslation(0.3, 0.2, 0.1).toArray() };
    const stays = still(still2, moved, { ['b'.repeat(64)]: model }).parts.find((x) => x.id === 'a')?.matrix ?? [];
    expect([stays[12], stays[13]].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0, 0.2]);
    // a model that is not at hand has no bones: what hangs from one stands where the part does
    const without = still(p, simulateCapture(turn(), B));
    expect(without.parts.find((x) => x.id === 'a')?.matrix[13]).toBeCloseTo(0, 9);
  });
  test('keeping it where it is: offset = inverse(new) · old world', () => {
    const piece = pieceOf(solid('a', onAnchor('head'), { at: [0.03, 0.1, -0.2] }));
    const frames = restFramesOf(compile(piece, { models: {} }));
    const kept = frames.of(onAnchor('shoulders')).invert().multiply(frames.world('a'));
    near(frames.of(onAnchor('shoulders')).multiply(kept), frames.world('a'), 12);
  });
});

describe('follow', () => {
  const followed = (follow: Partial<Follow>, t = turn(40, 15, 10)) =>
    matrixOf(pieceOf(solid('a', onAnchor('head'), { follow })), simulateCapture(t, B));
  test('each channel by itself: yaw only, pitch only, roll only, none', () => {
    const only = (c: 'yaw' | 'pitch' | 'roll' | null) =>
      angles(followed({ yaw: c === 'yaw', pitch: c === 'pitch', roll: c === 'roll' })).map((x) => Math.round(x * 1e6) / 1e6 + 0);
    expect(only('yaw')).toEqual([40, 0, 0]);
    expect(only('pitch')).toEqual([0, 15, 0]);
    expect(only('roll')).toEqual([0, 0, 10]);
    expect(only(null)).toEqual([0, 0, 0]);
  });
  test('upright: of all turns the heading remains, also in what hangs askew', () => {
    expect(angles(followed({ upright: true })).map((x) => Math.round(x * 1e6) / 1e6 + 0)).toEqual([40, 0, 0]);
    const askew = pieceOf(
      { ...createGroup('g', 'G'), offset: { positionM: [0, 0, 0], turnRad: [0.5, 0, 0.4], size: [1, 1, 1] } },
      solid('a', onPart('g'), { follow: { upright: true } }),
    );
    const [, pitch, roll] = angles(matrixOf(askew, simulateCapture(turn(25, 20, -15), B)));
    expect(pitch).toBeCloseTo(0, 9);
    expect(roll).toBeCloseTo(0, 9);
  });
  test('not following place it stays where its anchor was at rest', () => {
    const moved = { ...simulateCapture(turn(), B), head: new Matrix4().makeTranslation(0.3, 0.2, 0.1).toArray() };
    const at = (follow: Partial<Follow>) =>
      place(matrixOf(pieceOf(solid('a', onAnchor('head'), { follow, at: [0, 0.1, 0] })), moved)).toArray();
    expect(at({})).toEqual([0.3, 0.30000000000000004, 0.1]);
    expect(at({ place: false })).toEqual([0, 0.1, 0]);
  });
  test('size follows a measure of the form shown', () => {
    const piece = pieceOf(solid('a', onAnchor('head'), { follow: { size: 'headBreadth' }, at: [0.1, 0, 0] }));
    const large = applyEdit(piece, settings({ form: 'L' }));
    const m = matrixOf(large, simulateCapture(turn(), SKELETONS.L));
    expect(new Vector3().setFromMatrixScale(m).x).toBeCloseTo(160 / 151, 9);
    expect(place(m).x).toBeCloseTo((0.1 * 160) / 151, 9);
    expect(new Vector3().setFromMatrixScale(matrixOf(piece, simulateCapture(turn(), B))).x).toBe(1);
  });
});

describe('trail', () => {
  const trail = (ms: number, deadZoneM = 0) => ({ trail: { placeHalfLifeMs: ms, turnHalfLifeMs: ms, sizeHalfLifeMs: ms, deadZoneM } });
  const lagging = (ms = 200, deadZoneM = 0) => pieceOf(solid('a', onAnchor('head'), { follow: trail(ms, deadZoneM) }));
  const jump = (m: Matrix4) =>
    sourceOf((t) => ({ ...simulateCapture(turn(), B, t), head: t < 0.5 ? new Matrix4().toArray() : m.toArray() }));
  const xAt = (piece: Piece, source: ReturnType<typeof jump>, t: number) => {
    const state = new Runner(compile(piece, { models: {} }), source).frame(t);
    return new Matrix4().fromArray(state?.parts.find((p) => p.id === 'a')?.matrix as number[]);
  };

  test('after n half-lives 1 − 2⁻ⁿ of the way is gone, in place and in turn', () => {
    const source = jump(new Matrix4().makeRotationY(1).setPosition(0.4, 0, 0));
    // the first step at the new place is the one at 0.5 s: it has gone one step's share already
    for (const n of [1, 2, 3.5]) {
      const m = xAt(lagging(200), source, 0.5 + n * 0.2 - 1 / 120);
      expect(place(m).x).toBeCloseTo(0.4 * (1 - 2 ** -n), 9);
      expect(angles(m)[0]).toBeCloseTo(((1 - 2 ** -n) * 180) / Math.PI, 6);
    }
  });

  test('the same at 24, 30, 60, 120 and 144 draws a second, bit by bit, and however it was come to', () => {
    const source = sourceOf((t) => simulateCapture(poseAtTime(LOOK_ABOUT, t), B, t));
    const show = compile(lagging(170), { models: {} });
    const at = (hz: number) => {
      const r = new Runner(show, source);
      for (let i = 0; i < 5 * hz; i++) r.frame(i / hz);
      return r.frame(5)?.parts.find((p) => p.id === 'a')?.matrix;
    };
    const once = new Runner(show, source).frame(5)?.parts.find((p) => p.id === 'a')?.matrix;
    for (const hz of [24, 30, 60, 120, 144]) expect(at(hz)).toEqual(once);
  });

  test('scrubbing back and forth gives what playing through gives', () => {
    const source = sourceOf((t) => simulateCapture(poseAtTime(LOOK_ABOUT, t), B, t));
    const show = compile(lagging(300), { models: {} });
    const played = new Runner(show, source);
    const wanted = [0.4, 1.7, 2.9, 4.25].map((t) => JSON.stringify(played.frame(t)));
    const scrubbed = new Runner(show, source);
    scrubbed.frame(6);
    for (const [i, t] of [...[0.4, 1.7, 2.9, 4.25].entries()].reverse()) expect(JSON.stringify(scrubbed.seek(t))).toBe(wanted[i]);
  });

  test('going back begins at the whole second before, also where one had stopped exactly on it', () => {
    const asked: number[] = [];
    const source = sourceOf((t) => {
      asked.push(t);
      return simulateCapture(poseAtTime(LOOK_ABOUT, t), B, t);
    });
    const r = new Runner(compile(lagging(300), { models: {} }), source);
    for (const t of [3, 5, 5.5]) r.frame(t);
    for (const [t, from] of [
      [5.2, 5],
      [5, 5],
      [4.9, 4],
      [3.5, 3],
      [3, 3],
    ]) {
      r.frame(6);
      asked.length = 0;
      r.frame(t);
      expect(Math.min(...asked)).toBeGreaterThanOrEqual(from);
    }
  });

  test('inside the dead zone nothing moves, outside it comes to its rim', () => {
    expect(place(xAt(lagging(100, 0.05), jump(new Matrix4().makeTranslation(0.04, 0, 0)), 3)).x).toBe(0);
    expect(place(xAt(lagging(100, 0.05), jump(new Matrix4().makeTranslation(0.4, 0, 0)), 4)).x).toBeCloseTo(0.35, 6);
  });

  test('settled, nothing lags; found again after it was lost, it begins anew', () => {
    const show = compile(lagging(400), { models: {} });
    const capture = { ...simulateCapture(turn(), B, 2), head: new Matrix4().makeTranslation(0.3, 0, 0).toArray() };
    const state = stageOf(show, settle(show, capture), capture);
    expect(state.parts[1].matrix[12]).toBeCloseTo(0.3, 12);
    const lost = sourceOf((t) => ({
      ...simulateCapture(turn(), B, t),
      head: t < 1 ? new Matrix4().toArray() : t < 2 ? null : new Matrix4().makeTranslation(0.3, 0, 0).toArray(),
    }));
    expect(place(xAt(lagging(400), lost, 2)).x).toBeCloseTo(0.3, 9);
  });

  test('each lags by its own half-life, however many do', () => {
    const parts = [50, 100, 200, 400].map((ms, i) => solid(`t${i}`, onAnchor('head'), { follow: trail(ms) }));
    const state = new Runner(compile(pieceOf(...parts), { models: {} }), jump(new Matrix4().makeTranslation(0.4, 0, 0))).frame(
      0.7 - 1 / 120,
    );
    for (const [i, n] of [4, 2, 1, 0.5].entries())
      expect(state?.parts.find((p) => p.id === `t${i}`)?.matrix[12]).toBeCloseTo(0.4 * (1 - 2 ** -n), 9);
  });

  test('what hangs from a part that lags, lags with it', () => {
    const piece = applyEdit(lagging(200), add('parts', solid('b', onPart('a'), { at: [0, 0.1, 0] })));
    const r = new Runner(compile(piece, { models: {} }), jump(new Matrix4().makeTranslation(0.4, 0, 0)));
    const state = r.frame(0.7 - 1 / 120);
    expect(state?.parts.find((p) => p.id === 'b')?.matrix[12]).toBeCloseTo(0.2, 9);
  });

  test('a copy of the memory goes its own way; stageOf changes none', () => {
    const show = compile(lagging(200), { models: {} });
    const at = (t: number) => simulateCapture(poseAtTime(LOOK_ABOUT, t), B, t);
    const m = start(show);
    advance(show, m, at, 1.5);
    const kept = copyMemory(m);
    const before = JSON.stringify(stageOf(show, m, at(1.503)));
    expect(JSON.stringify(stageOf(show, m, at(1.503)))).toBe(before);
    expect(m).toEqual(kept);
    advance(show, m, at, 2);
    expect(kept.step).toBe(180);
    expect(m.step).toBe(240);
    expect(() => advance(show, m, at, Number.NaN)).toThrow(RangeError);
  });
});

describe('compile', () => {
  test('a row that did not change is taken over; one that did is not', () => {
    const piece = pieceOf(solid('a', onAnchor('head')), solid('b', onAnchor('head')));
    const first = compile(piece, { models: {} });
    const edit: Edit = changePart('a', { offset: { positionM: [0.1, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } });
    const second = compile(applyEdit(piece, edit), { models: {} }, first);
    const offset = (show: typeof first, id: string) => show.nodes.find((n) => n.part.id === id)?.offset;
    expect(offset(second, 'b')).toBe(offset(first, 'b'));
    expect(offset(second, 'a')).not.toBe(offset(first, 'a'));
    expect(compile(applyEdit(piece, settings({ form: 'L' })), { models: {} }, first).nodes.every((n) => !first.nodes.includes(n))).toBe(
      true,
    );
  });
});

describe('stage state', () => {
  let model: Model;
  beforeAll(async () => {
    model = readModel((await readGltf(await boxGlb(), {})).document);
  });
  test('layers back to front with what is drawn in each, groups in none', () => {
    const piece = applyEdit(
      pieceOf(createGroup('g', 'G'), solid('a', onPart('g')), solid('b', onAnchor('shoulders'))),
      batch([
        add('layers', { id: 'behind', kind: 'parts', sort: 'order', name: null, visible: true }, 1),
        add(
          'layers',
          { id: 'wearer', kind: 'matte', matte: { name: 'person', invert: false, growPx: 0, featherPx: 2 }, name: null, visible: false },
          2,
        ),
        change('parts', 'b', { layer: 'behind' }),
      ]),
    );
    expect(still(piece, simulateCapture(turn(), B)).layers).toEqual([
      { id: 'camera', kind: 'camera', shown: true, sort: 'order', matte: null, parts: [] },
      { id: 'behind', kind: 'parts', shown: true, sort: 'order', matte: null, parts: ['b'] },
      {
        id: 'wearer',
        kind: 'matte',
        shown: false,
        sort: 'order',
        matte: { name: 'person', invert: false, growPx: 0, featherPx: 2 },
        parts: [],
      },
      { id: 'main', kind: 'parts', shown: true, sort: 'depth', matte: null, parts: ['head-block', 'a'] },
    ]);
  });
  test('is plain data, the same for the same question', () => {
    const piece = pieceOf(solid('a', onAnchor('neck')));
    const once = still(piece, simulateCapture(poseAtTime(SHOULDER_SWAY, 1.1), B, 1.1));
    expect(JSON.parse(JSON.stringify(once))).toEqual(once);
    expect(still(piece, simulateCapture(poseAtTime(SHOULDER_SWAY, 1.1), B, 1.1))).toEqual(once);
  });
  test('a screen is its colour, its picture or its sky, as far as they are at hand; with none of them nothing is drawn', async () => {
    const model = readModel((await readGltf(await boxGlb(), {})).document);
    const sha = 'b'.repeat(64);
    const { stated: _, ...item } = createModelItem({ id: 's', name: 'sea.png', original: 'a'.repeat(64), model: sha, bytes: 1 });
    const stock = { kind: 'add', table: 'stock', row: { ...item, kind: 'picture' } } as Edit & { kind: 'add' };
    const of = (set: object, models: Record<string, Model> = { [sha]: model }) => {
      const piece = applyEdit(
        createPiece('x'),
        batch([
          stock,
          add('layers', { id: 'back', kind: 'screen', name: null, visible: true }),
          add('parts', createScreen('bg', 'Backdrop', 'back', set)),
        ]),
      );
      return still(piece, simulateCapture(turn(), B), models).parts.find((p) => p.id === 'bg');
    };
    expect(of({ colour: '#204060', opacity: 0.5 })).toMatchObject({
      shape: { type: 'quad', model: null, colour: '#204060', fit: 'cover' },
      opacity: 0.5,
      solid: false,
      shown: true,
    });
    expect(of({ stock: 's', fit: 'within' })).toMatchObject({
      shape: { type: 'quad', model: sha, colour: null, fit: 'within' },
      shown: true,
    });
    expect(of({ stock: 's' }, {})).toMatchObject({ shape: { type: 'quad', model: null }, shown: false });
    expect(of({})).toMatchObject({ shown: false });
    expect(of({ colour: '#204060', opacity: 0 })).toMatchObject({ shown: false });
  });
  test('a model part is posed by its clip, and its corners are where head · offset puts them', () => {
    let p = applyEdit(
      createPiece('x'),
      add('stock', createModelItem({ id: 's', name: 'b.glb', original: 'a'.repeat(64), model: 'b'.repeat(64), bytes: 1 })),
    );
    p = applyEdit(
      p,
      add('parts', {
        ...createModelPart('m', 's', 'M'),
        offset: { positionM: [0.1, 0.02, 0.05], turnRad: [0, 0, 0], size: [0.5, 0.5, 0.5] },
      }),
    );
    const t = turn(40, -10, 5);
    const staged = still(p, simulateCapture(t, B), { ['b'.repeat(64)]: model }).parts[1];
    const corner = new Vector3(0.05, 0.05, 0.05)
      .multiplyScalar(0.5)
      .add(new Vector3(0.1, 0.02, 0.05))
      .applyMatrix4(turnMatrix(t));
    const got = worldVertices(staged, model)[0].positions;
    let nearest = Infinity;
    for (let i = 0; i < got.length; i += 3) nearest = Math.min(nearest, corner.distanceTo(new Vector3(got[i], got[i + 1], got[i + 2])));
    expect(nearest).toBeLessThan(1e-7);
    expect(still(p, simulateCapture(t, B)).parts[1].shown).toBe(false);
  });
  test('a pose of the wearer keeps distances', () => {
    const { head } = poseWearer({ head: turn(33, 21, -8), neck: turn(5, 10), shoulders: turn(20, 0, 4) }, B);
    expect(head.determinant()).toBeCloseTo(1, 12);
  });
});
