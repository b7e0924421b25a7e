import * as z from 'zod';
import { defineStep } from './define';

/** Vertices and triangles in an order that packs and draws well; nothing changes but the order. */
export const ReorderSettings = z.strictObject({});

export const reorder = defineStep({
  settings: ReorderSettings,
  for: ['model'],
  effect: 'pack',
});
