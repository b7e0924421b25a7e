'use client';
import type { ReactNode } from 'react';

export function Card({ title, extra, children }: { title: string; extra?: ReactNode; children: ReactNode }) {
  return (
    <section className="sheet mb-2" aria-label={title}>
      <header className="flex items-center justify-between h-[28px] pl-2.5 pr-1.5 rule-b">
        <h3 className="text-[13px] font-semibold">{title}</h3>
        <div className="flex items-center gap-1 text-micro soft">{extra}</div>
      </header>
      <div className="px-2.5 py-2">{children}</div>
    </section>
  );
}

/** A word and its field, side by side. */
export function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the field comes as a child
    <label className="flex items-center gap-2 text-small min-h-[28px]">
      <span className="soft">{label}</span>
      <span className="ml-auto min-w-0">{children}</span>
    </label>
  );
}

/** A word and a choice among few. */
export function PickLine<T extends string>({
  label,
  name = label,
  value,
  options,
  locked,
  width = 148,
  onPick,
}: {
  label: string;
  /** Said to who cannot see the line; left out, the label. */
  name?: string;
  value: T;
  options: readonly { value: T; label: string }[];
  locked: boolean;
  width?: number;
  onPick: (value: T) => void;
}) {
  return (
    <Line label={label}>
      <select
        className="field h-[26px]! px-1! text-small"
        style={{ width }}
        aria-label={name}
        value={value}
        disabled={locked}
        title={locked ? 'Unlock the part first' : undefined}
        onChange={(e) => onPick(e.target.value as T)}
      >
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </Line>
  );
}

/** A colour, or none. */
export function ColourLine({
  label,
  name,
  ask,
  value,
  start,
  locked,
  onPick,
}: {
  label: string;
  /** Of the colour, and of whether there is one. */
  name: string;
  ask: string;
  value: string | null;
  /** What it begins as. */
  start: string;
  locked: boolean;
  onPick: (colour: string | null) => void;
}) {
  return (
    <Line label={label}>
      <span className="flex items-center gap-2">
        <input
          type="checkbox"
          className="check"
          aria-label={ask}
          checked={value !== null}
          disabled={locked}
          onChange={(e) => onPick(e.target.checked ? start : null)}
        />
        {value !== null && (
          <input type="color" aria-label={name} value={value} disabled={locked} onChange={(e) => onPick(e.target.value)} />
        )}
      </span>
    </Line>
  );
}
