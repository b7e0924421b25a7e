'use client';
/** Fit the occluder: grown as little as it takes that nothing leaks on any wearer in any pose; what that costs elsewhere is told. */
import { useState } from 'react';
import type { Growth } from '@/core/fit/growth';
import { castOf, changePart, isMade, isPlaced, type PartOf, partDef, rackOf } from '@/core/piece';
import { cellOf } from '@/core/run/placed';
import { forms, type WornCell } from '@/worker/browser';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import { formsFor } from '../../piece/wearers';
import { useFitRunRef } from '../run';
import { heldIn, turnsOf } from '../state';

const percent = (share: number) => `${(share * 100).toFixed(1)} %`;

export function OccluderFit({ part }: { part: PartOf<'occluder'> }) {
  const run = useFitRunRef();
  const commit = usePiece((s) => s.commit);
  const [told, setTold] = useState<Growth | null>(null);
  const [busy, setBusy] = useState(false);
  const find = async () => {
    const { piece, assets } = run.current.show;
    const parts = rackOf(piece).filter(
      (p) => isMade(p) && isPlaced(p) && partDef(p).drawnIn === 'parts' && p.layer === part.layer && p.hang !== null && p.visible,
    );
    const cast = castOf(piece);
    const known = { ...assets, forms: await formsFor(piece, cast) };
    const cells: WornCell[] = [];
    for (const p of parts)
      for (const wearer of cast)
        for (const pose of turnsOf(piece)) {
          // one a task: all at once would hold the page
          await new Promise((r) => setTimeout(r));
          const cell = cellOf(piece, known, p, wearer, heldIn(pose));
          if (cell) cells.push(cell);
        }
    if (cells.length === 0) return say.message('There is nothing in its layer that it could hide.');
    const growth = await forms.fitOccluder(cells, part.id, part.growMm);
    setTold(growth);
    commit(changePart(part.id, { growMm: growth.growMm }));
  };
  const start = () => {
    if (busy || part.locked) return;
    setBusy(true);
    find()
      .catch((e: Error) => say.error(e.message))
      .finally(() => setBusy(false));
  };
  return (
    <>
      <button
        type="button"
        className="btn btn-line btn-sm w-full mt-2"
        aria-busy={busy}
        aria-disabled={part.locked || !part.visible || busy}
        title={
          part.locked
            ? 'Unlock the part first'
            : part.visible
              ? 'Grown as little as it takes that no wearer of the cast shows what they should hide; one undo'
              : 'It is switched off and hides nothing'
        }
        onClick={() => part.visible && start()}
      >
        {busy ? 'Every wearer is looked at in every pose …' : 'Fit the occluder'}
      </button>
      {told && told.growMm === part.growMm && (
        <p className="text-small mt-1.5" role="status" data-growth={told.growMm.toFixed(1)}>
          {told.stops ? 'Grown by' : 'No growth stops all leaks; the least is left at'}{' '}
          <span className="num">{told.growMm.toFixed(1)} mm</span>: at worst <span className="num">{percent(told.after.leak)}</span> of what
          is seen leaks, <span className="num">{percent(told.before.leak)}</span> before; of what should be seen it hides{' '}
          <span className="num">{percent(told.after.swallowed)}</span>, <span className="num">{percent(told.before.swallowed)}</span>{' '}
          before.
        </p>
      )}
    </>
  );
}
