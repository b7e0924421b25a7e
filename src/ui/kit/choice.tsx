'use client';
import { type ReactNode, useId } from 'react';

export interface Option<T> {
  value: T;
  label: ReactNode;
  title?: string;
}

/** One of a few, side by side. Arrows walk through it, Tab passes by: the browser's own radios under our looks. */
export function Choice<T extends string | number>({
  label,
  options,
  value,
  onChange,
  className = '',
}: {
  label: string;
  options: readonly Option<T>[];
  /** Any other: none is chosen. */
  value: T | null;
  onChange: (value: T) => void;
  className?: string;
}) {
  const name = useId();
  return (
    <div className={`detent ${className}`} role="radiogroup" aria-label={label}>
      {options.map((o) => (
        <label key={o.value} title={o.title}>
          <input type="radio" name={name} checked={o.value === value} onChange={() => onChange(o.value)} />
          {o.label}
        </label>
      ))}
    </div>
  );
}
