import { Matrix4, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { readCaptureLog, writeCaptureLog } from '../capture/log';
import { poseAtTime, SKELETONS, TAKES, type Take, type TakeKey, thinKeys, weightsOf } from '../form';
import { add, applyEdit, createPiece, EditError, takeOf, takeRow } from '../piece';
import { logOfTake, takeOfLog } from './takelog';
import { wearerCapture } from './wearer';

const piece = createPiece('p');
const M = SKELETONS.M;
const lines = (frames: object[]) => readCaptureLog(frames.map((f) => `${JSON.stringify(f)}\n`).join(''));
const head = (x: number, y: number, z: number, yaw = 0) => new Matrix4().makeRotationY(yaw).setPosition(x, y, z).toArray();
const held = (key: Partial<TakeKey>): TakeKey => {
  const still = { yawDeg: 0, pitchDeg: 0, rollDeg: 0 };
  return { atS: 0, head: still, neck: still, shoulders: still, ...key };
};
/** Greatest way between what two takes make of head and shoulders, metres at places a hand away; and of any weight. */
function apart(a: Take, b: Take): { m: number; weight: number } {
  let [m, weight] = [0, 0];
  for (let i = 0; i < 200; i++) {
    const t = (a.seconds * i) / 200;
    const [x, y] = [wearerCapture(piece, poseAtTime(a, t), t), wearerCapture(piece, poseAtTime(b, t), t)];
    for (const k of ['head', 'shoulders'] as const)
      for (const at of [new Vector3(), new Vector3(0.1, 0, 0), new Vector3(0, 0.1, 0)]) {
        const [p, q] = [x[k], y[k]].map((w) => at.clone().applyMatrix4(new Matrix4().fromArray(w as number[])));
        m = Math.max(m, p.distanceTo(q));
      }
    const [v, w] = [weightsOf(poseAtTime(a, t).face ?? {}), weightsOf(poseAtTime(b, t).face ?? {})];
    for (const unit of new Set([...Object.keys(v), ...Object.keys(w)]) as Set<keyof typeof v>)
      weight = Math.max(weight, Math.abs((v[unit] ?? 0) - (w[unit] ?? 0)));
  }
  return { m, weight };
}

describe('a take as a capture log, read again', () => {
  test.each(TAKES.filter((t) => !t.motion).map((t) => [t.id, t] as const))(
    '%s: head and shoulders within 1.5 mm, weights within 0.02',
    (_, take) => {
      const read = takeOfLog(readCaptureLog(logOfTake(take, piece, undefined, 60)), M);
      const again: Take = { ...take, ...read };
      expect(read.seconds).toBeCloseTo(take.seconds, 2);
      expect(read.leftOut).toEqual([]);
      expect(read.shouldersOffM).toBeLessThan(1e-6);
      // come-near passes 0.55 m in 1.7 s: a hundredth of a second of it is a few millimetres
      const { m, weight } = apart(take, again);
      expect(m).toBeLessThan(take.id === 'walk-past' ? 0.02 : 0.0015);
      expect(weight).toBeLessThan(0.02);
      expect(read.keys.length).toBeLessThan(take.seconds * 60 * 0.75);
    },
  );

  test('a body’s motion is told as left out, its head and shoulders come over', () => {
    const walk = TAKES.find((t) => t.id === 'body-walk') as Take;
    const read = takeOfLog(readCaptureLog(logOfTake(walk, piece)), M);
    expect(read.leftOut).toEqual(['the joints of the body']);
    expect(read.keys.length).toBeGreaterThan(4);
  });
});

describe('a log of somebody', () => {
  test('starts at its first line; a head is where it was seen, with its turn; a signal that stands for several units too', () => {
    const read = takeOfLog(
      lines([
        { timeS: 5, head: head(0.1, 0, -0.2, Math.PI / 6), signals: { mouthOpen: 0.4, smile: 0.5 } },
        { timeS: 6, head: head(0.1, 0, -0.2, Math.PI / 6) },
      ]),
      M,
    );
    expect(read.seconds).toBe(1);
    expect(read.keys).toHaveLength(2);
    expect(read.keys[0]).toEqual(
      held({ head: { yawDeg: 30, pitchDeg: 0, rollDeg: 0 }, awayM: [0.1, 0, -0.2], face: { AU12_L: 0.5, AU12_R: 0.5, AU26: 0.4 } }),
    );
  });
  test('where no head is found none is shown, and it comes back', () => {
    const read = takeOfLog(
      lines([
        { timeS: 0, head: head(0, 0, 0) },
        { timeS: 1, head: null },
        { timeS: 2, head: head(0, 0, 0) },
      ]),
      M,
    );
    const take = takeOf(takeRow('t', 'T', read));
    const at = (t: number) => wearerCapture(piece, poseAtTime(take, t), t);
    expect(at(0.5).head).not.toBeNull();
    expect([at(1).head, at(1.5).head, at(1.5).shoulders]).toEqual([null, null, null]);
    expect(at(1.999).head).toBeNull();
  });
  test('one that turns on the spot does not jump at half a turn', () => {
    const read = takeOfLog(lines(Array.from({ length: 13 }, (_, i) => ({ timeS: i, head: head(0, 0, 0, (i * Math.PI) / 5) }))), M);
    expect(read.keys.map((k) => k.head.yawDeg)).toEqual([0, 432]);
  });
  test('shoulders of a longer neck are told, the head stays where it was', () => {
    const frame = wearerCapture(piece, { head: held({}).head });
    const along = new Vector3(...M.neckBaseM).setLength(0.01);
    const lower = new Matrix4().fromArray(frame.shoulders as number[]).premultiply(new Matrix4().makeTranslation(along));
    const read = takeOfLog(readCaptureLog(writeCaptureLog([{ ...frame, shoulders: lower.toArray() }])), M);
    const again = wearerCapture(piece, { ...read.keys[0] });
    expect(read.shouldersOffM).toBeCloseTo(0.01, 6);
    for (let i = 12; i < 15; i++) expect(again.head?.[i]).toBeCloseTo(frame.head?.[i] as number, 3);
  });
  test('without a head, or too long: refused in words', () => {
    expect(() => takeOfLog(lines([{ timeS: 0, head: null }]), M)).toThrow(/finds no head/);
    expect(() =>
      takeOfLog(
        lines([
          { timeS: 0, head: head(0, 0, 0) },
          { timeS: 601, head: null },
        ]),
        M,
      ),
    ).toThrow(/at most 600 s/);
  });
});

describe('keys', () => {
  test('those on a straight line are left out, a bend of more than is seen stays', () => {
    const yaw = (deg: number) => ({ head: { yawDeg: deg, pitchDeg: 0, rollDeg: 0 } });
    const ramp = Array.from({ length: 11 }, (_, i) => held({ atS: i, ...yaw(i) }));
    expect(thinKeys(ramp).map((k) => k.atS)).toEqual([0, 10]);
    const bent = ramp.map((k) => (k.atS === 4 ? { ...k, ...yaw(4.11) } : k));
    expect(thinKeys(bent).map((k) => k.atS)).toContain(4);
    const little = ramp.map((k) => (k.atS === 4 ? { ...k, ...yaw(4.09) } : k));
    expect(thinKeys(little)).toHaveLength(2);
  });
  test('a piece keeps them: in order, none after the end, and as they are played', () => {
    const row = takeRow('t1', 'Mine', { seconds: 2, keys: [held({}), held({ atS: 2, head: { yawDeg: 40, pitchDeg: 0, rollDeg: 0 } })] });
    const of = applyEdit(piece, add('takes', row));
    expect(poseAtTime(takeOf(of.takes.t1), 1).head.yawDeg).toBe(20);
    expect(poseAtTime(takeOf(of.takes.t1), 0.5).head.yawDeg).toBeCloseTo(40 * 0.15625, 9);
    expect(poseAtTime({ ...takeOf(of.takes.t1), straight: true }, 0.5).head.yawDeg).toBe(10);
    expect(takeOf(of.takes.t1)).toBe(takeOf(of.takes.t1));
    const bad = (keys: TakeKey[]) => () => applyEdit(piece, add('takes', { ...row, keys: keys as never }));
    expect(bad([held({ atS: 1 }), held({ atS: 1 })])).toThrow(EditError);
    expect(bad([held({ atS: 1 }), held({ atS: 1 })])).toThrow(/key 2 at 1 s is not later/);
    expect(bad([held({ atS: 3 })])).toThrow(/last key is at 3 s, after its end/);
    expect(bad([held({ face: { AU99: 1 } as never })])).toThrow(/face/);
  });
});
