'use client';
/** Measures of who is shown; a slider that is held shows the form as it would be, and is kept when it is let go. */
import { useEffect, useRef, useState } from 'react';
import { MEASURE_LABELS, MEASURES } from '@/core/form';
import { headAt, type People, percentileOf } from '@/core/form/people';
import { change, type FormRow, MEASURE_RANGE } from '@/core/piece';
import { ordinal } from '@/core/words/counted';
import { NumField } from '../kit';
import { say } from '../kit/say';
import { usePiece } from '../piece/context';
import { loadForm } from '../piece/stagehooks';
import { useFit } from './state';

export function CastMeasures({ row, measures, people }: { row: FormRow | null; measures: FormRow['measures']; people: People }) {
  const commit = usePiece((s) => s.commit);
  const { set } = useFit.getState();
  const [share, setShare] = useState(50);
  const [held, setHeld] = useState<FormRow['measures'] | null>(null);
  const latest = useRef<FormRow['measures'] | null>(null);
  const now = held ?? measures;
  useEffect(() => () => useFit.getState().set({ measuring: null }), []);
  /** Shown once the form is made: pictures of it on who was shown before would hold it up. */
  const hold = (next: FormRow['measures']) => {
    if (!row) return;
    setHeld(next);
    latest.current = next;
    loadForm(next).then(
      () => latest.current === next && set({ measuring: { id: row.id, measures: next } }),
      (e: Error) => say.error(e.message),
    );
  };
  const keep = (next: FormRow['measures'] | null = held) => {
    latest.current = null;
    setHeld(null);
    set({ measuring: null });
    if (row && next) commit(change('forms', row.id, { measures: next }));
  };
  const slide = (label: string, [min, max]: readonly [number, number], step: number, value: number, onSlide: (x: number) => void) => (
    <input
      type="range"
      className="w-full h-[24px]"
      style={{ accentColor: 'var(--brass)' }}
      aria-label={label}
      min={min}
      max={max}
      step={step}
      value={value}
      onChange={(e) => onSlide(Number(e.target.value))}
      onPointerUp={() => keep()}
      onKeyUp={() => keep()}
      onBlur={() => keep()}
    />
  );
  return (
    <div className="mt-1">
      {row && (
        <div className="grid items-center gap-x-2" style={{ gridTemplateColumns: 'auto 1fr 30px' }}>
          <span className="soft">All at</span>
          {slide('All measures at a share of people', [1, 99], 1, share, (n) => {
            setShare(n);
            hold(headAt(n / 100, people));
          })}
          <span className="num text-right text-micro">{ordinal(share / 100)}</span>
        </div>
      )}
      {MEASURES.map((m) => (
        <div key={m} className="grid items-center gap-x-3 pt-1" style={{ gridTemplateColumns: 'minmax(0, 1fr) 66px' }}>
          <span className="min-w-0">
            <span className="flex items-baseline leading-[16px]">
              <span className="truncate">{MEASURE_LABELS[m]}</span>
              <span className="num text-micro soft ml-auto" title="So many of a hundred people have less">
                {ordinal(percentileOf(m, now[m], people))}
              </span>
            </span>
            {row && slide(MEASURE_LABELS[m], MEASURE_RANGE[m], 0.1, now[m], (mm) => hold({ ...now, [m]: mm }))}
          </span>
          <NumField
            label={`${MEASURE_LABELS[m]}, mm`}
            dimension="length"
            unit="mm"
            decimals={1}
            step={0.0005}
            min={MEASURE_RANGE[m][0] / 1000}
            max={MEASURE_RANGE[m][1] / 1000}
            value={now[m] / 1000}
            disabledWhy={row ? undefined : 'A size stays as it is'}
            onChange={(metres) => keep({ ...now, [m]: Math.round(metres * 1e5) / 100 })}
          />
        </div>
      ))}
    </div>
  );
}
