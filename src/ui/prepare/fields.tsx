'use client';
/** Small fields of a step's settings. */
import type { ReactNode } from 'react';

export const grid = (children: ReactNode, columns = 2) => (
  <div className="grid gap-x-5 gap-y-1.5 items-center" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0,1fr))` }}>
    {children}
  </div>
);

export function Num({
  label,
  unit,
  value,
  min,
  max,
  whole = false,
  words = false,
  width = 116,
  onChange,
}: {
  label: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  whole?: boolean;
  /** The label is shown before the field. */
  words?: boolean;
  /** Of the field beside its label, px. */
  width?: number;
  onChange: (x: number) => void;
}) {
  return (
    <span className={words ? 'grid items-center gap-2' : undefined} style={words ? { gridTemplateColumns: `1fr ${width}px` } : undefined}>
      {words && <span>{label}</span>}
      <span className="nf">
        <input
          type="number"
          aria-label={label}
          key={value}
          defaultValue={value}
          min={min}
          max={max}
          step={whole ? 1 : 'any'}
          onBlur={(e) => {
            const x = whole ? Math.round(e.target.valueAsNumber) : e.target.valueAsNumber;
            if (Number.isFinite(x) && x >= min && x <= max && x !== value) onChange(x);
            else e.target.value = String(value);
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        {unit && <span className="unit">{unit}</span>}
      </span>
    </span>
  );
}

export function Check({ label, checked, onChange }: { label: string; checked: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-2 cursor-pointer">
      <input type="checkbox" className="check" checked={checked} onChange={(e) => onChange(e.target.checked)} />
      <span>{label}</span>
    </label>
  );
}

export function Pick<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (x: T) => void;
}) {
  return (
    <select
      className="field h-[24px]! px-1! text-small w-full"
      aria-label={label}
      value={value}
      onChange={(e) => onChange(e.target.value as T)}
    >
      {options.map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </select>
  );
}
