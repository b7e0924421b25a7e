/** What hangs on a face: anchors that go along with it, and how far what does not drifts from it. */
import { Matrix4, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { readCaptureLog, replayCapture, writeCaptureLog } from '../capture/log';
import { CastMeasure, skinUnder } from '../fit/cells';
import { type Expression, FACE_STRIP, type Form, faceOf, makeForm, poseAtTime, TAKES, type Take } from '../form';
import { formBase } from '../form/samples';
import { type Anchor, add, anchorKey, anchorOfKey, applyEdit, createPiece, createSolid, hangOn, type Piece, shownWearer } from '../piece';
import { type Assets, compile, driftOver, restFramesOf, settle, stageOf, stageStill, takeSource, wearerCapture } from '.';
import { cellOf } from './placed';

const BOX = { form: 'box' as const, sizeMm: [4, 4, 4] as [number, number, number], roundMm: 0, wallMm: 1, open: [] };
const FRONT = { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } };
let form: Form;
let assets: Assets;
beforeAll(() => {
  form = makeForm(formBase(), 'M');
  assets = { models: {}, forms: { M: form } };
});
const pieceOn = (anchor: Anchor): Piece => applyEdit(createPiece('x'), add('parts', createSolid('a', 'A', BOX, hangOn(anchor))));
function stagedAt(anchor: Anchor, face?: Expression, given = assets) {
  const piece = pieceOn(anchor);
  const part = stageStill(piece, given, wearerCapture(piece, { ...FRONT, ...(face && { face }) })).parts.find((p) => p.id === 'a');
  return { found: part?.found, at: new Vector3().setFromMatrixPosition(new Matrix4().fromArray(part?.matrix ?? [])), part };
}
const mm = (a: Vector3, b: Vector3) => a.distanceTo(b) * 1000;

describe('anchors of the face', () => {
  test('each is where the form has it; without the form it is not found', () => {
    const anchors: Anchor[] = [
      { kind: 'face', landmark: 'pronasale' },
      { kind: 'face', triangle: 812, bary: [0.2, 0.3, 0.5] },
      { kind: 'eye', side: 'left' },
      { kind: 'ear', side: 'right' },
      { kind: 'mouth' },
    ];
    for (const a of anchors) {
      expect(stagedAt(a).found, anchorKey(a)).toBe(true);
      expect(stagedAt(a, undefined, { models: {} }).found).toBe(false);
      expect(anchorOfKey(anchorKey(a))).toEqual(a);
    }
    expect(mm(stagedAt(anchors[0]).at, new Vector3(...form.landmarks.pronasale.position))).toBeLessThan(1e-3);
    expect(stagedAt({ kind: 'eye', side: 'left' }).at.x).toBeGreaterThan(0.02);
    expect(stagedAt({ kind: 'ear', side: 'right' }).at.x).toBeLessThan(-0.05);
    // both of a pair: midway
    expect(stagedAt({ kind: 'eye' }).at.x).toBeCloseTo(0, 9);
    expect(stagedAt({ kind: 'face', triangle: 999_999, bary: [1, 0, 0] }).found).toBe(false);
  });
  test('a lip’s goes with the jaw, the mouth’s half as far, an eye’s turns where one looks, an ear’s and the head’s stay', () => {
    const lip = (face?: Expression) => stagedAt({ kind: 'face', landmark: 'labialeInferius' }, face).at;
    const open = mm(lip(), lip({ AU26: 1 }));
    expect(open).toBeGreaterThan(10);
    const mouth = (face?: Expression) => stagedAt({ kind: 'mouth' }, face).at;
    expect(mm(mouth(), mouth({ AU26: 1 })) / open).toBeCloseTo(0.5, 1);
    expect(mm(stagedAt({ kind: 'ear', side: 'left' }).at, stagedAt({ kind: 'ear', side: 'left' }, { AU26: 1 }).at)).toBe(0);
    const looks = (face: Expression) => {
      const m = new Matrix4().fromArray(stagedAt({ kind: 'eye', side: 'right' }, face).part?.matrix ?? []);
      return new Vector3().setFromMatrixColumn(m, 2);
    };
    expect(looks({ AU61: 1 }).x).toBeGreaterThan(0.4);
    expect(looks({ AU63: 1 }).y).toBeGreaterThan(0.3);
    expect(looks({ AU64: 1, AU62: 1 }).x).toBeLessThan(-0.3);
    // an eyeball's vertex at its pupil is where the eye's own +Z is
    const piece = pieceOn({ kind: 'face', landmark: 'pupilR' });
    const pupil = stageStill(piece, assets, wearerCapture(piece, { ...FRONT, face: { AU61: 1, AU63: 0.7 } })).parts.find(
      (p) => p.id === 'a',
    );
    const ball = stagedAt({ kind: 'eye', side: 'right' }, { AU61: 1, AU63: 0.7 });
    const to = new Vector3()
      .setFromMatrixPosition(new Matrix4().fromArray(pupil?.matrix ?? []))
      .sub(ball.at)
      .normalize();
    expect(to.distanceTo(looks({ AU61: 1, AU63: 0.7 }))).toBeLessThan(1e-6);
  });
  test('what the stage is told of the face is what the capture says, by units or by sums, and a log brings it back', () => {
    const piece = pieceOn({ kind: 'mouth' });
    const show = compile(piece, assets);
    const capture = { ...wearerCapture(piece, FRONT), signals: { mouthOpen: 0.4, blinkLeft: 1 } };
    expect(stageOf(show, settle(show, capture), capture).form?.face).toEqual({ AU26: 0.4, AU45_L: 1 });
    const speak = TAKES.find((t) => t.id === 'speak') as Take;
    const source = takeSource(speak, piece);
    const frames = [0, 0.3, 0.85, 1.45].flatMap((t) => source.frame(t) ?? []);
    const again = replayCapture(readCaptureLog(writeCaptureLog(frames)));
    for (const f of frames) expect(faceOf(again.frame(f.timeS)?.signals)).toEqual(faceOf(f.signals));
    expect(frames[1].signals?.AU26).toBeCloseTo(0.55, 6);
  });
  test('parts are kept where they are when they are hung on the skin', () => {
    const piece = applyEdit(
      createPiece('x'),
      add('parts', { ...createSolid('a', 'A', BOX), offset: { positionM: [0, -0.06, 0.1], turnRad: [0.1, 0.2, 0], size: [1, 1, 1] } }),
    );
    const frames = restFramesOf(compile(piece, assets));
    const lip = frames.of(hangOn({ kind: 'face', landmark: 'labialeInferius' }));
    expect(mm(new Vector3().setFromMatrixPosition(lip), new Vector3(...form.landmarks.labialeInferius.position))).toBeLessThan(1e-3);
  });
});

describe('takes', () => {
  test('every take begins as it ends, and all of its faces and ways are between its keys', () => {
    for (const take of TAKES.filter((t) => t.keys.length > 0)) {
      const [first, last] = [take.keys[0], take.keys[take.keys.length - 1]];
      expect({ ...last, atS: 0 }, take.id).toEqual(first);
      expect(last.atS).toBe(take.seconds);
      for (let i = 0; i < 50; i++) {
        const held = poseAtTime(take, (take.seconds * i) / 50);
        for (const w of Object.values(held.face ?? {})) expect(w >= 0 && w <= 1, take.id).toBe(true);
      }
    }
    expect(new Set([...TAKES.map((t) => t.id), ...FACE_STRIP.map((p) => p.id)]).size).toBe(TAKES.length + FACE_STRIP.length);
  });
  test('who comes near is nearer, shoulders and all', () => {
    const near = TAKES.find((t) => t.id === 'come-near') as Take;
    const piece = createPiece('x');
    const at = (t: number) => wearerCapture(piece, poseAtTime(near, t), t);
    expect((at(2.2).head?.[14] ?? 0) - (at(0).head?.[14] ?? 0)).toBeCloseTo(0.55, 6);
    expect((at(2.2).shoulders?.[14] ?? 0) - (at(0).shoulders?.[14] ?? 0)).toBeCloseTo(0.55, 6);
  });
});

describe('drift', () => {
  const mouthTake = (weight: number): Take => ({
    id: 't',
    label: 'T',
    seconds: 2,
    keys: [0, 1, 2].map((atS) => ({
      atS,
      head: FRONT.head,
      neck: FRONT.head,
      shoulders: FRONT.head,
      face: { AU26: atS === 1 ? weight : 0 },
    })),
  });
  const onHead = (): Piece => {
    const [x, y, z] = form.landmarks.labialeInferius.position;
    return applyEdit(
      createPiece('x'),
      add('parts', { ...createSolid('a', 'A', BOX), offset: { positionM: [x, y, z + 0.002], turnRad: [0, 0, 0], size: [1, 1, 1] } }),
    );
  };
  test('on the head a ring drifts as far as the lip goes, on the skin not at all', () => {
    const piece = onHead();
    const skin = { landmark: 'labialeInferius' as const };
    const drift = driftOver(piece, assets, 'a', mouthTake(1), skin, new Vector3());
    const lip = (face?: Expression) => stagedAt({ kind: 'face', ...skin }, face).at;
    const far = mm(lip(), lip({ AU26: 1 }));
    // in the frame of the skin it is also turned: within what 2 mm of standing off make of that
    expect(Math.abs((drift?.mostMm ?? 0) - far)).toBeLessThan(1);
    expect(drift?.atS).toBeCloseTo(1, 1);
    const stuck = applyEdit(piece, { kind: 'change', table: 'parts', id: 'a', set: { hang: hangOn({ kind: 'face', ...skin }) } });
    expect(driftOver(stuck, assets, 'a', mouthTake(1), skin, new Vector3())?.mostMm).toBeLessThan(1e-3);
    expect(driftOver(piece, { models: {} }, 'a', mouthTake(1), skin, new Vector3())).toBeNull();
  });
  test('a head that turns makes nothing of the head drift', () => {
    const turns: Take = {
      ...mouthTake(0),
      keys: mouthTake(0).keys.map((k) => ({ ...k, head: { yawDeg: 40 * k.atS * (2 - k.atS), pitchDeg: 0, rollDeg: 0 } })),
    };
    expect(driftOver(onHead(), assets, 'a', turns, { landmark: 'labialeInferius' }, new Vector3())?.mostMm).toBeLessThan(1e-3);
  });
  test('the skin under a part is where it comes nearest', () => {
    const piece = onHead();
    const cell = cellOf(piece, assets, piece.parts.a, shownWearer(piece), FRONT);
    const under = cell && skinUnder({ form, body: null }, cell);
    expect(under?.apartM).toBeLessThan(0.002);
    const at = stagedAt({ kind: 'face', ...(under?.skin as { triangle: number; bary: [number, number, number] }) }).at;
    expect(mm(at, new Vector3(...(under?.atM ?? [0, 0, 0])))).toBeLessThan(2.1);
    expect(
      skinUnder(
        { form, body: null },
        {
          shapes: [{ positions: new Float32Array([3, 3, 3, 3, 4, 3, 4, 3, 3]), triangles: new Uint32Array([0, 1, 2]) }],
          frames: cell?.frames as never,
        },
      ),
    ).toBeNull();
  });
  test('clearance knows the face: what is free of closed lips is cut by open ones', () => {
    const [, y, z] = form.landmarks.menton.position;
    const piece = applyEdit(
      createPiece('x'),
      add('parts', { ...createSolid('a', 'A', BOX), offset: { positionM: [0, y - 0.006, z], turnRad: [0, 0, 0], size: [1, 1, 1] } }),
    );
    const frames = (face?: Expression) =>
      cellOf(piece, assets, piece.parts.a, shownWearer(piece), { ...FRONT, ...(face && { face }) })?.frames;
    expect(frames({ AU26: 1 })?.face).toEqual({ AU26: 1 });
    expect(frames()?.face).toEqual({});
    const cast = new CastMeasure();
    const deepest = (face?: Expression) => {
      const cell = cellOf(piece, assets, piece.parts.a, shownWearer(piece), { ...FRONT, ...(face && { face }) });
      return cell && cast.measure('M', { form, body: null }, cell)?.clearance.deepestMm;
    };
    expect(deepest()).toBeLessThan(0);
    expect(deepest({ AU26: 1 })).toBeGreaterThan(1);
  });
});
