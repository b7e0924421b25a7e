'use client';
/** How far the selected part moves from the skin under it during the take, and how far it would if it hung on that place. */
import { useEffect, useState } from 'react';
import { Vector3 } from 'three';
import { rehang } from '@/core/fit';
import type { FacePlace, Take } from '@/core/form';
import { applyEdit, type Hang, hangOn, isOnFace, type Part, shownWearer } from '@/core/piece';
import { type Drift, driftOver, restFramesOf, type Show } from '@/core/run';
import { cellOf } from '@/core/run/placed';
import { forms } from '@/worker/browser';
import { Flag } from '../../kit';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import { useFitRunRef } from '../run';
import { useFit } from '../state';
import { knowingForm } from '../view';

interface Told {
  of: Part;
  take: Take;
  now: Drift;
  /** The same part on the skin; null: it hangs there already, or from another part. */
  onSkin: { drift: Drift; hang: Hang } | null;
}
/** Further off than this a thing is not on the skin. */
const UPON_M = 0.03;
/** Less is not seen. */
const SEEN_MM = 0.5;
const AT_REST = { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } };
const tidy = (share: number) => Math.round(share * 1e6) / 1e6;

async function measure(from: Show, part: Part, take: Take): Promise<Told | string> {
  const show = await knowingForm(from);
  const { piece, assets } = show;
  const cell = cellOf(piece, assets, part, shownWearer(piece), AT_REST);
  const under = cell && (await forms.skinUnder(cell));
  if (!under || under.apartM > UPON_M) return 'It lies nowhere near the skin of the head.';
  const frames = restFramesOf(show);
  const inPart = new Vector3(...under.atM).applyMatrix4(frames.world(part.id).invert());
  const now = driftOver(piece, assets, part.id, take, under.skin, inPart);
  if (!now) return 'It is not there in this take.';
  if (part.hang?.on !== 'anchor' || isOnFace(part.hang)) return { of: part, take, now, onSkin: null };
  const hang = hangOn(asAnchor(under.skin));
  const moved = applyEdit(piece, rehang(piece, frames, [part.id], hang, true));
  const drift = driftOver(moved, assets, part.id, take, under.skin, inPart);
  return { of: part, take, now, onSkin: drift && { drift, hang } };
}

function asAnchor({ triangle = 0, bary = [1, 0, 0] }: FacePlace) {
  const [a, b] = [tidy(bary[0]), tidy(bary[1])];
  return { kind: 'face' as const, triangle, bary: [a, b, tidy(1 - a - b)] as [number, number, number] };
}

export function DriftRow({ part }: { part: Part }) {
  const run = useFitRunRef();
  const take = useFit((s) => s.take);
  const commit = usePiece((s) => s.commit);
  const [told, setTold] = useState<Told | null>(null);
  const [busy, setBusy] = useState(false);
  useEffect(() => setTold((t) => (t && t.of === part && t.take === take ? t : null)), [part, take]);
  const ask = async () => {
    setBusy(true);
    const answer = await measure(run.current.show, part, take).catch((e: Error) => e.message);
    setBusy(false);
    if (typeof answer === 'string') say.message(answer);
    else setTold(answer);
  };
  const hangThere = async (hang: Hang) => {
    const show = await knowingForm(run.current.show);
    commit(rehang(show.piece, restFramesOf(show), [part.id], hang, true));
  };
  if (!told)
    return (
      <button
        type="button"
        className="btn btn-line btn-sm w-full mt-2"
        aria-busy={busy}
        title="How far it moves from the skin under it during the take"
        onClick={() => !busy && void ask()}
      >
        {busy ? 'The take is gone through …' : `Drift in “${take.label}”`}
      </button>
    );
  const { now, onSkin } = told;
  return (
    <div className="mt-2 text-small" data-drift={now.mostMm.toFixed(2)}>
      <p className="flex items-start gap-1.5">
        {now.mostMm > SEEN_MM && <Flag kind="warning" size={13} />}
        <span>
          In “{take.label}” it moves up to <span className="num">{now.mostMm.toFixed(1)} mm</span> from the skin under it
          {now.mostMm > SEEN_MM && (
            <>
              , at <span className="num">{now.atS.toFixed(1)} s</span>
            </>
          )}
          {onSkin && (
            <>
              ; hung on the skin, <span className="num">{onSkin.drift.mostMm.toFixed(1)} mm</span>
            </>
          )}
          .
        </span>
      </p>
      <DriftCurve drift={now} />
      {onSkin && onSkin.drift.mostMm < now.mostMm && (
        <button
          type="button"
          className="btn btn-line btn-sm w-full mt-1.5"
          aria-disabled={part.locked}
          title={part.locked ? 'Unlock the part first' : 'It stays where it is seen, and goes along with the face'}
          onClick={() => !part.locked && void hangThere(onSkin.hang)}
        >
          Hang it on the skin there
        </button>
      )}
    </div>
  );
}

const W = 240;
const H = 34;
/** Over the take, from nought at the foot to the most. */
function DriftCurve({ drift: { mm, mostMm } }: { drift: Drift }) {
  const top = Math.max(1, mostMm);
  const points = Array.from(mm, (v, i) => `${((i / (mm.length - 1)) * W).toFixed(1)},${(H - 2 - (v / top) * (H - 4)).toFixed(1)}`);
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="w-full mt-1" role="img" aria-label={`Drift over the take, at most ${mostMm.toFixed(1)} mm`}>
      <line x1={0} x2={W} y1={H - 2} y2={H - 2} stroke="var(--hair-strong)" />
      <polyline points={points.join(' ')} fill="none" stroke="var(--brass)" strokeWidth={1.5} />
    </svg>
  );
}
