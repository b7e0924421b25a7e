/** Poses of the body in words. */

import type { BodyPoseName } from '@/core/form/body';
import { capital } from '@/core/words/counted';

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
export const poseWords = (pose: BodyPoseName): string => capital(POSE_WORDS[pose]);
