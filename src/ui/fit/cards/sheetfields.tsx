'use client';
/** Fields of a sheet: a group, a line, a tick, a share by slider and number. */
import type { ReactNode } from 'react';
import { NumField } from '../../kit';

export function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="pt-2" aria-label={title}>
      <h3 className="font-semibold">{title}</h3>
      {children}
    </section>
  );
}

export function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex items-center gap-2 min-h-[30px]">
      <span className="soft">{label}</span>
      <span className="ml-auto max-w-[130px]">{children}</span>
    </div>
  );
}

export function Tick({ label, on, onPut }: { label: string; on: boolean; onPut: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-1.5 min-h-[26px]">
      <input type="checkbox" className="check" checked={on} onChange={(e) => onPut(e.target.checked)} />
      {label}
    </label>
  );
}

export function Share({
  label,
  value,
  most,
  onHold,
  onKeep,
}: {
  label: string;
  value: number;
  most: number;
  onHold: (x: number) => void;
  onKeep: (x?: number) => void;
}) {
  return (
    <div className="grid items-center gap-x-2 min-h-[30px]" style={{ gridTemplateColumns: 'minmax(0, 1fr) 84px 62px' }}>
      <span className="soft truncate" title={label}>
        {label}
      </span>
      <input
        type="range"
        className="w-full h-[24px]"
        style={{ accentColor: 'var(--brass)' }}
        aria-label={label}
        min={0}
        max={most}
        step={0.01}
        value={value}
        onChange={(e) => onHold(Number(e.target.value))}
        onPointerUp={() => onKeep()}
        onKeyUp={() => onKeep()}
        onBlur={() => onKeep()}
      />
      <NumField
        label={`${label}, %`}
        dimension="share"
        unit="%"
        decimals={0}
        step={0.01}
        min={0}
        max={most}
        value={value}
        onChange={(x) => onKeep(x)}
      />
    </div>
  );
}
