/** How a body is held: one of the poses, or a moment of one of the motions. */
import type { MotionName } from '../../words/humanoid';
import { MOTION_SPEEDS } from '../../words/humanoid';
import { MOTIONS, type Stander } from './motion';
import { BODY_POSES, type BodyPose, type BodyPoseName } from './pose';

export type BodyHold = { pose: BodyPoseName } | { motion: MotionName; atS: number };

/** The pose of a hold; motions at their usual speed. */
export function heldPose(hold: BodyHold, stander: Stander): BodyPose {
  if ('pose' in hold) return BODY_POSES[hold.pose];
  return MOTIONS[hold.motion].at(stander, hold.atS, MOTION_SPEEDS[hold.motion]?.usual ?? 1);
}

/** Seconds after which a motion begins again. */
export const motionSeconds = (motion: MotionName, stander: Stander): number =>
  MOTIONS[motion].seconds(stander, MOTION_SPEEDS[motion]?.usual ?? 1);
