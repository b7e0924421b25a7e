'use client';
/** A part's place pressed on the skin: in the Mirror and the plates, once it was asked for beside “Hangs on”. */
import { rehang } from '@/core/fit';
import type { FacePlace } from '@/core/form';
import { hangOn } from '@/core/piece';
import type { StageState } from '@/core/run';
import type { Stage } from '@/stage';
import { say } from '../kit/say';
import { usePieceStore } from '../piece/context';
import { stageNow } from '../piece/stagehooks';
import { useFitRunRef } from './run';
import { useFit } from './state';
import { framesFor } from './view';

/** @returns what a press in a picture does: true where it was for the skin */
export function useSkinPress(state: StageState): (pick: (stage: Stage) => FacePlace | null) => boolean {
  const store = usePieceStore();
  const run = useFitRunRef();
  return (pick) => {
    const { picking, set } = useFit.getState();
    const stage = stageNow();
    if (!picking || !stage || !state.form) return false;
    const at = pick(stage);
    if (!at?.bary || at.triangle === undefined) {
      say.error('That is beside the wearer: press the skin itself.');
      return true;
    }
    const anchor = { kind: 'face' as const, triangle: at.triangle, bary: [...at.bary] as [number, number, number] };
    set({ picking: null });
    const hang = hangOn(anchor);
    const { history, commit } = store.getState();
    const { doc } = history;
    void framesFor(run.current.show, hang).then(
      (frames) => commit(rehang(doc, frames, [picking.part], hang, picking.stays)),
      (e: Error) => say.error(e.message),
    );
    return true;
  };
}
