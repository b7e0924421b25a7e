import * as z from 'zod';
import { defineStep, united } from './define';

export const TEXTURE_OPS = ['resize', 'drop-alpha', 'merge', 'roles', 'pack'] as const;
export const TextureSettings = z.strictObject({
  ops: z.array(z.enum(TEXTURE_OPS)).min(1).max(TEXTURE_OPS.length),
  /** Longest edge in pixels for `resize`. */
  maxEdge: z.int().min(16).max(16384),
});
export type TextureSettings = z.infer<typeof TextureSettings>;

export const texture = defineStep({
  settings: TextureSettings,
  for: ['model'],
  effect: 'pictures',
  merge: (all) => ({
    ...united(all),
    maxEdge: Math.min(...all.filter((t) => t.ops.includes('resize')).map((t) => t.maxEdge), 16384),
  }),
});
