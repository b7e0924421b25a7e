'use client';
import { Plus } from 'lucide-react';
import { STILL, type Take, tidyKey } from '@/core/form';
import { change, type TakeRow } from '@/core/piece';
import { usePiece } from '../piece/context';
import { useFit } from './state';

/** Keys nearer to each other than this are one. */
export const SAME_S = 0.005;

/** Sets how the wearer is held now as the take's key at the moment. */
export function KeyHere({ row, take }: { row: TakeRow; take: Take }) {
  const commit = usePiece((s) => s.commit);
  const timeS = useFit((s) => s.timeS);
  const set = useFit((s) => s.set);
  const at = timeS - Math.floor(timeS / take.seconds) * take.seconds;
  const there = take.keys.some((k) => Math.abs(k.atS - at) < SAME_S);
  const keep = () => {
    const { pose } = useFit.getState();
    const key = tidyKey({
      atS: at,
      head: pose.head,
      neck: pose.neck ?? STILL,
      shoulders: pose.shoulders ?? STILL,
      ...(pose.face ? { face: pose.face } : {}),
      ...(pose.awayM ? { awayM: pose.awayM } : {}),
    });
    const others = take.keys.filter((k) => Math.abs(k.atS - key.atS) >= SAME_S);
    const keys = [...others, key].sort((a, b) => a.atS - b.atS);
    commit(change('takes', row.id, { keys: keys as never }));
    set({ running: true, poseId: null });
  };
  return (
    <button
      type="button"
      className="btn btn-line btn-sm"
      title="How the wearer is held now, by a pose, the face’s sliders or the take itself, is what the take comes to at this moment"
      onClick={keep}
    >
      <Plus className="ico" />
      {there ? 'Set the key at' : 'Key at'} <span className="num">{at.toFixed(2)} s</span>
    </button>
  );
}
