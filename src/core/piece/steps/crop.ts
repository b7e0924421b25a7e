import * as z from 'zod';
import { defineStep } from './define';
import { Edge } from './values';

export const CropSettings = z.strictObject({ x: z.int().min(0).max(16384), y: z.int().min(0).max(16384), width: Edge, height: Edge });
export type CropSettings = z.infer<typeof CropSettings>;

export const crop = defineStep({
  settings: CropSettings,
  for: ['picture'],
  effect: 'media',
});
