/** Poses and takes of a wearer: how head, neck and shoulders are turned, by name or over time. Angles in degrees. */
import type { Turn } from '../math/offset';
import { MOTION_NAMES, type MotionName } from '../words/humanoid';
import { type BodyHold, motionSeconds } from './body/hold';
import type { BodyPoseName } from './body/pose';
import { bodyRest } from './body/rests';

export type HeadTurn = Turn;

export interface Pose extends HeadTurn {
  readonly id: string;
  readonly label: string;
  /** Of the whole body; left out, it stands. */
  readonly body?: BodyPoseName;
}

const pose = (id: string, label: string, yawDeg: number, pitchDeg: number): Pose => ({ id, label, yawDeg, pitchDeg, rollDeg: 0 });

/** Key poses of the pose strip. */
export const POSES: readonly Pose[] = [
  pose('yaw-60', 'yaw −60°', -60, 0),
  pose('yaw-30', 'yaw −30°', -30, 0),
  pose('front', 'front', 0, 0),
  pose('yaw+30', 'yaw +30°', 30, 0),
  pose('yaw+60', 'yaw +60°', 60, 0),
  pose('pitch-20', 'pitch −20°', 0, -20),
  pose('pitch+20', 'pitch +20°', 0, 20),
];

const stance = (body: BodyPoseName, label: string): Pose => ({ id: `body-${body}`, label, yawDeg: 0, pitchDeg: 0, rollDeg: 0, body });
/** Key poses of a wearer whose body wears something. */
export const BODY_STRIP: readonly Pose[] = [
  stance('A', 'arms out'),
  stance('armsDown', 'arms down'),
  stance('T', 'arms level'),
  stance('oneArmUp', 'one arm up'),
  stance('handsOnHips', 'hands on hips'),
  stance('seated', 'seated'),
  { ...stance('armsDown', 'looks aside'), id: 'body-aside', yawDeg: 45 },
];

/** Turns of a moment: of the head within the neck, of the neck within the shoulders, of the shoulders in the world. */
export interface TakeKey {
  atS: number;
  head: Turn;
  neck: Turn;
  shoulders: Turn;
}

/** A generated motion of a wearer; times in seconds. */
export interface Take {
  readonly id: string;
  readonly label: string;
  readonly seconds: number;
  /** Keys in order, the first at 0 and the last, equal to it, at `seconds`; none where the body moves by a motion. */
  readonly keys: readonly TakeKey[];
  /** What the whole body does. */
  readonly motion?: MotionName;
}

type Three = readonly [yawDeg: number, pitchDeg: number, rollDeg?: number];
const turn = ([yawDeg, pitchDeg, rollDeg = 0]: Three): Turn => ({ yawDeg, pitchDeg, rollDeg });
const key = (atS: number, head: Three, neck: Three = [0, 0], shoulders: Three = [0, 0]): TakeKey => ({
  atS,
  head: turn(head),
  neck: turn(neck),
  shoulders: turn(shoulders),
});

/** The head alone. */
export const LOOK_ABOUT: Take = {
  id: 'look-about',
  label: 'Look about',
  seconds: 8.4,
  keys: [
    key(0, [0, 0]),
    key(0.6, [0, 0]),
    key(1.8, [-60, 0, -4]),
    key(2.4, [-60, 0, -4]),
    key(4.2, [60, 0, 4]),
    key(4.8, [60, 0, 4]),
    key(5.8, [0, -20]),
    key(7, [0, 20]),
    key(7.8, [0, 0]),
    key(8.4, [0, 0]),
  ],
};
/** Shoulders turn and tip, the head stays with what it looks at, the neck leans. */
export const SHOULDER_SWAY: Take = {
  id: 'shoulder-sway',
  label: 'Shoulders and neck',
  seconds: 7.2,
  keys: [
    key(0, [0, 0]),
    key(1.2, [-25, 0], [0, 0], [25, 0]),
    key(2.4, [25, 0], [0, 0], [-25, 0]),
    key(3.6, [0, 0, -8], [0, 0], [0, 0, 8]),
    key(4.8, [0, -15], [0, 15], [0, 0]),
    key(6, [0, 12], [0, -8], [0, 4]),
    key(7.2, [0, 0]),
  ],
};
const MOTION_LABELS: Readonly<Record<MotionName, string>> = {
  idle: 'Body: stands',
  walk: 'Body: walks',
  turn: 'Body: turns round',
  wave: 'Body: waves',
  bow: 'Body: bows',
  'sway-dance': 'Body: sways to a tune',
};
/** The motions of the body at their usual speed, of a wearer in size M. */
const BODY_TAKES: readonly Take[] = MOTION_NAMES.map((motion) => ({
  id: `body-${motion}`,
  label: MOTION_LABELS[motion],
  seconds: motionSeconds(motion, bodyRest('M').stander),
  keys: [],
  motion,
}));
export const TAKES: readonly Take[] = [LOOK_ABOUT, SHOULDER_SWAY, ...BODY_TAKES];
const STILL: Turn = { yawDeg: 0, pitchDeg: 0, rollDeg: 0 };

/** How the wearer is held at a time of the take, eased between keys; the take repeats. */
export function poseAtTime(take: Take, timeS: number): Omit<TakeKey, 'atS'> & { body?: BodyHold } {
  if (take.motion) return { head: STILL, neck: STILL, shoulders: STILL, body: { motion: take.motion, atS: timeS } };
  const t = timeS - Math.floor(timeS / take.seconds) * take.seconds;
  const next = take.keys.findIndex((k) => k.atS > t);
  if (next <= 0) return take.keys[next < 0 ? take.keys.length - 1 : 0];
  const a = take.keys[next - 1];
  const b = take.keys[next];
  const u = (t - a.atS) / (b.atS - a.atS);
  const e = u * u * (3 - 2 * u);
  const mix = (x: Turn, y: Turn): Turn => ({
    yawDeg: x.yawDeg + (y.yawDeg - x.yawDeg) * e,
    pitchDeg: x.pitchDeg + (y.pitchDeg - x.pitchDeg) * e,
    rollDeg: x.rollDeg + (y.rollDeg - x.rollDeg) * e,
  });
  return { head: mix(a.head, b.head), neck: mix(a.neck, b.neck), shoulders: mix(a.shoulders, b.shoulders) };
}
