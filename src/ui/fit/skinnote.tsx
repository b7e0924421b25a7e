'use client';
/** Says over the picture what a press on the skin is for. */
import { useEffect } from 'react';
import { Choice, onEscape } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { useFit } from './state';

const WAYS = [
  { value: 'there', label: 'lies there' },
  { value: 'stays', label: 'stays where it is' },
] as const;

/** Says over the picture what a press is for. */
export function SkinPressNote() {
  const picking = useFit((s) => s.picking);
  const set = useFit((s) => s.set);
  const doc = useDocument();
  const selected = usePiece((s) => s.selected);
  const part = picking ? doc.parts[picking.part] : undefined;
  useEffect(() => {
    if (picking && (!part || picking.part !== selected)) set({ picking: null });
    return picking ? onEscape(() => set({ picking: null })) : undefined;
  }, [picking, part, selected, set]);
  if (!picking || !part) return null;
  return (
    <div
      role="status"
      className="absolute left-2 top-2 flex flex-wrap items-center gap-2 max-w-[calc(100%-16px)] px-2 py-1 text-small bg-[color:var(--color-base-100)] border border-[color:var(--brass)]"
    >
      <span>
        Press the skin where <b>{part.name}</b> hangs; Esc lets it be.
      </span>
      <Choice
        label="What it does there"
        options={WAYS}
        value={picking.stays ? 'stays' : 'there'}
        onChange={(way) => set({ picking: { ...picking, stays: way === 'stays' } })}
      />
    </div>
  );
}
