'use client';
/** Measures of who is shown; a slider that is held shows the form as it would be, and is kept when it is let go. */
import { RotateCcw } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import {
  contradictions,
  FINER,
  FINER_LABELS,
  type FinerName,
  type Form,
  finerOf,
  isAngle,
  MEASURE_LABELS,
  MEASURES,
  tapeContradiction,
} from '@/core/form';
import { hasSpread, headAt, type People, percentileOf, type SpreadMeasure } from '@/core/form/people';
import { askOf, change, FINER_RANGE, type FormRow, MEASURE_RANGE, type Wearer } from '@/core/piece';
import { ordinal } from '@/core/words/counted';
import { Flag, NumField } from '../kit';
import { say } from '../kit/say';
import { usePiece } from '../piece/context';
import { loadForm } from '../piece/stagehooks';
import { useFit } from './state';

type Shape = Pick<FormRow, 'measures' | 'headCircumference' | 'finer'>;
/** Those that follow from the others unless they are asked for. */
const FOLLOWING = ['headCircumference', ...FINER] as const;
type Following = (typeof FOLLOWING)[number];
const labelOf = (m: Following) => (m === 'headCircumference' ? 'Head by tape' : FINER_LABELS[m]);
const rangeOf = (m: Following) => (m === 'headCircumference' ? MEASURE_RANGE[m] : FINER_RANGE[m]);
const angled = (m: Following): m is FinerName => m !== 'headCircumference' && isAngle(m);
const spreadOf = (m: Following): SpreadMeasure | null => (m === 'headCircumference' || hasSpread(m) ? m : null);
const rounded = (x: number, grain: number) => Math.round(x * grain) / grain;

export function CastMeasures({ who, shape, people }: { who: Wearer; shape: Shape; people: People }) {
  const { row } = who;
  const commit = usePiece((s) => s.commit);
  const { set } = useFit.getState();
  const [share, setShare] = useState(50);
  const [held, setHeld] = useState<Shape | null>(null);
  const latest = useRef<Shape | null>(null);
  const now = held ?? shape;
  const form = useFormOf(who, now);
  useEffect(() => () => useFit.getState().set({ measuring: null }), []);
  /** Shown once the form is made: pictures of it on who was shown before would hold it up. */
  const hold = (part: Partial<Shape>) => {
    if (!row) return;
    const next = { ...now, ...part };
    setHeld(next);
    latest.current = next;
    const worn = { ...row, ...next };
    loadForm(askOf({ ...who, row: worn })).then(
      () => latest.current === next && set({ measuring: worn }),
      (e: Error) => say.error(e.message),
    );
  };
  const keep = (part: Partial<Shape> = {}) => {
    latest.current = null;
    setHeld(null);
    set({ measuring: null });
    const next = { ...now, ...part };
    const changed = (Object.keys(next) as (keyof Shape)[]).filter((k) => next[k] !== shape[k]);
    if (row && changed.length > 0) commit(change('forms', row.id, Object.fromEntries(changed.map((k) => [k, next[k]]))));
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
  const put = (m: Following, value: number | null): Partial<Shape> =>
    m === 'headCircumference' ? { headCircumference: value } : { finer: { ...now.finer, [m]: value } };
  const locked = row ? undefined : 'A size stays as it is';
  return (
    <div className="mt-1">
      {row && (
        <div className="grid items-center gap-x-2" style={{ gridTemplateColumns: 'auto 1fr 30px' }}>
          <span className="soft">All at</span>
          {slide('All measures at a share of people', [1, 99], 1, share, (n) => {
            setShare(n);
            hold({ measures: headAt(n / 100, people) });
          })}
          <span className="num text-right text-micro">{ordinal(share / 100)}</span>
        </div>
      )}
      <Contradictions now={now} form={form} />
      {MEASURES.map((m) => (
        <Row
          key={m}
          label={MEASURE_LABELS[m]}
          share={percentileOf(m, now.measures[m], people)}
          slider={
            row &&
            slide(MEASURE_LABELS[m], MEASURE_RANGE[m], 0.1, now.measures[m], (mm) => hold({ measures: { ...now.measures, [m]: mm } }))
          }
        >
          <NumField
            label={`${MEASURE_LABELS[m]}, mm`}
            dimension="length"
            unit="mm"
            decimals={1}
            step={0.0005}
            min={MEASURE_RANGE[m][0] / 1000}
            max={MEASURE_RANGE[m][1] / 1000}
            value={now.measures[m] / 1000}
            disabledWhy={locked}
            onChange={(metres) => keep({ measures: { ...now.measures, [m]: rounded(metres, 1e5) * 1000 } })}
          />
        </Row>
      ))}
      <h3 className="pt-2.5">
        <span className="font-semibold">Finer</span>
        {row && (
          <span className="soft">
            ; <i>italic</i> ones follow from the others
          </span>
        )}
      </h3>
      {FOLLOWING.map((m) => {
        const own = m === 'headCircumference' ? now.headCircumference : now.finer[m];
        const value = own ?? (form && (m === 'headCircumference' ? form.tape : form.finer[m]));
        if (value === null) return null;
        const [spread, range, label] = [spreadOf(m), rangeOf(m), labelOf(m)];
        const scale = angled(m) ? Math.PI / 180 : 0.001;
        return (
          <Row
            key={m}
            label={label}
            share={spread && percentileOf(spread, value, people)}
            follows={row !== null && own === null}
            onFollow={row && own !== null ? () => keep(put(m, null)) : null}
            slider={row && slide(label, range, 0.1, value, (x) => hold(put(m, x)))}
          >
            <NumField
              label={`${label}, ${angled(m) ? '°' : 'mm'}`}
              dimension={angled(m) ? 'angle' : 'length'}
              unit={angled(m) ? '°' : 'mm'}
              decimals={1}
              step={scale / 2}
              min={range[0] * scale}
              max={range[1] * scale}
              value={value * scale}
              disabledWhy={locked}
              onChange={(x) => keep(put(m, rounded(x / scale, 100)))}
            />
          </Row>
        );
      })}
    </div>
  );
}

interface Measured {
  tape: number;
  finer: Record<FinerName, number>;
}
/** What the form of who is shown measures where nothing was asked; the one before until it is made. */
function useFormOf(who: Wearer, { measures, headCircumference, finer }: Shape): Measured | null {
  const [told, setTold] = useState<Measured | null>(null);
  useEffect(() => {
    let gone = false;
    const worn = who.row && { ...who.row, measures, headCircumference, finer };
    loadForm(askOf({ ...who, row: worn })).then(
      (form: Form) => !gone && setTold({ tape: form.headCircumferenceMm, finer: finerOf(form) }),
      (e: Error) => say.error(e.message),
    );
    return () => {
      gone = true;
    };
  }, [who, measures, headCircumference, finer]);
  return told;
}

function Row({
  label,
  share,
  follows = false,
  onFollow = null,
  slider,
  children,
}: {
  label: string;
  share: number | null;
  follows?: boolean;
  onFollow?: (() => void) | null;
  slider: ReactNode;
  children: ReactNode;
}) {
  return (
    <div className="grid items-center gap-x-3 pt-1" style={{ gridTemplateColumns: 'minmax(0, 1fr) 66px' }}>
      <span className="min-w-0">
        <span className="flex items-center leading-[16px]">
          <span className={`truncate ${follows ? 'soft italic' : ''}`} title={follows ? `${label}: as it follows from the others` : label}>
            {label}
            {follows && <span className="sr-only">, as it follows</span>}
          </span>
          {onFollow && (
            <button
              type="button"
              className="btn btn-bare btn-icon h-[24px]! min-h-0!"
              aria-label={`${label} as it follows from the others`}
              title="As it follows from the others"
              onClick={onFollow}
            >
              <RotateCcw className="ico" />
            </button>
          )}
          {share !== null && (
            <span className="num text-micro soft ml-auto" title="So many of a hundred people have less">
              {ordinal(share)}
            </span>
          )}
        </span>
        {slider}
      </span>
      {children}
    </div>
  );
}

/** Measures that nobody has together. */
function Contradictions({ now, form }: { now: Shape; form: Measured | null }) {
  const finer = Object.fromEntries(Object.entries(now.finer).filter(([, mm]) => mm !== null));
  const tape = now.headCircumference === null ? null : tapeContradiction(now.headCircumference, form?.tape ?? now.headCircumference);
  const words = [...contradictions({ ...now.measures, ...finer }), ...(tape ? [tape] : [])];
  return words.map((w) => (
    <p key={w} className="flex items-start gap-1.5 pt-1">
      <Flag kind="warning" size={13} />
      <span>{w}</span>
    </p>
  ));
}
