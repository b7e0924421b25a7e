'use client';
/** A part let down on its wearer: which way, how near, and it lies there. */
import { useState } from 'react';
import { Vector3 } from 'three';
import { changePart, type Part, shownWearer } from '@/core/piece';
import { placedCell } from '@/core/run/placed';
import { forms } from '@/worker/browser';
import { NumField, PickField } from '../../kit';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import { useFitRunRef } from '../run';
import { useFit } from '../state';

/** In the head's frame; left and right are the wearer's. */
const WAYS = {
  down: { words: 'downwards', along: [0, -1, 0] },
  up: { words: 'upwards', along: [0, 1, 0] },
  back: { words: 'backwards', along: [0, 0, -1] },
  fore: { words: 'forwards', along: [0, 0, 1] },
  left: { words: 'to the left', along: [1, 0, 0] },
  right: { words: 'to the right', along: [-1, 0, 0] },
} as const;
type Way = keyof typeof WAYS;
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
    const placed = placedCell(piece, assets, part, shownWearer(piece), pose, timeS);
    if (!placed || busy || part.locked) return;
    setBusy(true);
    const { along } = WAYS[way];
    const there = await forms
      .drop(placed.cell, along, gapM)
      .catch((e: Error) => {
        say.error(e.message);
        return undefined;
      })
      .finally(() => setBusy(false));
    if (there === null)
      return say.error(`Moved ${WAYS[way].words}, ${part.name} meets nobody. Choose another way, or bring it nearer first.`);
    // moved meanwhile, it is told by where it was
    if (!there || run.current.show.piece.parts[part.id]?.offset !== piece.parts[part.id]?.offset) return;
    const by = placed.inOffset(new Vector3(...along).multiplyScalar(there.wayM));
    const [x, y, z] = part.offset.positionM;
    commit(changePart(part.id, { offset: { ...part.offset, positionM: [x + by.x, y + by.y, z + by.z] } }));
  };
  return (
    <div className="grid items-center gap-x-2 gap-y-1.5 mt-2 text-small" style={{ gridTemplateColumns: 'minmax(0, 1fr) 104px' }}>
      <PickField
        label="Which way it is let down"
        value={way}
        options={(Object.keys(WAYS) as Way[]).map((w) => [w, WAYS[w].words] as const)}
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
