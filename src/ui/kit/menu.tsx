'use client';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { lazily } from './lazily';

export interface MenuEntry {
  id: string;
  label: ReactNode;
  /** What it is called where the label is no plain text: typing finds it by that. */
  text?: string;
  mark?: ReactNode;
  /** The key that does the same. */
  hint?: string;
  about?: string;
  /** Why it cannot be done now. */
  off?: string;
  /** In a choice: this one holds. */
  chosen?: boolean;
  act: () => void;
}
export interface MenuGroup {
  id: string;
  title?: string;
  entries: readonly MenuEntry[];
  /** One of these holds. */
  choice?: boolean;
  /** The menu stays open when one is pressed. */
  stays?: boolean;
  columns?: number;
}

const load = () => import('./menupop');
const MenuPop = lazily(load, 'MenuPop');

/** A button with a list under it. What the list is made of comes when one points at it. */
export function Menu({
  label,
  button,
  className = 'btn btn-bare btn-sm',
  align = 'left',
  groups,
  opened = 0,
}: {
  label: string;
  button: ReactNode;
  className?: string;
  align?: 'left' | 'right';
  groups: readonly MenuGroup[] | (() => readonly MenuGroup[]);
  /** Counts how often it was opened from elsewhere, by a key. */
  opened?: number;
}) {
  const [open, setOpen] = useState<'first' | 'last' | null>(null);
  const ref = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (opened > 0) setOpen('first');
  }, [opened]);
  const fetchIt = () => void load().catch(() => undefined);
  return (
    <>
      <button
        ref={ref}
        type="button"
        className={className}
        aria-label={label}
        aria-haspopup="menu"
        aria-expanded={open !== null}
        title={label}
        onPointerEnter={fetchIt}
        onFocus={fetchIt}
        onClick={() => setOpen(open ? null : 'first')}
        onKeyDown={(e) => {
          if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
          e.preventDefault();
          setOpen(e.key === 'ArrowDown' ? 'first' : 'last');
        }}
      >
        {button}
      </button>
      {open && (
        <MenuPop
          label={label}
          groups={(typeof groups === 'function' ? groups() : groups).filter((g) => g.entries.length > 0)}
          align={align}
          triggerRef={ref}
          first={open}
          onClose={() => setOpen(null)}
        />
      )}
    </>
  );
}
