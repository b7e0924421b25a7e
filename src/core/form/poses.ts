/** Key poses of a wearer, by name. Angles in degrees. */
import type { Turn } from '../math/offset';
import type { Expression } from '../words/face';
import type { BodyPoseName } from './body/pose';

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
