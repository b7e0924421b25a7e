import * as z from 'zod';
import { MOTION_NAMES, MOTION_SPEEDS } from '../../words/humanoid';
import { defineStep } from './define';

const MotionClip = z
  .strictObject({
    motion: z.enum(MOTION_NAMES),
    /** Metres or degrees a second, beats a minute; null: the usual one. */
    speed: z.number().nullable(),
    /** Of all that does not stand on the ground: 0 none, 1 as it is. */
    energy: z.number().min(0).max(2),
    /** On the spot; else the figure travels. */
    inPlace: z.boolean(),
  })
  .refine(
    ({ motion, speed }) => {
      const bears = MOTION_SPEEDS[motion];
      return speed === null || (bears !== null && speed >= bears.least && speed <= bears.most);
    },
    { message: 'a speed that the motion does not bear' },
  );
export const MotionSettings = z.strictObject({ clips: z.array(MotionClip).min(1).max(MOTION_NAMES.length) });
export type MotionSettings = z.infer<typeof MotionSettings>;

/** Clips of our own on a rigged figure, one a motion. */
export const motion = defineStep({
  settings: MotionSettings,
  for: ['model'],
  effect: 'shape',
});
