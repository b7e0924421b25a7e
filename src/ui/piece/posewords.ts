/** Poses of the body in words. */
import type { BodyPoseName } from '@/core/form/body';

export const POSE_WORDS: Readonly<Record<BodyPoseName, string>> = {
  A: 'arms out',
  T: 'arms level',
  armsDown: 'arms down',
  armsHalf: 'arms half down',
  handsOnHips: 'hands on hips',
  oneArmUp: 'one arm up',
  seated: 'seated',
  fist: 'fists',
};

/** At the beginning of a line. */
export const poseWords = (pose: BodyPoseName): string => POSE_WORDS[pose].replace(/^./, (c) => c.toUpperCase());
