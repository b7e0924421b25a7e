'use client';
import { useRef, useState } from 'react';
import { type Dimension, parseQuantity, showQuantity } from '@/core/math/quantity';

export interface NumFieldProps {
  label: string;
  value: number;
  dimension: Dimension;
  unit: string;
  decimals: number;
  /** One press of an arrow key, in SI. */
  step: number;
  min?: number;
  max?: number;
  disabledWhy?: string;
  /** Shown after the number, where no heading names the unit. */
  after?: string;
  onChange: (value: number) => void;
  onFocus?: () => void;
}

/** A measured field: sums and other units, + adds, arrows step; what cannot be read is kept as typed and explained. */
export function NumField({
  label,
  value,
  dimension,
  unit,
  decimals,
  step,
  min = -Infinity,
  max = Infinity,
  disabledWhy,
  after,
  onChange,
  onFocus,
}: NumFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const left = useRef(false);
  const shown = showQuantity(value, dimension, unit, decimals);
  const read = (text: string) => {
    const r = parseQuantity(text, dimension, unit, value);
    if (r.ok && (r.value < min || r.value > max))
      return {
        ok: false as const,
        message: `From ${showQuantity(min, dimension, unit, decimals)} to ${showQuantity(max, dimension, unit, decimals)} ${unit}.`,
      };
    return r;
  };
  const take = () => {
    if (draft === null || draft === shown) return clear();
    const r = read(draft);
    if (!r.ok) return setWrong(r.message);
    clear();
    if (r.value !== value) onChange(r.value);
  };
  const clear = () => {
    setDraft(null);
    setWrong(null);
  };
  const tip = draft !== null && draft !== shown ? read(draft) : null;
  return (
    <span className="relative block">
      <span className="nf" data-wrong={wrong ? '' : undefined} aria-disabled={disabledWhy ? true : undefined} title={disabledWhy}>
        <input
          aria-label={label}
          aria-invalid={wrong !== null}
          readOnly={disabledWhy !== undefined}
          inputMode="text"
          value={draft ?? shown}
          onFocus={(e) => {
            left.current = false;
            e.target.select();
            onFocus?.();
          }}
          onChange={(e) => {
            setDraft(e.target.value);
            setWrong(null);
          }}
          onBlur={() => {
            if (!left.current) take();
          }}
          onKeyDown={(e) => {
            if (disabledWhy) return;
            if (e.key === 'Enter') take();
            else if (e.key === 'Escape') {
              left.current = true;
              clear();
              e.currentTarget.blur();
            } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
              e.preventDefault();
              const by = step * (e.shiftKey ? 0.1 : e.altKey ? 10 : 1) * (e.key === 'ArrowUp' ? 1 : -1);
              clear();
              onChange(Math.min(max, Math.max(min, value + (dimension === 'count' ? Math.sign(by) * step : by))));
            }
          }}
        />
        {after && <span className="unit">{after}</span>}
      </span>
      {wrong && (
        <span
          className="absolute right-0 top-full mt-0.5 z-20 text-micro px-1.5 py-0.5 sheet"
          style={{ color: 'var(--vermilion)', width: 190 }}
          role="alert"
        >
          {wrong}
        </span>
      )}
      {!wrong && tip?.ok && (
        <span className="tip right-0 top-full mt-0.5">
          {showQuantity(tip.value, dimension, unit, decimals)} {unit}
        </span>
      )}
    </span>
  );
}

/** As many decimals as a plain number has, at most four figures. */
const decimalsOf = (value: number) => (String(Number(value.toPrecision(4))).split('.')[1] ?? '').length;

/** A plain number with its unit after it: pixels, bits, percent, frames a second. Sums and a comma are read as in every field. */
export function CountField({
  label,
  unit,
  value,
  min,
  max,
  whole = false,
  before,
  width,
  onChange,
}: {
  label: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  whole?: boolean;
  /** The label stands before the field: across the row, or close to it. */
  before?: 'row' | 'close';
  /** Of the field, px. */
  width?: number;
  onChange: (x: number) => void;
}) {
  const field = (
    <NumField
      label={label}
      value={value}
      dimension="count"
      unit=""
      decimals={whole ? 0 : decimalsOf(value)}
      step={1}
      min={min}
      max={max}
      after={unit}
      onChange={(x) => onChange(whole ? Math.round(x) : x)}
    />
  );
  if (!before) return field;
  return (
    <span
      className={before === 'row' ? 'grid items-center gap-2' : 'inline-grid items-center gap-1.5 text-small'}
      style={{ gridTemplateColumns: before === 'row' ? `1fr ${width ?? 116}px` : `auto ${width ?? 110}px` }}
    >
      <span className={before === 'close' ? 'soft' : undefined}>{label}</span>
      {field}
    </span>
  );
}
