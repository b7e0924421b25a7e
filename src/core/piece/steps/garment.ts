import * as z from 'zod';
import { FORM_SIZES } from '../../form/measures';
import { HUMANOID_DETAILS } from '../../words/humanoid';
import { defineStep } from './define';

export const GarmentSettings = z.strictObject({
  /** Size of the body it lies on. */
  form: z.enum(FORM_SIZES),
  /** Bones it may get; those that nothing of it follows are left out. */
  detail: z.literal(HUMANOID_DETAILS),
  /** How often weights are evened out along its edges. */
  smooth: z.number().int().min(0).max(60),
});
export type GarmentSettings = z.infer<typeof GarmentSettings>;

export const garment = defineStep({
  settings: GarmentSettings,
  for: ['model'],
  effect: 'rig',
});
