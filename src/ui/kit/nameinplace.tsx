'use client';
import { useEffect, useRef } from 'react';

/** A name being written where it stands: Enter or a press elsewhere takes it, Esc leaves what was. */
export function NameInPlace({
  label,
  initial,
  className = '',
  onDone,
  onLeave,
}: {
  label: string;
  initial: string;
  className?: string;
  /** Not called for an empty name, nor for the same. */
  onDone: (name: string) => void;
  /** Either way; the keyboard goes back to what it was called from. */
  onLeave: () => void;
}) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const take = (text: string) => {
    const name = text.trim().slice(0, 120);
    if (name && name !== initial) onDone(name);
    onLeave();
  };
  return (
    <input
      className={`field ${className}`}
      aria-label={label}
      defaultValue={initial}
      maxLength={120}
      ref={field}
      dir="auto"
      onFocus={(e) => e.target.select()}
      onBlur={(e) => take(e.target.value)}
      onPointerDown={(e) => e.stopPropagation()}
      onClick={(e) => e.stopPropagation()}
      onDoubleClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') e.currentTarget.blur();
        else if (e.key === 'Escape') {
          e.currentTarget.value = '';
          e.currentTarget.blur();
        }
      }}
    />
  );
}
