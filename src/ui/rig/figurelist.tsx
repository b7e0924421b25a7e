'use client';
/** Joints of a figure: those to be looked at first, worst first; one's place is typed where dragging is not wanted. */
import { Check } from 'lucide-react';
import { type Spar, SURE } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { jointWords } from '@/core/words/humanoid';
import { Flag, NumField } from '../kit';
import type { Place } from './picture';

const AXES = ['X', 'Y', 'Z'] as const;

export function FigureList({
  spars,
  given,
  chosen,
  busy,
  onChoose,
  onMove,
  onKeep,
  onFree,
}: {
  spars: readonly Spar[];
  /** Joints that were put by hand. */
  given: ReadonlySet<string>;
  chosen: string | null;
  busy: boolean;
  onChoose: (bone: string) => void;
  onMove: (bone: string, to: Place) => void;
  /** It is right where it is. */
  onKeep: (bone: string) => void;
  /** Back to where it was found. */
  onFree: (bone: string) => void;
}) {
  const look = spars.filter((s) => s.sure < SURE).sort((a, b) => a.sure - b.sure);
  const rest = spars.filter((s) => s.sure >= SURE);
  const row = (s: Spar) => {
    const own = s.name === chosen;
    return (
      <li key={s.name} className={`border-t border-[color:var(--hair)] text-small ${own ? 'indexed' : ''}`} aria-current={own || undefined}>
        <div className="flex items-center gap-2 min-w-0">
          <button
            type="button"
            className="text-left flex-1 min-w-0 min-h-[24px] cursor-pointer"
            aria-pressed={own}
            aria-label={`Choose ${jointWords(s.name)}`}
            onClick={() => onChoose(s.name)}
          >
            <span className="flex items-center gap-1.5">
              {s.sure < SURE && <Flag kind="warning" size={13} />}
              {jointWords(s.name)}
              <span className="soft font-mono text-[11px] ml-auto pr-2 truncate">{s.name}</span>
            </span>
          </button>
          <span className="num text-small soft">{given.has(s.name) ? 'by hand' : `${Math.round(s.sure * 100)} % sure`}</span>
          {given.has(s.name) ? (
            <button type="button" className="btn btn-line btn-sm btn-tight" disabled={busy} onClick={() => onFree(s.name)}>
              As found
            </button>
          ) : (
            s.sure < SURE && (
              <button
                type="button"
                className="btn btn-line btn-sm btn-tight"
                disabled={busy}
                aria-label={`The ${jointWords(s.name)} is right`}
                onClick={() => onKeep(s.name)}
              >
                <Check className="ico" />
                Is right
              </button>
            )
          )}
        </div>
        {own && (
          <div className="grid grid-cols-3 gap-2 mt-1">
            {AXES.map((axis, k) => (
              <div key={axis} className="flex items-center gap-1.5 text-small">
                <span className="soft whitespace-nowrap" aria-hidden="true">
                  {axis}, mm
                </span>
                <NumField
                  label={`${axis} of the ${jointWords(s.name)}, mm`}
                  value={s.head[k]}
                  dimension="length"
                  unit="mm"
                  decimals={0}
                  step={0.001}
                  onChange={(x) => onMove(s.name, s.head.map((v, i) => (i === k ? x : v)) as Place)}
                />
              </div>
            ))}
          </div>
        )}
      </li>
    );
  };
  return (
    <>
      <h4 className="text-small mt-1" id="joints-to-look-at">
        <b>To be looked at</b>{' '}
        <span className="soft">{look.length > 0 ? `${counted(look.length, 'joint')}, worst first` : 'none: every joint is sure'}</span>
      </h4>
      <ul aria-labelledby="joints-to-look-at">{look.map(row)}</ul>
      <h4 className="text-small mt-2" id="joints-sure">
        <b>Sure</b> <span className="soft">{counted(rest.length, 'joint')}</span>
      </h4>
      <ul aria-labelledby="joints-sure">{rest.map(row)}</ul>
    </>
  );
}
