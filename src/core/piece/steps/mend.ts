import * as z from 'zod';
import { defineStep, united } from './define';

export const MEND_OPS = [
  'not-finite',
  'degenerate',
  'duplicates',
  'flipped',
  'outwards',
  'normals',
  'tangents',
  'weld',
  'unused',
  'close',
  'inner-shells',
  'crumbs',
  'merge-materials',
  'opaque',
  'single-sided',
  'lit',
  'unlit',
  'four-influences',
  'weights',
  'unused-bones',
  'skins-to-root',
  'constant-tracks',
  'the-form',
] as const;
export const MendOp = z.enum(MEND_OPS);
export type MendOp = z.infer<typeof MendOp>;
export const MendSettings = z.strictObject({ ops: z.array(MendOp).min(1).max(MEND_OPS.length) });

export const mend = defineStep({
  settings: MendSettings,
  for: ['model'],
  effect: 'both',
  merge: united,
});
