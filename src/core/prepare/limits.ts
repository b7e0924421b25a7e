/** Limits of a place of delivery, and which of them a model breaks. */
import { z } from 'zod';
import { showBytes, showCount } from '../math';
import type { Weight } from './weigh';

const most = z.int().min(0).max(1e12).nullable();
/** null: no limit. */
export const Limits = z.strictObject({
  bytes: most,
  triangles: most,
  /** Longest edge of a picture, px. */
  textureEdge: most,
  materials: most,
  bones: most,
  drawCalls: most,
  /** Pictures with mip levels and geometry, unpacked. */
  deviceBytes: most,
  /** How bytes may be packed; `webp`: pictures may be WebP. */
  formats: z.strictObject({ draco: z.boolean(), meshopt: z.boolean(), webp: z.boolean() }),
});
export type Limits = z.infer<typeof Limits>;
export type LimitName = Exclude<keyof Limits, 'formats'>;

export const NO_LIMITS: Limits = {
  bytes: null,
  triangles: null,
  textureEdge: null,
  materials: null,
  bones: null,
  drawCalls: null,
  deviceBytes: null,
  formats: { draco: true, meshopt: true, webp: true },
};

const WORDS: Record<LimitName, (is: number, limit: number) => string> = {
  bytes: (is, l) => `The file has ${showBytes(is)}, the limit is ${showBytes(l)}`,
  triangles: (is, l) => `${showCount(is)} triangles are drawn, the limit is ${showCount(l)}`,
  textureEdge: (is, l) => `The largest picture is ${is} px long, the limit is ${l} px`,
  materials: (is, l) => `There are ${is} materials, the limit is ${l}`,
  bones: (is, l) => `A skin has ${is} bones, the limit is ${l}`,
  drawCalls: (is, l) => `It takes ${is} draw calls, the limit is ${l}`,
  deviceBytes: (is, l) => `On a device it takes ${showBytes(is)}, the limit is ${showBytes(l)}`,
};
export const LIMIT_NAMES = Object.keys(WORDS) as LimitName[];

export const brokenLimits = (w: Weight, limits: Limits): LimitName[] =>
  LIMIT_NAMES.filter((k) => limits[k] !== null && w[k] > (limits[k] as number));
export const limitWords = (name: LimitName, w: Weight, limits: Limits): string => WORDS[name](w[name], limits[name] ?? 0);
