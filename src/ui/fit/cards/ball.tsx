'use client';
import { useRef } from 'react';
import type { FinishRow } from '@/core/finish';
import { drawnFinish, litBy } from '@/core/piece';
import { useDocument } from '../../piece/context';
import { pixelRatio, useDraw } from '../../piece/stagehooks';
import { useFitModels } from '../run';
import { useFit } from '../state';

/** A finish as a ball, as the stage draws it. @param sha of the model whose material wears it; null: something without one */
export function FinishBall({ finish, material, sha, px }: { finish: FinishRow | null; material: string; sha: string | null; px: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const doc = useDocument();
  // pictures of its maps may come later
  const models = useFitModels();
  const lit = useFit((s) => s.lit);
  const drawn = finish && drawnFinish(doc, finish);
  useDraw(
    async (stage) => {
      const target = canvas.current;
      if (!target || (sha !== null && !stage.hasModel(sha))) return;
      await stage.drawBall(target, { width: px, height: px, ratio: pixelRatio() }, { finish: drawn, material }, sha, litBy(doc));
      target.dataset.drawn = String(Number(target.dataset.drawn ?? 0) + 1);
    },
    [finish, material, sha, px, models, doc.settings.surroundings, lit],
  );
  return (
    <span className="shrink-0 leading-[0]" aria-hidden="true">
      <canvas ref={canvas} data-view="ball" style={{ width: px, height: px }} />
    </span>
  );
}
