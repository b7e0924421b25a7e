'use client';
/** Measures of who is shown; a slider that is held shows the form as it would be, and is kept when it is let go. */
import { startTransition, useEffect, useRef, useState } from 'react';
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
import { askOf, batch, bodyAskOf, change, FINER_RANGE, type FormRow, MEASURE_RANGE, settings, type Wearer } from '@/core/piece';
import { NumField } from '../kit';
import { say } from '../kit/say';
import { usePiece } from '../piece/context';
import { loadForm, loadWearer } from '../piece/wearers';
import { BodyMeasures } from './castbody';
import { AllAt, Contradicting, Row, Slider } from './castrow';
import { useFit } from './state';

export type Shape = Pick<FormRow, 'measures' | 'headCircumference' | 'finer' | 'size' | 'body'>;
/** Those that follow from the others unless they are asked for. */
const FOLLOWING = ['headCircumference', ...FINER] as const;
type Following = (typeof FOLLOWING)[number];
const labelOf = (m: Following) => (m === 'headCircumference' ? 'Head by tape' : FINER_LABELS[m]);
const rangeOf = (m: Following) => (m === 'headCircumference' ? MEASURE_RANGE[m] : FINER_RANGE[m]);
const angled = (m: Following): m is FinerName => m !== 'headCircumference' && isAngle(m);
const spreadOf = (m: Following): SpreadMeasure | null => (m === 'headCircumference' || hasSpread(m) ? m : null);
const rounded = (x: number, grain: number) => Math.round(x * grain) / grain;

/** @param whole their body is seen too */
export function CastMeasures({ who, shape, people, whole }: { who: Wearer; shape: Shape; people: People; whole: boolean }) {
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
    const somebody = { ...who, row: worn };
    Promise.all([loadForm(askOf(somebody)), whole ? loadWearer(bodyAskOf(somebody), true) : null]).then(
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
    if (!row || changed.length === 0) return;
    const edit = change('forms', row.id, Object.fromEntries(changed.map((k) => [k, next[k]])));
    commit(next.size === shape.size ? edit : batch([edit, settings({ form: next.size })]));
  };
  const slide = (label: string, range: readonly [number, number], value: number, onSlide: (x: number) => void) => (
    <Slider label={label} range={range} value={value} onSlide={onSlide} onKeep={() => keep()} />
  );
  const put = (m: Following, value: number | null): Partial<Shape> =>
    m === 'headCircumference' ? { headCircumference: value } : { finer: { ...now.finer, [m]: value } };
  const locked = row ? undefined : 'A size stays as it is';
  return (
    <div className="mt-1">
      {row && (
        <AllAt
          label="All measures at a share of people"
          share={share}
          onSlide={(n) => {
            setShare(n);
            hold({ measures: headAt(n / 100, people) });
          }}
          onKeep={() => keep()}
        />
      )}
      <Contradicting words={contradicting(now, form)} />
      {MEASURES.map((m) => (
        <Row
          key={m}
          label={MEASURE_LABELS[m]}
          share={percentileOf(m, now.measures[m], people)}
          slider={
            row && slide(MEASURE_LABELS[m], MEASURE_RANGE[m], now.measures[m], (mm) => hold({ measures: { ...now.measures, [m]: mm } }))
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
            slider={row && slide(label, range, value, (x) => hold(put(m, x)))}
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
      <BodyMeasures who={who} now={now} people={people} onHold={hold} onKeep={keep} />
    </div>
  );
}

interface Measured {
  tape: number;
  finer: Record<FinerName, number>;
}
/** What the form of who is shown measures where nothing was asked; the one before until it is made. */
function useFormOf(who: Wearer, { measures, headCircumference, finer }: Omit<Shape, 'size' | 'body'>): Measured | null {
  const [told, setTold] = useState<Measured | null>(null);
  useEffect(() => {
    let gone = false;
    const worn = who.row && { ...who.row, measures, headCircumference, finer };
    loadForm(askOf({ ...who, row: worn })).then(
      (form: Form) => !gone && startTransition(() => setTold({ tape: form.headCircumferenceMm, finer: finerOf(form) })),
      (e: Error) => say.error(e.message),
    );
    return () => {
      gone = true;
    };
  }, [who, measures, headCircumference, finer]);
  return told;
}

/** Measures that nobody has together. */
function contradicting(now: Shape, form: Measured | null): string[] {
  const finer = Object.fromEntries(Object.entries(now.finer).filter(([, mm]) => mm !== null));
  const tape = now.headCircumference === null ? null : tapeContradiction(now.headCircumference, form?.tape ?? now.headCircumference);
  return [...contradictions({ ...now.measures, ...finer }), ...(tape ? [tape] : [])];
}
