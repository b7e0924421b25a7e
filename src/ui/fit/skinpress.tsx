'use client';
/** A part's place pressed on the skin: in the Mirror and the plates, once it was asked for beside “Hangs on”. */
import { useEffect } from 'react';
import { rehang } from '@/core/fit';
import type { FacePlace } from '@/core/form';
import { hangOn } from '@/core/piece';
import type { StageState } from '@/core/run';
import type { Stage } from '@/stage';
import { Choice, onEscape } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
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

const WAYS = [
  { value: 'there', label: 'lies there' },
  { value: 'stays', label: 'stays where it is' },
] as const;

/** Says over the picture what a press is for. */
export function SkinPressNote() {
  const picking = useFit((s) => s.picking);
  const set = useFit((s) => s.set);
  const doc = useDocument();
  const selected = usePiece((s) => s.selected);
  const part = picking ? doc.parts[picking.part] : undefined;
  useEffect(() => {
    if (picking && (!part || picking.part !== selected)) set({ picking: null });
    return picking ? onEscape(() => set({ picking: null })) : undefined;
  }, [picking, part, selected, set]);
  if (!picking || !part) return null;
  return (
    <div
      role="status"
      className="absolute left-2 top-2 flex flex-wrap items-center gap-2 max-w-[calc(100%-16px)] px-2 py-1 text-small bg-[color:var(--color-base-100)] border border-[color:var(--brass)]"
    >
      <span>
        Press the skin where <b>{part.name}</b> hangs; Esc lets it be.
      </span>
      <Choice
        label="What it does there"
        options={WAYS}
        value={picking.stays ? 'stays' : 'there'}
        onChange={(way) => set({ picking: { ...picking, stays: way === 'stays' } })}
      />
    </div>
  );
}
