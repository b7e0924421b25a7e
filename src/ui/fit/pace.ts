'use client';
/** How many pixels a picture has: fewer while a hand moves what is in it and drawing is slow, so that it keeps up with the hand. */
import { useRef } from 'react';
import { pixelRatio } from '../piece/stagehooks';
import { useFit } from './state';

/** A picture that takes no longer keeps up, ms. */
const QUICK_MS = 40;
/** Coarser than this of its pixels in a row nothing is recognised. */
const LEAST = 0.4;

/** Whether a hand is moving a part or a measure. */
export const useMoving = () => useFit((s) => s.draft !== null || s.measuring !== null);

/** Draws at a ratio of pixels that keeps pace; by what it took it is chosen the next time. */
export function usePace(moving: boolean): (draw: (ratio: number) => Promise<unknown>) => Promise<void> {
  const wholeMs = useRef(0);
  return async (draw) => {
    const most = pixelRatio();
    const share = moving && wholeMs.current > QUICK_MS ? Math.max(LEAST, Math.sqrt(QUICK_MS / wholeMs.current)) : 1;
    const from = performance.now();
    await draw(most * share);
    wholeMs.current = (performance.now() - from) / share ** 2;
  };
}
