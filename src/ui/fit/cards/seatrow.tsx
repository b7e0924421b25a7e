'use client';
/** A part let down on its wearer: which way, how near, and it lies there. */
import { useState } from 'react';
import type { Part } from '@/core/piece';
import { NumField, PickField } from '../../kit';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import { useFitRunRef } from '../run';
import { useFit } from '../state';
import { seated, WAY_NAMES, WAYS, type Way } from './seated';

const FIRST_GAP_M = 0.0005;

export function SeatRow({ part }: { part: Part }) {
  const run = useFitRunRef();
  const commit = usePiece((s) => s.commit);
  const [way, setWay] = useState<Way>('down');
  const [gapM, setGap] = useState(FIRST_GAP_M);
  const [busy, setBusy] = useState(false);
  const seat = async () => {
    const { piece, assets } = run.current.show;
    const { pose, timeS } = useFit.getState();
    if (busy || part.locked) return;
    setBusy(true);
    try {
      const edit = await seated(piece, assets, part, pose, way, gapM, timeS);
      // moved meanwhile, it is told by where it was
      if (edit && run.current.show.piece.parts[part.id]?.offset === piece.parts[part.id]?.offset) commit(edit);
    } catch (e) {
      say.error((e as Error).message);
    }
    setBusy(false);
  };
  return (
    <div className="grid items-center gap-x-2 gap-y-1.5 mt-2 text-small" style={{ gridTemplateColumns: 'minmax(0, 1fr) 104px' }}>
      <PickField
        label="Which way it is let down"
        value={way}
        options={WAY_NAMES.map((w) => [w, WAYS[w].words] as const)}
        onChange={(w) => setWay(w)}
      />
      <span
        className="grid items-center gap-1.5"
        style={{ gridTemplateColumns: 'auto 1fr' }}
        title="Left between it and the skin; below nought it presses in"
      >
        <span className="soft" aria-hidden>
          gap
        </span>
        <NumField
          label="Gap to the skin"
          dimension="length"
          unit="mm"
          after="mm"
          decimals={1}
          step={0.0005}
          min={-0.02}
          max={0.05}
          value={gapM}
          onChange={setGap}
        />
      </span>
      <button
        type="button"
        className="btn btn-line btn-sm col-span-2"
        aria-disabled={busy || part.locked}
        title={part.locked ? 'Unlock the part first' : 'Moves it that way until it lies on the wearer as shown; one undo'}
        onClick={() => void seat()}
      >
        Seat
      </button>
    </div>
  );
}
