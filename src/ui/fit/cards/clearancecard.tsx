'use client';
/** How the selected part sits on who is shown, as they are held: told after every edit that has come to rest. */
import { useEffect, useState } from 'react';
import { cuts, leaks } from '@/core/fit/judge';
import { type Part, shownWearer, wearerWords } from '@/core/piece';
import { cellOf } from '@/core/run/placed';
import { capital } from '@/core/words/counted';
import { forms, type ToldCell } from '@/worker/browser';
import { Flag, lazily } from '../../kit';
import { say } from '../../kit/say';
import { clearanceWords, isHeavy, leakWords } from '../clearance';
import { useFitRun } from '../run';
import { handMoves, useFit } from '../state';
import { Card } from './card';
import { DriftRow } from './driftrow';
import { SeatRow } from './seatrow';

const ClearanceSheet = lazily(() => import('./clearancesheet'), 'ClearanceSheet');
const FitSheet = lazily(() => import('./fitsheet'), 'FitSheet');
const FiveSheet = lazily(() => import('./fivesheet'), 'FiveSheet');
const REST_MS = 400;

/** The sheet stays while what is told below it changes. */
export function ClearanceCard({ part }: { part: Part }) {
  const [fitting, setFitting] = useState(false);
  return (
    <>
      <Told part={part} onFit={() => setFitting(true)} />
      {fitting && part.kind === 'model' && <FitSheet part={part} onClose={() => setFitting(false)} />}
    </>
  );
}

function Told({ part, onFit }: { part: Part; onFit: () => void }) {
  const { show } = useFitRun();
  const pose = useFit((s) => s.pose);
  const timeS = useFit((s) => s.timeS);
  const busy = useFit((s) => s.playing || handMoves(s));
  const [told, setTold] = useState<{ of: string; cell: ToldCell | null } | null>(null);
  const [open, setOpen] = useState(false);
  const [five, setFive] = useState(false);
  const { piece, assets } = show;
  const [asked, setAsked] = useState<string | null>(null);
  const waits = asked !== part.id && isHeavy(piece, assets, part);
  useEffect(() => {
    if (busy || waits) return;
    let gone = false;
    const measure = async () => {
      const cell = cellOf(piece, assets, part, shownWearer(piece), pose, timeS);
      const [answer] = cell ? await forms.clearance([cell]) : [null];
      if (!gone) setTold({ of: part.id, cell: answer });
    };
    const timer = setTimeout(() => void measure().catch((e: Error) => !gone && say.error(e.message)), REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [piece, assets, part, pose, timeS, busy, waits]);
  const fit = part.kind === 'model' && (
    <button
      type="button"
      className="btn btn-primary btn-sm w-full mt-2"
      aria-disabled={part.locked}
      title={part.locked ? 'Unlock the part first' : 'Size, turn and place by what it is'}
      onClick={() => !part.locked && onFit()}
    >
      Fit it …
    </button>
  );
  if (waits)
    return (
      <Card title="Clearance">
        <button type="button" className="btn btn-line btn-sm w-full" onClick={() => setAsked(part.id)}>
          Measure how it sits
        </button>
        {fit}
      </Card>
    );
  const cell = told?.of === part.id ? told.cell : null;
  if (!cell) return fit && <Card title="Clearance">{fit}</Card>;
  const { cutShare, meanGapMm } = cell.clearance;
  return (
    <Card title="Clearance" extra={<span className="num">{wearerWords(shownWearer(piece))}</span>}>
      <p className="text-small flex items-start gap-1.5" data-clearance={cell.clearance.deepestMm.toFixed(2)}>
        {cuts(cell) && <Flag kind="warning" size={13} />}
        <span>
          {capital(clearanceWords(cell))}
          {cutShare > 0 && (
            <>
              ; <span className="num">{(cutShare * 100).toFixed(1)} %</span> of it below the skin
            </>
          )}
          {meanGapMm !== null && (
            <>
              . Where it touches, <span className="num">{meanGapMm.toFixed(1)} mm</span> off
            </>
          )}
          .
        </span>
      </p>
      {cell.leaks && (
        <p className="text-small flex items-start gap-1.5 mt-1" data-leak={cell.leaks.leak.toFixed(4)}>
          {leaks(cell) && <Flag kind="warning" size={13} />}
          <span>{capital(leakWords(cell) ?? '') || 'All that is seen of it would be seen, and nothing else'}.</span>
        </p>
      )}
      {fit}
      <SeatRow part={part} />
      <DriftRow part={part} />
      <button type="button" className="btn btn-line btn-sm w-full mt-2" onClick={() => setOpen(true)}>
        On every form, in every pose
      </button>
      <button type="button" className="btn btn-line btn-sm w-full mt-1.5" onClick={() => setFive(true)}>
        At five values …
      </button>
      {five && <FiveSheet part={part} piece={piece} assets={assets} onClose={() => setFive(false)} />}
      {open && <ClearanceSheet part={part} piece={piece} assets={assets} onClose={() => setOpen(false)} />}
    </Card>
  );
}
