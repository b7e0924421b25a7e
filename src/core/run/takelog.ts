/** A take as a capture log, and a capture log as a take: what a wearer does, the same in both. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { CaptureFrame } from '../capture';
import { type CaptureLine, replayCapture, writeCaptureLog } from '../capture/log';
import { STILL, type Take, type TakeKey, thinKeys, tidyKey } from '../form/take';
import type { Turn } from '../math/offset';
import { yawPitchRoll } from '../math/turns';
import { MOST_KEYS, MOST_TAKE_S } from '../piece/takerow';
import { faceOf } from '../words/face';
import type { Skeleton } from '../words/skeleton';
import { takeSource } from './wearer';

type Source = Parameters<typeof takeSource>;

/** The whole take as lines of a capture log. @param hz lines a second */
export function logOfTake(take: Take, piece: Source[1], camera?: Source[2], hz = 30): string {
  const source = takeSource(take, piece, camera);
  const steps = Math.max(1, Math.round(take.seconds * hz));
  // the end, not the beginning of the next time round
  const times = Array.from({ length: steps + 1 }, (_, i) => (i < steps ? i / hz : take.seconds - 1e-6));
  return writeCaptureLog(times.flatMap((t) => source.frame(t) ?? []));
}

/** A log that gives no take: why. */
export class TakeLogError extends Error {
  readonly code = 'capture/take';
}

export interface TakeOfLog extends Pick<Take, 'seconds' | 'straight' | 'keys'> {
  /** How far the shoulders of the take are at most from those of the log, metres: those are of somebody with another neck. */
  shouldersOffM: number;
  /** What the log tells and a take does not hold, in words. */
  leftOut: string[];
}

const D = 180 / Math.PI;
/** The nearest of the same turns: a head that goes round does not jump. */
const near = (deg: number, before: number) => deg - 360 * Math.round((deg - before) / 360);
function turnOf(q: Quaternion, before: Turn): Turn {
  const e = yawPitchRoll(q);
  return { yawDeg: near(e.y * D, before.yawDeg), pitchDeg: near(e.x * D, before.pitchDeg), rollDeg: near(e.z * D, before.rollDeg) };
}

function parted(world: readonly number[]): { at: Vector3; turn: Quaternion } {
  const at = new Vector3();
  const turn = new Quaternion();
  new Matrix4().fromArray(world as number[]).decompose(at, turn, new Vector3());
  return { at, turn };
}

/**
 * The wearer of a frame as a key. The head is where the log has it; with shoulders, the neck is the least turn that brings the head over
 * there (a head's own turn does the rest), and what the two necks differ by in length, the shoulders are off by.
 */
function keyOf(frame: CaptureFrame, before: Omit<TakeKey, 'atS'>, bones: Skeleton): { key: Omit<TakeKey, 'atS'>; offM: number } {
  if (!frame.head) return { key: { ...before, lost: true }, offM: 0 };
  const head = parted(frame.head);
  const weights = faceOf(frame.signals);
  const face = Object.keys(weights).length > 0 ? { face: weights } : {};
  if (!frame.shoulders) {
    const awayM = head.at.toArray() as [number, number, number];
    return { key: { head: turnOf(head.turn, before.head), neck: STILL, shoulders: STILL, awayM, ...face }, offM: 0 };
  }
  const shoulders = parted(frame.shoulders);
  const base = new Vector3(...bones.neckBaseM);
  const level = shoulders.turn.clone().invert();
  // where the head is from the neck's base, seen from the bust as it is at rest
  const bust = shoulders.at.clone().sub(new Vector3(...bones.shouldersM).applyQuaternion(shoulders.turn));
  const over = head.at.clone().sub(bust).applyQuaternion(level).sub(base);
  const upright = base.clone().negate();
  const neck = new Quaternion();
  if (over.length() > 1e-6) neck.setFromUnitVectors(upright.clone().normalize(), over.clone().normalize());
  const within = neck.clone().invert().multiply(level).multiply(head.turn);
  const reached = upright.clone().applyQuaternion(neck);
  const off = over.sub(reached);
  const away = bust.add(off.clone().applyQuaternion(shoulders.turn)).sub(base).add(base.clone().applyQuaternion(shoulders.turn));
  return {
    key: {
      head: turnOf(within, before.head),
      neck: turnOf(neck, before.neck),
      shoulders: turnOf(shoulders.turn, before.shoulders),
      awayM: away.toArray() as [number, number, number],
      ...face,
    },
    offM: off.length(),
  };
}

const LEFT_OUT: readonly [keyof CaptureFrame, string][] = [
  ['joints', 'the joints of the body'],
  ['markers', 'markers'],
  ['surfaces', 'surfaces'],
  ['touches', 'touches'],
];

/**
 * What a log's wearer does, as keys from its first line on.
 * @param bones of who is to do it
 * @throws {TakeLogError} no head in any line, or longer than a take may be
 */
export function takeOfLog(lines: readonly CaptureLine[], bones: Skeleton): TakeOfLog {
  const source = replayCapture(lines);
  const from = lines[0].timeS;
  const seconds = lines[lines.length - 1].timeS - from;
  if (seconds > MOST_TAKE_S)
    throw new TakeLogError(`The log is ${Math.round(seconds)} s long; a take has at most ${MOST_TAKE_S} s. Cut the log into several.`);
  let before: Omit<TakeKey, 'atS'> = { head: STILL, neck: STILL, shoulders: STILL };
  let shouldersOffM = 0;
  let found = false;
  const told = new Set<keyof CaptureFrame>();
  const keys: TakeKey[] = [];
  for (const { timeS } of lines) {
    const frame = source.frame(timeS);
    if (!frame) continue;
    for (const [field] of LEFT_OUT) if (frame[field]) told.add(field);
    found ||= frame.head !== null;
    const { key, offM } = keyOf(frame, before, bones);
    shouldersOffM = Math.max(shouldersOffM, offM);
    const { lost: _, ...held } = key;
    before = held;
    const tidied = tidyKey({ atS: timeS - from, ...key });
    // two lines within a millisecond are one
    if (keys.length === 0 || tidied.atS > keys[keys.length - 1].atS) keys.push(tidied);
  }
  if (!found) throw new TakeLogError('The log finds no head in any of its lines: there is nothing a wearer could do.');
  const thin = thinKeys(keys);
  if (thin.length > MOST_KEYS)
    throw new TakeLogError(`The log makes ${thin.length} keys; a take has at most ${MOST_KEYS}. Cut it into several.`);
  return {
    seconds: Math.max(0.1, thin[thin.length - 1].atS),
    straight: true,
    keys: thin,
    shouldersOffM,
    leftOut: LEFT_OUT.flatMap(([field, words]) => (told.has(field) ? [words] : [])),
  };
}

/** Below this nobody sees that shoulders are elsewhere. */
const SHOULDERS_SEEN_M = 0.002;
/** What of a log did not come over; null: all did. */
export function takeLogWords({ shouldersOffM, leftOut }: TakeOfLog): string | null {
  const words = [
    ...(leftOut.length > 0 ? [`Left out, for a take has none: ${leftOut.join(', ')}.`] : []),
    ...(shouldersOffM > SHOULDERS_SEEN_M
      ? [`The shoulders are up to ${(shouldersOffM * 1000).toFixed(0)} mm off: the log is of somebody with another neck.`]
      : []),
  ];
  return words.length > 0 ? words.join(' ') : null;
}
