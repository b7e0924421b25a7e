/** A fit by pairs alone: the similarity that brings places of a thing nearest to places of the head (Umeyama 1991). */
import { Vector3 } from 'three';
import { fitSimilarity } from '../../math';
import type { FitPair } from './fitit';
import type { Onto } from './stand';

/** What is left between each pair once the thing lies there, mm. */
export const leftBetween = (pairs: readonly FitPair[], { factor, turn, shiftM }: Onto): FitPair[] =>
  pairs.map((p) => {
    const at = new Vector3(...p.modelM).multiplyScalar(factor).applyQuaternion(turn).add(shiftM);
    return { ...p, residualMm: at.distanceTo(new Vector3(...p.formM)) * 1000 };
  });

/**
 * @param keepSize the thing stays as large as its file has it
 * @returns a sentence: why pairs like these tell nothing
 */
export function solvePairs(pairs: readonly FitPair[], keepSize: boolean): Onto | string {
  if (pairs.length < 3) return 'Three pairs are needed to tell size, turn and place.';
  const [from, to] = [pairs.flatMap((p) => p.modelM), pairs.flatMap((p) => p.formM)];
  const solved = fitSimilarity(from, to);
  if (!solved) return 'The pairs lie on one line: how it is turned about that is not told.';
  if (solved.mirrored && pairs.length > 3) return 'The pairs fit only in a mirror: left and right may be exchanged.';
  if (!keepSize) return { factor: solved.factor, turn: solved.turn, shiftM: new Vector3(...solved.shift) };
  const mean = (p: readonly number[]) =>
    new Vector3(...[0, 1, 2].map((k) => p.reduce((s, x, i) => (i % 3 === k ? s + x : s), 0) / pairs.length));
  return { factor: 1, turn: solved.turn, shiftM: mean(to).sub(mean(from).applyQuaternion(solved.turn)) };
}
