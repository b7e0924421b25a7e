'use client';
import { showBytesFinely } from '@/core/math';
import type { WeightPart } from '@/core/prepare/terms';

const HUES = { mesh: 'var(--axis-side)', texture: 'var(--axis-up)', clip: 'var(--axis-fore)', rest: 'var(--ink-2)' } as const;
const MOST = 6;

/** What weighs most, heaviest first. */
export function Weights({ parts }: { parts: readonly WeightPart[] }) {
  const shown = parts.slice(0, MOST);
  const others = parts.slice(MOST).reduce((s, p) => s + p.bytes, 0);
  const rows = others > 0 ? [...shown, { kind: 'rest' as const, name: `${parts.length - MOST} more`, bytes: others }] : shown;
  const most = Math.max(1, ...rows.map((p) => p.bytes));
  return (
    <ul aria-label="What weighs most">
      {rows.map((p) => (
        <li
          key={`${p.kind} ${p.name}`}
          className="grid items-center gap-2 py-[3px] text-small"
          style={{ gridTemplateColumns: '10px minmax(0,1fr) 90px 64px' }}
        >
          <span className="w-[10px] h-[10px]" style={{ background: HUES[p.kind] }} title={p.kind} />
          <span className="truncate" title={p.name}>
            {p.name}
          </span>
          <span className="h-[6px] bg-[color:var(--hair)]">
            <span className="block h-full" style={{ width: `${(p.bytes / most) * 100}%`, background: HUES[p.kind] }} />
          </span>
          <span className="num text-right">{showBytesFinely(p.bytes)}</span>
        </li>
      ))}
    </ul>
  );
}
