'use client';
/** What is in front of this? At the marked pixel, front to back: cover, what is seen, why, and the press that changes it. */
import { useEffect, useState } from 'react';
import { ulid } from 'ulid';
import { type StackRow, stackPress, stackRows, stackWords, wholePercents } from '@/core/fit/stack';
import type { StageState } from '@/core/run';
import { useDocument, usePiece } from '../../piece/context';
import { drawSoon } from '../../piece/stagehooks';
import type { Wearer } from '../../piece/wearers';
import { handMoves, useFit } from '../state';
import { mirrorSize } from './pictures';

const SETTLE_MS = 150;

export function InFront({ state, wearer }: { state: StageState; wearer: Wearer | null }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const mark = useFit((s) => s.mark);
  const poor = useFit((s) => s.poor);
  const moving = useFit(handMoves);
  const playing = useFit((s) => s.playing);
  const [rows, setRows] = useState<StackRow[] | null>(null);
  const [asked, setAsked] = useState<string | null>(null);
  useEffect(() => {
    if (!mark || !wearer || moving || playing) return;
    let gone = false;
    const timer = setTimeout(() => {
      drawSoon((stage) => {
        if (gone) return;
        const canvas = document.querySelector<HTMLCanvasElement>('[data-view="mirror"]');
        const high = canvas?.clientHeight || 560;
        stage.setWearer(wearer);
        const samples = stage.stackAt(state, { ...mirrorSize(high), ratio: 1 }, mark, poor);
        const idsOf = (which: 'shown' | 'found') => new Set(state.parts.filter((p) => p[which]).map((p) => p.id));
        setRows(stackRows(doc, samples, { drawn: idsOf('shown'), found: idsOf('found') }));
      });
    }, SETTLE_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [state, wearer, mark, poor, doc, moving, playing]);
  const percents = rows ? wholePercents(rows.map((r) => r.seen)) : [];
  const keyOf = (r: StackRow) => `${r.layer} ${r.part ?? ''}`;
  // what is seen most is what was meant
  const most = rows?.reduce<StackRow | null>((best, r) => (!best || r.seen > best.seen ? r : best), null);
  const chosen = rows?.find((r) => keyOf(r) === asked) ?? most;
  const press = chosen && stackPress(doc, chosen, ulid);
  return (
    <section className="border-l border-[color:var(--hair)] px-2.5 pt-2 min-h-0 flex flex-col" aria-label="What is in front of this?">
      <h2 className="text-[14px] font-semibold leading-5">What is in front of this?</h2>
      {!mark && <p className="empty text-small mt-1.5">Press a place in the Mirror: all that lies there is listed here, front to back.</p>}
      {mark && rows && (
        <>
          <div className="overflow-y-auto min-h-0 flex-1 mt-0.5">
            <table className="w-full text-small" data-stack="">
              <thead>
                <tr className="text-micro soft">
                  <th scope="col" className="text-left font-normal">
                    Front to back
                  </th>
                  <th scope="col" className="text-right font-normal w-[50px]">
                    Cover, %
                  </th>
                  <th scope="col" className="text-right font-normal w-[50px]">
                    Seen, %
                  </th>
                </tr>
              </thead>
              <tbody>
                {rows.map((r, i) => (
                  <tr
                    key={keyOf(r)}
                    aria-current={r === chosen ? 'true' : undefined}
                    className={r === chosen ? 'bg-[color:var(--brass-wash)]' : ''}
                    title={stackWords(r)}
                  >
                    <td className="p-0">
                      <button
                        type="button"
                        className="flex items-center gap-1 w-full min-w-0 text-left h-[24px]"
                        onClick={() => {
                          setAsked(keyOf(r));
                          if (r.part) select(r.part);
                        }}
                      >
                        <span className="layer-place num">{r.place || '–'}</span>
                        <span className={`named truncate ${r.seen === 0 ? 'soft' : ''}`} style={{ maxWidth: 156 }}>
                          {r.name}
                        </span>
                      </button>
                    </td>
                    <td className="num text-right">{Math.round(r.cover * 100)}</td>
                    <td className="num text-right">{percents[i]}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {chosen && (
            <div className="flex items-center gap-1.5 py-1 min-h-[34px] border-t border-[color:var(--hair)]">
              <span className="text-micro leading-[13px] flex-1 min-w-0" role="status">
                {stackWords(chosen)}
              </span>
              {press && (
                <button type="button" className="btn btn-line btn-sm btn-tight shrink-0" onClick={() => commit(press.edit)}>
                  {press.label}
                </button>
              )}
            </div>
          )}
        </>
      )}
    </section>
  );
}
