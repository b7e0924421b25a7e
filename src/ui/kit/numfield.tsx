'use client';
import { useRef, useState } from 'react';
import { type Dimension, parseQuantity, showQuantity } from '@/core/math';

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
              onChange(Math.min(max, Math.max(min, value + by)));
            }
          }}
        />
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
