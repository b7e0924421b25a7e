/** Pictures that are many and small: drawn once the hand rests, one a task, lest together they hold the page. */
import type { Stage } from '@/stage';
import { drawSoon } from '../piece/stagehooks';

/**
 * @param draw what is drawn of one; where it draws nothing the next is taken at once
 * @returns what calls it off
 */
export function drawOneByOne<T>(
  restMs: number,
  list: () => readonly T[],
  canvasOf: (of: T) => HTMLCanvasElement | undefined,
  draw: (stage: Stage, canvas: HTMLCanvasElement, of: T) => Promise<boolean>,
): () => void {
  let gone = false;
  const timer = setTimeout(async () => {
    for (const of of list()) {
      const canvas = canvasOf(of);
      if (gone) return;
      if (!canvas) continue;
      await new Promise<void>((done) =>
        drawSoon(async (stage) => {
          if (!gone && (await draw(stage, canvas, of))) canvas.dataset.drawn = String(Number(canvas.dataset.drawn ?? 0) + 1);
          done();
        }),
      );
    }
  }, restMs);
  return () => {
    gone = true;
    clearTimeout(timer);
  };
}
