'use client';
import { useEffect, useState } from 'react';

/** A plain number with its unit after it: pixels, frames a second, seconds. Taken on Enter or when left; out of range is said. */
export function PixelField({
  label,
  value,
  unit,
  min,
  max,
  whole = true,
  width = 84,
  hideLabel = false,
  onDone,
}: {
  label: string;
  value: number;
  unit: string;
  min: number;
  max: number;
  whole?: boolean;
  width?: number;
  hideLabel?: boolean;
  onDone: (value: number) => void;
}) {
  const [draft, setDraft] = useState(String(value));
  const [wrong, setWrong] = useState(false);
  useEffect(() => {
    setDraft(String(value));
    setWrong(false);
  }, [value]);
  const take = () => {
    const x = Number(draft.replace(',', '.').replace(/\s/g, ''));
    const fits = Number.isFinite(x) && draft.trim() !== '' && x >= min && x <= max;
    setWrong(!fits);
    if (!fits) return;
    const next = whole ? Math.round(x) : x;
    if (next !== value) onDone(next);
    else setDraft(String(value));
  };
  return (
    <label className="inline-flex items-center gap-1.5 text-small">
      <span className={hideLabel ? 'sr-only' : 'soft'}>{label}</span>
      <span className="nf" style={{ width }} data-wrong={wrong ? '' : undefined}>
        <input
          inputMode="decimal"
          aria-label={label}
          aria-invalid={wrong}
          value={draft}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={take}
          onKeyDown={(e) => e.key === 'Enter' && take()}
        />
      </span>
      <span className="unit" style={{ color: wrong ? 'var(--vermilion)' : undefined }}>
        {wrong ? `${min} to ${max} ${unit}` : unit}
      </span>
    </label>
  );
}
