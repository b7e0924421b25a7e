/** Limits of a place of delivery, and which of them a model breaks. */
import { showBytes, showCount } from '../math';
import type { LimitName, Limits, Weight } from './terms';

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
