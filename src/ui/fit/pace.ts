'use client';
/**
 * How finely a picture is drawn while a hand moves what is in it and drawing is slow: with fewer pixels, and few triangles of the wearer, so
 * that it keeps up with the hand.
 */
import { useRef } from 'react';
import { pixelRatio } from '../piece/stagehooks';

/** A picture that takes no longer keeps up, ms. */
const QUICK_MS = 30;
/** Coarser than this of its pixels in a row nothing is recognised. */
const LEAST = 0.4;

/** Draws at a ratio of pixels that keeps pace, and coarsely if need be; by what it took it is chosen the next time. */
export function usePace(moving: boolean): (draw: (ratio: number, coarsely: boolean) => Promise<unknown>) => Promise<void> {
  /** What all pixels would take, with all triangles and with few. */
  const took = useRef({ fine: 0, coarse: 0 });
  return async (draw) => {
    const most = pixelRatio();
    const coarsely = moving && took.current.fine > QUICK_MS;
    // the first coarse one is not known yet
    const ms = took.current.coarse || took.current.fine / 2;
    const share = coarsely && ms > QUICK_MS ? Math.max(LEAST, Math.sqrt(QUICK_MS / ms)) : 1;
    const from = performance.now();
    await draw(most * share, coarsely);
    took.current[coarsely ? 'coarse' : 'fine'] = (performance.now() - from) / share ** 2;
  };
}
