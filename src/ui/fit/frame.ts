import { Matrix4 } from 'three';
import { offsetMatrix } from '@/core/math';
import { fills, lies, type Part } from '@/core/piece';
import type { StageState } from '@/core/run';

/** World from the frame a part hangs in, column-major; null where it has no place to be moved in. */
export function frameOf(state: StageState, part: Part): number[] | null {
  const staged = state.parts.find((p) => p.id === part.id);
  if (!staged?.found || fills(part) || lies(part)) return null;
  return new Matrix4().fromArray(staged.matrix).multiply(offsetMatrix(part.offset).invert()).toArray();
}
