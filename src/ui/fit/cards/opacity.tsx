'use client';
import { changePart, type PartOf } from '@/core/piece';
import { NumField } from '../../kit';
import { usePiece } from '../../piece/context';

export function Opacity({ part }: { part: PartOf<'model'> | PartOf<'screen'> | PartOf<'face'> }) {
  const commit = usePiece((s) => s.commit);
  return (
    <div className="flex items-center gap-2 mt-2.5 text-small">
      <span className="soft">Opacity, %</span>
      <span className="w-[64px] ml-auto">
        <NumField
          label="Opacity"
          value={part.opacity}
          dimension="share"
          unit="%"
          decimals={0}
          step={0.01}
          min={0}
          max={1}
          disabledWhy={part.locked ? 'Unlock the part first' : undefined}
          onChange={(opacity) => commit(changePart(part.id, { opacity }))}
        />
      </span>
    </div>
  );
}
