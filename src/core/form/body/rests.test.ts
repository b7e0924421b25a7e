import { expect, test } from 'vitest';
import { HUMANOID_BONES } from '../../words/humanoid';
import { bodyBase } from '../samples';
import {
  BODY_POSES,
  bendBody,
  bodyContradictions,
  bodyMeasures,
  bodyOfSize,
  drawnBody,
  heldPose,
  MOTIONS,
  motionSeconds,
  poseBody,
  restOfSize,
  shapeBody,
} from '.';

test.each(['S', 'M', 'L'] as const)('the joints that are kept for form %s are those of the body that is made', (size) => {
  const shape = shapeBody(bodyBase(), size);
  const { skeleton, stander, headOffsetM } = restOfSize(size);
  for (const bone of HUMANOID_BONES) {
    const [kept, made] = [skeleton.rest[bone], shape.skeleton.rest[bone]];
    expect(kept.place.distanceTo(made.place), bone).toBeLessThan(2e-5);
    expect(kept.turn.angleTo(made.turn), bone).toBeLessThan(1e-6);
  }
  for (const [k, x] of shape.head.offset.entries()) expect(headOffsetM[k]).toBeCloseTo(x, 4);
  for (const [side, mark] of [
    ['left', 'pternionL'],
    ['right', 'pternionR'],
  ] as const)
    for (const [k, x] of shape.landmarks[mark].position.entries()) expect(stander.heel(side)[k]).toBeCloseTo(x, 4);
});

test('legs that leave no trunk are taken as far as they do, and that is said', () => {
  const ask = { ...bodyOfSize('M'), body: { stature: 1600, insideLeg: 1000 } };
  expect(bodyMeasures(ask).insideLeg).toBeCloseTo(896, 9);
  expect(bodyContradictions(ask)).toEqual(['Inside leg 1000 mm leaves no trunk at a stature of 1600 mm: 896 mm is taken.']);
  expect(bodyContradictions({ ...ask, body: { stature: 2300 } })[0]).toContain('is no leg');
  expect(bodyContradictions({ ...ask, body: { stature: 1600, insideLeg: 896 } })).toEqual([]);
  const { measured } = shapeBody(bodyBase(), bodyMeasures(ask));
  expect(measured.stature).toBeCloseTo(1600, 6);
});

test('a body bent by its joints is the body posed', () => {
  const shape = shapeBody(bodyBase(), 'M');
  const skin = drawnBody(shape);
  for (const pose of ['T', 'oneArmUp', 'seated'] as const) {
    const posed = poseBody(shape, pose);
    const carry = new Float64Array(52 * 16);
    for (const [i, j] of posed.joints.entries()) {
      // rest⁻¹ by hand: turns and places alone
      const [r, p] = [j.rest, j.pose];
      for (let c = 0; c < 3; c++)
        for (let d = 0; d < 3; d++) carry[i * 16 + c * 4 + d] = [0, 1, 2].reduce((s, k) => s + p[k * 4 + d] * r[k * 4 + c], 0);
      for (let d = 0; d < 3; d++)
        carry[i * 16 + 12 + d] = p[12 + d] - [0, 1, 2].reduce((s, k) => s + carry[i * 16 + k * 4 + d] * r[12 + k], 0);
      carry[i * 16 + 15] = 1;
    }
    const out = { positions: new Float32Array(skin.positions.length), normals: new Float32Array(skin.positions.length) };
    bendBody(skin, carry, out);
    let [far, turned] = [0, 0];
    for (let i = 0; i < out.positions.length; i++) far = Math.max(far, Math.abs(out.positions[i] - posed.positions[i]));
    for (let i = 0; i < out.normals.length; i += 3) {
      const cos = out.normals[i] * posed.normals[i] + out.normals[i + 1] * posed.normals[i + 1] + out.normals[i + 2] * posed.normals[i + 2];
      if (cos < 0.9) turned++;
    }
    expect(far).toBeLessThan(1e-6);
    // where skin folds the bent normals are not those of the bent surface
    expect(turned / (out.normals.length / 3)).toBeLessThan(0.03);
  }
});

test('a hold is a pose of its name, or a moment of a motion that begins again', () => {
  const { stander } = restOfSize('M');
  expect(heldPose({ pose: 'seated' }, stander)).toBe(BODY_POSES.seated);
  const seconds = motionSeconds('walk', stander);
  expect(seconds).toBeCloseTo(MOTIONS.walk.seconds(stander, 1.3), 9);
  const hips = (atS: number) => heldPose({ motion: 'walk', atS }, stander).root?.position as readonly number[];
  for (const k of [0, 1, 2]) expect(hips(0.3)[k]).toBeCloseTo(hips(0.3 + seconds)[k], 6);
});
