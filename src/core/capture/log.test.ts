import { Matrix4, Quaternion } from 'three';
import { describe, expect, test } from 'vitest';
import { MIRROR_CAMERA, simulateCapture } from './index';
import { CaptureLogError, readCaptureLog, replayCapture, writeCaptureLog } from './log';

const m = (x: number, yawDeg = 0) =>
  new Matrix4()
    .makeRotationY((yawDeg * Math.PI) / 180)
    .setPosition(x, 0, 0)
    .toArray();
const log = (...lines: object[]) => replayCapture(readCaptureLog(lines.map((l) => JSON.stringify(l)).join('\n')));
const x = (pose: readonly number[] | null | undefined) => pose?.[12];
const yaw = (pose: readonly number[] | null | undefined) => {
  const q = new Quaternion().setFromRotationMatrix(new Matrix4().fromArray(pose as number[]));
  return (2 * Math.atan2(q.y, q.w) * 180) / Math.PI;
};

describe('a capture log', () => {
  test('between two lines poses are interpolated, turns by slerp; everything else holds', () => {
    const source = log(
      { timeS: 0, head: m(0), signals: { mouthOpen: 0.1, browsUp: 0.5 } },
      { timeS: 2, head: m(0.4, 90), signals: { mouthOpen: 0.9 } },
    );
    expect(x(source.frame(0.5)?.head)).toBeCloseTo(0.1, 12);
    expect(yaw(source.frame(0.5)?.head)).toBeCloseTo(22.5, 9);
    expect(source.frame(1.999)?.signals).toEqual({ mouthOpen: 0.1, browsUp: 0.5 });
    expect(source.frame(2)?.signals).toEqual({ mouthOpen: 0.9, browsUp: 0.5 });
    expect(x(source.frame(9)?.head)).toBe(0.4);
  });

  test('what a line leaves out stands: from the line that said it, not towards a later one', () => {
    const source = log({ timeS: 0, head: m(0) }, { timeS: 1, signals: { blink: 1 } }, { timeS: 2, head: m(0.4) });
    expect(x(source.frame(0.9)?.head)).toBe(0);
    expect(x(source.frame(1.5)?.head)).toBeCloseTo(0.2, 12);
  });

  test('a head that is lost is lost until it is found; nothing is known before the first line', () => {
    const source = log({ timeS: 1, head: m(0) }, { timeS: 2, head: null }, { timeS: 3, head: m(0.4) });
    expect(source.frame(0.5)).toBeNull();
    expect(x(source.frame(1.5)?.head)).toBe(0);
    expect(source.frame(2.5)?.head).toBeNull();
    expect(x(source.frame(3)?.head)).toBe(0.4);
  });

  test('shoulders never said are left to be derived, said to be unseen they are not', () => {
    expect(log({ timeS: 0, head: m(0) }).frame(0)).not.toHaveProperty('shoulders');
    expect(log({ timeS: 0, head: m(0), shoulders: null }).frame(0)?.shoulders).toBeNull();
  });

  test('a device’s camera moves between its lines; one typed by hand holds; without one it is the mirror’s', () => {
    const camera = (z: number) => ({
      world: new Matrix4().makeTranslation(0, 0, z).toArray(),
      fx: 900,
      fy: 900,
      cx: 360,
      cy: 640,
      widthPx: 720,
      heightPx: 1280,
    });
    const moved = log({ timeS: 0, camera: camera(1) }, { timeS: 1, camera: camera(2) }).frame(0.25)?.camera;
    expect(moved && 'world' in moved && moved.world[14]).toBeCloseTo(1.25, 12);
    expect(log({ timeS: 0 }).frame(0)?.camera).toEqual(MIRROR_CAMERA);
  });

  test('markers and surfaces are kept by name; a touch is of its own line', () => {
    const source = log(
      { timeS: 0, markers: { a: m(0), b: null }, touches: [{ id: 1, x: 0.5, y: 0.5, phase: 'down' }] },
      { timeS: 1, markers: { a: m(1) } },
    );
    expect(x(source.frame(0.5)?.markers?.a)).toBeCloseTo(0.5, 12);
    expect(source.frame(1)?.markers?.b).toBeNull();
    expect(source.frame(0)?.touches).toHaveLength(1);
    expect(source.frame(1)?.touches).toBeUndefined();
  });

  test('written and read back it is the same at the same times, and says only what changed', () => {
    const bones = { neckBaseM: [0, -0.13, 0] as const, neckTopM: [0, -0.04, 0] as const, shouldersM: [0, -0.16, 0] as const };
    const frames = [0, 0.5, 1].map((t) => simulateCapture({ yawDeg: t * 30, pitchDeg: 0, rollDeg: 0 }, bones, t));
    const text = writeCaptureLog(frames);
    expect(text.split('\n')[1]).not.toContain('camera');
    const back = replayCapture(readCaptureLog(text));
    for (const f of frames) expect(JSON.stringify(back.frame(f.timeS)?.head)).toBe(JSON.stringify(f.head));
  });

  test.each<[string, string, RegExp]>([
    ['nothing', '\n', /no lines/],
    ['no JSON', '{"timeS":0}\n{', /Line 2 .* not JSON/],
    ['a matrix of fifteen', '{"timeS":0,"head":[1,0,0,0,0,1,0,0,0,0,1,0,0,0,0]}', /Line 1 .*head/],
    ['a stranger’s field', '{"timeS":0,"hat":1}', /Line 1/],
    ['times that do not grow', '{"timeS":1}\n{"timeS":1}', /Line 2 .* not later/],
  ])('%s is refused, by line', (_, text, why) => {
    expect(() => readCaptureLog(text)).toThrow(CaptureLogError);
    expect(() => readCaptureLog(text)).toThrow(why);
  });
});
