/** Poses and takes of a wearer: how head, neck and shoulders are turned, by name or over time. Angles in degrees. */
import type { Turn } from '../math/offset';
import { type ActionUnit, type Expression, type FaceWeights, weightsOf } from '../words/face';
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
  /** What the face does; left out, it is at rest. */
  readonly face?: Expression;
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

const mien = (id: string, label: string, face: Expression): Pose => ({ ...pose(`face-${id}`, label, 0, 0), face });
/** Key poses of a wearer's face. */
export const FACE_STRIP: readonly Pose[] = [
  mien('mouth', 'mouth open', { AU26: 0.9 }),
  mien('smile', 'smile', { AU6: 0.6, AU12: 1 }),
  mien('brows', 'brows up', { AU1_2: 1, AU5: 0.6 }),
  mien('frown', 'frown', { AU4: 1, AU15: 0.8 }),
  mien('pucker', 'lips puckered', { AU18: 1 }),
  mien('nose', 'nose wrinkled', { AU9: 1, AU6: 0.5 }),
  mien('shut', 'eyes shut', { AU45: 1 }),
];

/** Turns of a moment: of the head within the neck, of the neck within the shoulders, of the shoulders in the world. */
export interface TakeKey {
  atS: number;
  head: Turn;
  neck: Turn;
  shoulders: Turn;
  /** Left out: at rest. */
  face?: Expression;
  /** How far the wearer has gone from where they stood, metres: side, up, fore. */
  awayM?: readonly [number, number, number];
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
/** A moment of a face, and of the head where it turns too. */
const look = (atS: number, face: Expression, head: Three = [0, 0]): TakeKey => ({ ...key(atS, head), face });
const away = (atS: number, awayM: [number, number, number], head: Three = [0, 0]): TakeKey => ({ ...key(atS, head), awayM });
const FACE_TAKES: readonly Take[] = [
  {
    id: 'nod',
    label: 'Nod',
    seconds: 3.2,
    keys: [key(0, [0, 0]), key(0.5, [0, 16]), key(1, [0, -6]), key(1.5, [0, 16]), key(2, [0, -4]), key(2.6, [0, 0]), key(3.2, [0, 0])],
  },
  {
    id: 'tilt',
    label: 'Tilt',
    seconds: 4,
    keys: [key(0, [0, 0]), key(1, [0, 0, -18]), key(1.5, [0, 0, -18]), key(2.6, [0, 0, 18]), key(3.1, [0, 0, 18]), key(4, [0, 0])],
  },
  {
    id: 'speak',
    label: 'Speak',
    seconds: 4.4,
    keys: [
      look(0, {}),
      look(0.3, { AU26: 0.55 }),
      look(0.55, { AU26: 0.1, AU18: 0.2 }),
      look(0.85, { AU26: 0.35, AU18: 0.7 }, [4, 2]),
      look(1.15, { AU26: 0.05 }, [4, 2]),
      look(1.45, { AU26: 0.7, AU1_2: 0.4 }, [0, -3]),
      look(1.75, { AU26: 0.2, AU12: 0.3 }),
      look(2.05, { AU26: 0.45, AU12: 0.2 }),
      look(2.3, { AU26: 0 }),
      look(2.7, { AU26: 0 }, [-4, 0]),
      look(3, { AU26: 0.5, AU18: 0.4 }, [-4, 3]),
      look(3.3, { AU26: 0.1 }, [-2, 2]),
      look(3.6, { AU26: 0.6, AU1_2: 0.2 }),
      look(4, {}),
      look(4.4, {}),
    ],
  },
  {
    id: 'smile',
    label: 'Smile',
    seconds: 3.6,
    keys: [look(0, {}), look(0.4, {}), look(1.2, { AU6: 0.6, AU12: 1 }), look(2.2, { AU6: 0.6, AU12: 1 }), look(3, {}), look(3.6, {})],
  },
  {
    id: 'surprise',
    label: 'Surprise',
    seconds: 3,
    keys: [
      look(0, {}),
      look(0.4, {}),
      look(0.7, { AU1_2: 1, AU5: 1, AU26: 0.7 }, [0, -6]),
      look(1.6, { AU1_2: 1, AU5: 1, AU26: 0.6 }, [0, -6]),
      look(2.4, {}),
      look(3, {}),
    ],
  },
  {
    id: 'blink',
    label: 'Blink and look round',
    seconds: 4,
    keys: [
      look(0, {}),
      look(0.12, { AU45: 1 }),
      look(0.3, {}),
      look(0.9, { AU61: 1 }),
      look(1.5, { AU62: 1 }),
      look(2.1, { AU63: 1 }),
      look(2.7, { AU64: 1 }),
      look(3, {}),
      look(3.15, { AU45_L: 1 }),
      look(3.4, {}),
      look(3.55, { AU45_R: 1 }),
      look(3.8, {}),
      look(4, {}),
    ],
  },
  {
    id: 'brows',
    label: 'Brows',
    seconds: 3.6,
    keys: [
      look(0, {}),
      look(0.6, { AU1_2: 1 }),
      look(1.2, { AU1_2: 1 }),
      look(1.8, { AU4: 1 }),
      look(2.4, { AU4: 1 }),
      look(3, {}),
      look(3.6, {}),
    ],
  },
  {
    id: 'come-near',
    label: 'Come near',
    seconds: 5,
    keys: [
      away(0, [0, 0, 0]),
      away(0.5, [0, 0, 0]),
      away(2.2, [0.02, -0.01, 0.55]),
      away(2.8, [0.02, -0.01, 0.55], [12, 4]),
      away(4.5, [0, 0, 0]),
      away(5, [0, 0, 0]),
    ],
  },
  {
    id: 'walk-past',
    label: 'Walk past',
    seconds: 4.8,
    keys: [
      away(0, [-0.9, 0, -0.4], [60, 0]),
      away(1.2, [-0.4, 0.015, -0.4], [60, 0]),
      away(2.4, [0, 0, -0.4], [0, 0]),
      away(3.6, [0.4, 0.015, -0.4], [-60, 0]),
      away(4.79, [0.9, 0, -0.4], [-60, 0]),
      away(4.8, [-0.9, 0, -0.4], [60, 0]),
    ],
  },
];
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
export const TAKES: readonly Take[] = [LOOK_ABOUT, ...FACE_TAKES, SHOULDER_SWAY, ...BODY_TAKES];
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
  const [from, to] = [a.awayM ?? NOWHERE, b.awayM ?? NOWHERE];
  return {
    head: mix(a.head, b.head),
    neck: mix(a.neck, b.neck),
    shoulders: mix(a.shoulders, b.shoulders),
    ...(a.face || b.face ? { face: between(weightsOf(a.face ?? {}), weightsOf(b.face ?? {}), e) } : {}),
    ...(a.awayM || b.awayM ? { awayM: [0, 1, 2].map((k) => from[k] + (to[k] - from[k]) * e) as [number, number, number] } : {}),
  };
}
const NOWHERE = [0, 0, 0] as const;

function between(a: FaceWeights, b: FaceWeights, share: number): FaceWeights {
  const out: Partial<Record<ActionUnit, number>> = {};
  for (const unit of new Set([...Object.keys(a), ...Object.keys(b)] as ActionUnit[]))
    out[unit] = (a[unit] ?? 0) + ((b[unit] ?? 0) - (a[unit] ?? 0)) * share;
  return out;
}
