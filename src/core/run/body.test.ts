/** What hangs on the body: joints against the body's own posing, garments, what hides and what is shown again. */
import { WebIO } from '@gltf-transform/core';
import { Matrix4, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { BODY_CAMERA, MIRROR_CAMERA } from '../capture';
import { readCaptureLog, replayCapture, writeCaptureLog } from '../capture/log';
import { isBehind, putBehind, showAgain, shownAgain, wear } from '../fit';
import { cape, darkSuit } from '../fit/samples';
import { TAKES } from '../form';
import { bendBody, bodyMeasures, carryInHead, drawnBody, packBare, poseBody, restOf, restOfSize, shapeBody, tellRest } from '../form/body';
import { FINER, PRESETS } from '../form/measures';
import { bodyBase } from '../form/samples';
import { type Model, readModel } from '../model';
import {
  add,
  applyEdit,
  batch,
  changePart,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  type Edit,
  type FormRow,
  formRow,
  hasBody,
  layerName,
  onAnchor,
  onJoint,
  onPart,
  type PartOf,
  type Piece,
  settings,
  shownBody,
} from '../piece';
import { garmentBones } from '../rig';
import { compile, type Held, restFramesOf, stageStill, takeSource, wearerCapture, worldBox, worldVertices } from './index';

const BOX = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
const apply = (piece: Piece, ...edits: Edit[]) => edits.reduce((p, e) => applyEdit(p, e), piece);
const NO_FINER = Object.fromEntries(FINER.map((m) => [m, null])) as FormRow['finer'];
const FRONT: Held = { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } };
const place = (m: readonly number[]) => new Vector3().setFromMatrixPosition(new Matrix4().fromArray(m as number[]));

describe('joints', () => {
  const on = (joint: string) => apply(createPiece('x'), add('parts', createSolid('a', 'a', BOX, onJoint(joint))));
  const at = (piece: Piece, held: Held) => stageStill(piece, { models: {} }, wearerCapture(piece, held)).parts.find((p) => p.id === 'a');

  test.each(['leftHand', 'rightFoot', 'head', 'rightIndexDistal'])('%s is where the posed body has it', (joint) => {
    const shape = shapeBody(bodyBase(), 'L');
    const piece = apply(on(joint), settings({ form: 'L' }));
    for (const pose of ['T', 'seated', 'oneArmUp'] as const) {
      const body = poseBody(shape, pose);
      const want = place(body.joints.find((j) => j.name === joint)?.pose as number[]).sub(new Vector3(...shape.head.offset));
      const got = at(piece, { ...FRONT, body: { pose } });
      expect(got?.found).toBe(true);
      // the table of joints is kept to the hundredth of a millimetre
      expect(place(got?.matrix as number[]).distanceTo(want)).toBeLessThan(5e-5);
    }
  });

  test('on a body by measures too, once it was made; until then as on its size', () => {
    const { headCircumference: _, ...head } = PRESETS.M;
    const tall = { ...formRow('t', 'Tall', 'M', { ...head, headLength: 205, faceLength: 130 }), finer: { ...NO_FINER, browToCrown: 150 } };
    const typed = { stature: 1880, armLength: 640, insideLeg: 900, chest: 1010 };
    const row = { ...tall, body: { ...tall.body, ...typed } };
    const piece = apply(on('leftHand'), add('forms', row), settings({ form: 'M', wearer: 't' }));
    const ask = shownBody(piece);
    expect(ask).toMatchObject({ size: 'M', body: typed, head: { headLength: 205, browToCrown: 150 } });
    const shape = shapeBody(bodyBase(), bodyMeasures(ask));
    for (const [name, mm] of Object.entries(typed)) expect(shape.measured[name as 'chest']).toBeCloseTo(mm, 6);
    const placeOf = (of: Piece, held: Held) => place(at(of, held)?.matrix as number[]);
    const size = apply(piece, settings({ form: 'M', wearer: null }));
    const arms: Held = { ...FRONT, body: { pose: 'oneArmUp' } };
    const before = placeOf(piece, arms);
    expect(before.distanceTo(placeOf(size, arms))).toBe(0);
    const shown = compile(piece, { models: {} });
    tellRest(ask, restOf(shape));
    // the same piece is compiled anew, on other joints
    expect(compile(piece, { models: {} }, shown).body).not.toBe(shown.body);
    for (const pose of ['T', 'seated', 'oneArmUp'] as const) {
      const want = place(poseBody(shape, pose).joints.find((j) => j.name === 'leftHand')?.pose as number[]);
      expect(placeOf(piece, { ...FRONT, body: { pose } }).distanceTo(want.sub(new Vector3(...shape.head.offset)))).toBeLessThan(1e-6);
    }
    expect(placeOf(piece, arms).distanceTo(before)).toBeGreaterThan(0.05);
    expect(placeOf(size, arms).distanceTo(before)).toBe(0);
    // the head that is drawn with the body lies where the form lies that things hang on
    const { form } = stageStill(piece, { models: {} }, wearerCapture(piece, FRONT));
    const drawn = drawnBody(shape);
    const out = { positions: new Float32Array(drawn.positions.length), normals: new Float32Array(drawn.positions.length) };
    bendBody(drawn, carryInHead(form?.body as number[][], form?.head as number[]), out);
    const of = shape.head.form;
    const crown = of.landmarks.vertex.index;
    const v = drawn.headVertex.indexOf(crown);
    for (const k of [0, 1, 2]) expect(out.positions[v * 3 + k]).toBeCloseTo(of.positions[crown * 3 + k], 5);
  });

  test('where a device says nothing of the body it stands still under a turning head', () => {
    const turned: Held = { head: { yawDeg: 50, pitchDeg: 0, rollDeg: 0 } };
    const hand = on('leftHand');
    expect(place(at(hand, turned)?.matrix as number[]).distanceTo(place(at(hand, FRONT)?.matrix as number[]))).toBeLessThan(1e-9);
    const head = on('head');
    const fore = new Matrix4().fromArray(at(head, turned)?.matrix as number[]).elements;
    expect((Math.atan2(fore[8], fore[10]) * 180) / Math.PI).toBeCloseTo(50, 6);
  });

  test('without a head nobody is there; a joint that is not seen goes with the one above it', () => {
    const piece = on('leftHand');
    const capture = wearerCapture(piece, { ...FRONT, body: { pose: 'T' } });
    const still = (c: typeof capture) => stageStill(piece, { models: {} }, c).parts.find((p) => p.id === 'a');
    expect(still({ ...capture, head: null })?.found).toBe(false);
    const { leftHand: _, ...joints } = capture.joints ?? {};
    const without = still({ ...capture, joints });
    // the arm is straight there: where the elbow carries it is where it was
    expect(place(without?.matrix as number[]).distanceTo(place(capture.joints?.leftHand as number[]))).toBeLessThan(0.02);
    const none = still({ ...capture, joints: { leftHand: null } });
    expect(none?.found).toBe(true);
  });

  test('what hangs from neck or shoulders is seen on the body, as near as before; what is on the head on head and bust', () => {
    for (const [anchor, whole] of [
      ['neck', true],
      ['shoulders', true],
      ['head', false],
    ] as const) {
      const piece = apply(createPiece('x'), add('parts', createSolid('a', 'a', BOX, onAnchor(anchor))));
      const capture = wearerCapture(piece, { head: { yawDeg: 30, pitchDeg: 0, rollDeg: 0 } });
      expect(capture.camera).toBe(MIRROR_CAMERA);
      expect(stageStill(piece, { models: {} }, capture).form?.body?.length ?? 0, anchor).toBe(whole ? 52 : 0);
    }
  });

  test('a log keeps them, and joins what lines say of some', () => {
    const piece = on('leftHand');
    const frames = [0, 0.5, 1].map((t) => wearerCapture(piece, { ...FRONT, body: { motion: 'wave', atS: t } }, t));
    const source = replayCapture(readCaptureLog(writeCaptureLog(frames)));
    expect(source.frame(0.5)?.joints?.leftHand).toEqual(frames[1].joints?.leftHand);
    const some = replayCapture([
      { timeS: 0, head: [...(frames[0].head ?? [])], joints: { leftHand: [...(frames[0].joints?.leftHand ?? [])] } },
      { timeS: 1, joints: { rightHand: [...(frames[0].joints?.rightHand ?? [])] } },
    ]);
    expect(Object.keys(some.frame(1)?.joints ?? {})).toEqual(['leftHand', 'rightHand']);
  });

  test('what is on the body is filmed from further off, and takes of the body move it', () => {
    expect(wearerCapture(createPiece('x'), FRONT).camera).toBe(MIRROR_CAMERA);
    expect(wearerCapture(on('hips'), FRONT).camera).toBe(BODY_CAMERA);
    const walk = TAKES.find((t) => t.id === 'body-walk');
    if (!walk) throw new Error('no walk');
    const source = takeSource(walk, createPiece('x'));
    const foot = (t: number) => place(source.frame(t)?.joints?.leftFoot as number[]);
    expect(foot(0.2).distanceTo(foot(0.2 + walk.seconds / 2))).toBeGreaterThan(0.2);
    expect(foot(0.2).distanceTo(foot(0.2 + walk.seconds))).toBeLessThan(1e-6);
    expect(stageStill(createPiece('x'), { models: {} }, source.frame(0) as never).form?.body).toHaveLength(52);
    expect(stageStill(createPiece('x'), { models: {} }, wearerCapture(createPiece('x'), FRONT)).form?.body).toBeNull();
  });
});

describe('garments', () => {
  let models: Record<string, Model>;
  let bones: Record<string, Record<string, string>>;
  beforeAll(async () => {
    const files = { suit: await darkSuit(), cape: await cape() };
    models = {};
    bones = {};
    for (const [name, glb] of Object.entries(files)) {
      const model = readModel(await new WebIO().readBinary(glb));
      models[sha(name)] = model;
      bones[name] = Object.fromEntries([...garmentBones(model, restOfSize('M').skeleton)].map(([n, b]) => [model.nodes[n].name, b]));
    }
  });
  const sha = (name: string) => (name === 'suit' ? 'a' : 'b').repeat(64);
  const stock = (name: string) => createModelItem({ id: name, name: `${name}.glb`, original: sha(name), model: sha(name), bytes: 1000 });
  const dressed = (set: { hides?: readonly string[]; under?: readonly string[] } = {}) => {
    const piece = apply(createPiece('x'), add('stock', stock('suit')), add('parts', createModelPart('s', 'suit', 'Suit')));
    const worn = { bones: bones.suit, hides: set.hides ?? [], under: set.under ?? [] } as never;
    return apply(piece, wear(piece, 's', worn));
  };
  const still = (piece: Piece, held: Held) => stageStill(piece, { models }, wearerCapture(piece, held));

  test('bones of a suit are told by name, those of a cape’s back by where they are', () => {
    expect(Object.keys(bones.suit)).toHaveLength(22);
    expect(bones.cape).toEqual({ spine_02: 'chest', spine_03: 'upperChest', neck_01: 'neck' });
  });

  test('a glove is on the hand, whatever the pose', () => {
    const piece = dressed();
    for (const pose of ['armsDown', 'T', 'oneArmUp'] as const) {
      const state = still(piece, { ...FRONT, body: { pose } });
      const part = state.parts.find((p) => p.id === 's');
      expect(part?.shown).toBe(true);
      const hand = place(wearerCapture(piece, { ...FRONT, body: { pose } }).joints?.leftHand as number[]);
      const { positions } = worldVertices(part as never, models[sha('suit')])[0];
      let near = Infinity;
      for (let i = 0; i < positions.length; i += 3) near = Math.min(near, new Vector3().fromArray(positions, i).distanceTo(hand));
      expect(near).toBeLessThan(0.05);
      const box = worldBox(state.parts, { models });
      expect(box?.[1]).toBeLessThan(-1.55);
    }
  });

  test('what hangs from a bone of it goes along, and rests where that bone rests', () => {
    const piece = apply(dressed(), add('parts', createSolid('a', 'a', BOX, onPart('s', 'hand_l'))));
    const state = still(piece, { ...FRONT, body: { pose: 'T' } });
    const want = place(wearerCapture(piece, { ...FRONT, body: { pose: 'T' } }).joints?.leftHand as number[]);
    expect(place(state.parts.find((p) => p.id === 'a')?.matrix as number[]).distanceTo(want)).toBeLessThan(1e-6);
    const rest = restFramesOf(compile(piece, { models }));
    const { place: at } = restOfSize('M').skeleton.rest.leftHand;
    const [x, y, z] = restOfSize('M').headOffsetM;
    const frame = rest.of(onPart('s', 'hand_l'));
    expect(new Vector3().setFromMatrixPosition(frame).distanceTo(at.clone().sub(new Vector3(x, y, z)))).toBeLessThan(1e-6);
    // two poses at one time: what was worked out for the first does not serve the second
    const show = still(piece, { ...FRONT, body: { pose: 'A' } });
    expect(place(show.parts.find((p) => p.id === 'a')?.matrix as number[]).distanceTo(want)).toBeGreaterThan(0.2);
  });

  test('it is grown to the form that is shown', () => {
    const high = (form: 'S' | 'L') => {
      const box = worldBox(still(apply(dressed(), settings({ form })), FRONT).parts, { models });
      return box ? box[4] - box[1] : 0;
    };
    expect(high('L') / high('S')).toBeGreaterThan(1.15);
  });

  test('worn, the bust that hides becomes the body, without what lies under the suit; taken off, it hangs as one piece', () => {
    const piece = dressed({ hides: ['arms'], under: ['trunk', 'arms'] });
    expect(piece.parts['head-block']).toMatchObject({ region: 'body' });
    expect(hasBody(piece)).toBe(true);
    const state = still(piece, FRONT);
    expect(state.parts.find((p) => p.id === 'head-block')?.shape).toMatchObject({ region: 'body', without: ['trunk'], bare: [] });
    const bare = packBare(new Uint8Array(11_219).fill(15, 0, 900));
    const painted = apply(piece, changePart('s', { worn: { ...(piece.parts.s as PartOf<'model'>).worn, bare } as never }));
    expect(still(painted, FRONT).parts.find((p) => p.id === 'head-block')?.shape).toMatchObject({ without: ['trunk'], bare: [bare] });
    const shape = state.parts.find((p) => p.id === 's')?.shape;
    expect(shape?.type === 'glb' && shape.without.length).toBe(4);
    // hidden, it lies over nothing
    const hidden = still(apply(piece, changePart('s', { visible: false })), FRONT);
    expect(hidden.parts.find((p) => p.id === 'head-block')?.shape).toMatchObject({ without: [] });
    const off = apply(piece, wear(piece, 's', null));
    expect(still(off, FRONT).parts.find((p) => p.id === 's')?.shape).toMatchObject({ without: [] });
    expect(off.parts.s.hang).toEqual(onJoint('hips'));
  });

  test('hands are shown again after its layer, once, and that puts nothing behind the wearer', () => {
    let n = 0;
    const id = () => `n${n++}`;
    const piece = dressed();
    const shown = apply(piece, showAgain(piece, 'main', 'hands', id));
    const made = shownAgain(shown, 'main', 'hands') as string;
    expect(layerName(shown.layers[made])).toBe('Hands again');
    expect(shown.orders.layers.indexOf(made)).toBe(shown.orders.layers.indexOf('main') + 1);
    expect(isBehind(shown, shown.parts.s)).toBe(false);
    const behind = apply(shown, putBehind(shown, ['s'], id));
    expect(isBehind(behind, behind.parts.s)).toBe(true);
    expect(apply(shown, showAgain(shown, 'main', 'hands', id)).orders.layers).toEqual(piece.orders.layers);
    expect(shownAgain(shown, 'main', 'face')).toBeNull();
    // of a piece without a garment it asks for the body all the same: hands are the body's
    expect(hasBody(apply(createPiece('y'), showAgain(createPiece('y'), 'main', 'hands', id)))).toBe(true);
    expect(hasBody(createPiece('y'))).toBe(false);
  });

  test('a garment that hangs nowhere is not there', () => {
    const piece = apply(dressed(), batch([changePart('s', { hang: null })]));
    expect(still(piece, FRONT).parts.find((p) => p.id === 's')?.found).toBe(false);
    const back = apply(piece, changePart('s', { hang: onAnchor('head') }));
    expect(still(back, FRONT).parts.find((p) => p.id === 's')?.found).toBe(true);
  });
});
