import { describe, expect, test } from 'vitest';
import { MOTION_NAMES } from '../words/humanoid';
import { LOOK_ABOUT, POSES, poseAtTime, SHOULDER_SWAY, TAKES, type Take } from './index';

const turnAt = (take: Take, timeS: number) => poseAtTime(take, timeS).head;

describe('POSES', () => {
  test('at least seven: front, yaw ±30 and ±60, pitch ±20', () => {
    const has = (yawDeg: number, pitchDeg: number) => POSES.some((p) => p.yawDeg === yawDeg && p.pitchDeg === pitchDeg);
    for (const [y, p] of [
      [0, 0],
      [30, 0],
      [-30, 0],
      [60, 0],
      [-60, 0],
      [0, 20],
      [0, -20],
    ])
      expect(has(y, p), `${y} ${p}`).toBe(true);
    expect(new Set(POSES.map((p) => p.id)).size).toBe(POSES.length);
  });
});

describe('turnAt', () => {
  test('meets every key, and the end of the take is its beginning', () => {
    for (const k of LOOK_ABOUT.keys.slice(0, -1)) expect(turnAt(LOOK_ABOUT, k.atS).yawDeg).toBeCloseTo(k.head.yawDeg, 9);
    for (const take of TAKES.filter((t) => !t.motion)) {
      const [first, last] = [take.keys[0], take.keys[take.keys.length - 1]];
      expect({ ...last, atS: 0 }).toEqual(first);
      expect(last.atS).toBe(take.seconds);
    }
  });
  test('takes of the body: every motion, as long as its loop, the head left to it', () => {
    const of = TAKES.filter((t) => t.motion);
    expect(of.map((t) => t.motion)).toEqual([...MOTION_NAMES]);
    for (const take of of) {
      expect(take.seconds).toBeGreaterThan(0.5);
      const { head, body } = poseAtTime(take, 0.4);
      expect([head.yawDeg, head.pitchDeg, head.rollDeg]).toEqual([0, 0, 0]);
      expect(body).toEqual({ motion: take.motion, atS: 0.4 });
    }
  });
  test('head, neck and shoulders move apart', () => {
    for (const k of LOOK_ABOUT.keys)
      expect([k.neck, k.shoulders].every((t) => t.yawDeg === 0 && t.pitchDeg === 0 && t.rollDeg === 0)).toBe(true);
    const { head, neck, shoulders } = poseAtTime(SHOULDER_SWAY, 1.2);
    // the head stays with what it looks at while the shoulders turn
    expect([head.yawDeg, neck.yawDeg, shoulders.yawDeg]).toEqual([-25, 0, 25]);
    expect(poseAtTime(SHOULDER_SWAY, 4.8).neck.pitchDeg).toBe(15);
  });
  test('repeats, before zero as well', () => {
    for (const t of [0.3, 1.4, 5.1]) {
      expect(turnAt(LOOK_ABOUT, t + LOOK_ABOUT.seconds).yawDeg).toBeCloseTo(turnAt(LOOK_ABOUT, t).yawDeg, 6);
      expect(turnAt(LOOK_ABOUT, t - LOOK_ABOUT.seconds).yawDeg).toBeCloseTo(turnAt(LOOK_ABOUT, t).yawDeg, 6);
    }
  });
  test('never jumps: under 4° in a fiftieth of a second', () => {
    for (let t = 0; t < LOOK_ABOUT.seconds; t += 0.02)
      expect(Math.abs(turnAt(LOOK_ABOUT, t + 0.02).yawDeg - turnAt(LOOK_ABOUT, t).yawDeg)).toBeLessThan(4);
  });
});

test('between two keys a turn sets out and arrives gently (smoothstep, closed form)', () => {
  // yaw 0 at 0.6 s, −60° at 1.8 s: a quarter of the way is u² (3 − 2u) = 0.15625, half of it a half
  expect(poseAtTime(LOOK_ABOUT, 0.9).head.yawDeg).toBeCloseTo(-60 * 0.15625, 9);
  expect(poseAtTime(LOOK_ABOUT, 1.2).head.yawDeg).toBeCloseTo(-30, 9);
  expect(poseAtTime(LOOK_ABOUT, 1.5).head.yawDeg).toBeCloseTo(-60 * (1 - 0.15625), 9);
});
