'use client';
import type { ModelItem } from '@/core/piece';

/** Which model of the piece a step is about. */
export function ModelPick({ value, models, onPick }: { value: string; models: readonly ModelItem[]; onPick: (id: string) => void }) {
  return (
    <select
      className="field h-[30px]! w-auto! max-w-[260px] text-small"
      aria-label="Model"
      value={value}
      onChange={(e) => onPick(e.target.value)}
    >
      {models.map((m) => (
        <option key={m.id} value={m.id}>
          {m.name}
        </option>
      ))}
    </select>
  );
}
