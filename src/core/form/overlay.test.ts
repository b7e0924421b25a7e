import { describe, expect, test } from 'vitest';
import { LOOK_ABOUT, poseAtTime, TAKES, type Take, weightsOf } from './index';
import { keysOver, overlaid } from './overlay';

const still = TAKES.find((t) => t.id === 'still') as Take;
const smile = TAKES.find((t) => t.id === 'smile') as Take;
const moment = (atS: number, face: object, head: object = {}) => ({ atS, face, head });
const played = (take: Take, moments: Parameters<typeof keysOver>[1]): Take => ({ ...take, straight: true, keys: keysOver(take, moments) });

describe('sliders laid over a take', () => {
  test('nothing touched: the take itself, eased ways and all, with far fewer keys than thirty a second', () => {
    const over = played(LOOK_ABOUT, []);
    for (let t = 0; t < LOOK_ABOUT.seconds; t += 0.017)
      for (const k of ['yawDeg', 'pitchDeg', 'rollDeg'] as const)
        expect(Math.abs(poseAtTime(over, t).head[k] - poseAtTime(LOOK_ABOUT, t).head[k])).toBeLessThan(0.25);
    expect(over.keys.length).toBeLessThan(LOOK_ABOUT.seconds * 30 * 0.7);
    expect(over.keys.at(-1)?.atS).toBe(LOOK_ABOUT.seconds);
  });
  test('what is touched goes straight from moment to moment, the rest has its own way', () => {
    const over = played(smile, [moment(1, { AU26: 0 }), moment(2, { AU26: 1 })]);
    const at = (t: number) => weightsOf(poseAtTime(over, t).face ?? {});
    expect(at(1.5).AU26).toBeCloseTo(0.5, 2);
    expect(at(3.2).AU26).toBeCloseTo(1, 2);
    expect(at(0.5).AU26).toBeUndefined();
    for (const t of [0.8, 1.5, 2.6]) expect(at(t).AU12_L ?? 0).toBeCloseTo(weightsOf(poseAtTime(smile, t).face ?? {}).AU12_L ?? 0, 1);
  });
  test('a slider at nought puts out what the take does', () => {
    const over = played(smile, [moment(0, { AU12_L: 0 })]);
    const { AU12_L, AU12_R } = weightsOf(poseAtTime(over, 1.8).face ?? {});
    expect(AU12_L).toBeUndefined();
    expect(AU12_R).toBeCloseTo(1, 2);
  });
  test('the head turns by its sliders from when they are touched, one axis alone', () => {
    const over = played(still, [moment(0, {}), moment(2, {}, { yawDeg: 0 }), moment(4, {}, { yawDeg: 40 })]);
    expect(poseAtTime(over, 1).head.yawDeg).toBe(0);
    expect(poseAtTime(over, 3).head).toEqual({ yawDeg: 20, pitchDeg: 0, rollDeg: 0 });
    expect(poseAtTime(over, 5).head.yawDeg).toBe(40);
    expect(over.keys.length).toBeLessThan(6);
    expect(overlaid(still, 1, { face: { AU26: 0.3 }, head: { rollDeg: 5 } })).toMatchObject({ head: { rollDeg: 5 }, face: { AU26: 0.3 } });
  });
});
