'use client';
import { batch, changePart, hides, type Piece, rackOf } from '@/core/piece';
import { Choice, Mark } from '../kit';
import { usePiece } from '../piece/context';
import { useFit } from './state';

/** What stands at the foot of the Mirror: what hides, whether that is seen in the plates, what a hand does. */
export function MirrorBar({ piece }: { piece: Piece }) {
  const hatched = useFit((s) => s.hatched);
  const set = useFit((s) => s.set);
  const commit = usePiece((s) => s.commit);
  const occluders = rackOf(piece).filter((p) => hides(p) && !p.locked);
  const on = occluders.some((o) => o.visible);
  return (
    <div className="absolute left-2 right-2 bottom-2 flex flex-wrap items-center gap-1 p-[3px] bg-[color:var(--color-base-100)] border border-[color:var(--hair-strong)]">
      <button
        type="button"
        className="btn btn-sm btn-bare btn-tight"
        aria-pressed={on}
        aria-disabled={occluders.length === 0}
        title={occluders.length === 0 ? 'There is no occluder in the rack' : 'Only an occluder hides anything: switch it'}
        onClick={() => occluders.length > 0 && commit(batch(occluders.map((o) => changePart(o.id, { visible: !on }))))}
      >
        <Mark name="occluder" />
        Occluder
      </button>
      <button
        type="button"
        className="btn btn-sm btn-bare btn-tight"
        aria-pressed={hatched}
        title="Hatch the occluder in the plates (O)"
        onClick={() => set({ hatched: !hatched })}
      >
        Hatched
      </button>
      <HandPicker />
    </div>
  );
}

const HANDS = (['place', 'turn', 'size'] as const).map((h) => ({
  value: h,
  label: h,
  title: `Hand on ${h} (${{ place: 'P', turn: 'T', size: 'Z' }[h]})`,
}));

function HandPicker() {
  const hand = useFit((s) => s.hand);
  const set = useFit((s) => s.set);
  return <Choice className="ml-auto" label="Hand on" options={HANDS} value={hand} onChange={(h) => set({ hand: h })} />;
}
