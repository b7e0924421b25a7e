'use client';
import { type ReactNode, useEffect, useRef, useState } from 'react';

/** A button with a list under it; Esc or a press elsewhere closes. */
export function Menu({
  label,
  button,
  className = 'btn btn-bare btn-sm',
  align = 'left',
  wide = false,
  children,
}: {
  label: string;
  button: ReactNode;
  className?: string;
  align?: 'left' | 'right';
  /** For lists with words between their entries. */
  wide?: boolean;
  children: (close: () => void) => ReactNode;
}) {
  const [open, setOpen] = useState(false);
  const ref = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!open) return;
    const away = (e: PointerEvent) => !ref.current?.contains(e.target as Node) && setOpen(false);
    const key = (e: KeyboardEvent) => e.key === 'Escape' && setOpen(false);
    document.addEventListener('pointerdown', away);
    document.addEventListener('keydown', key);
    return () => {
      document.removeEventListener('pointerdown', away);
      document.removeEventListener('keydown', key);
    };
  }, [open]);
  return (
    <div className="relative" ref={ref}>
      <button
        type="button"
        className={className}
        aria-label={label}
        aria-haspopup="menu"
        aria-expanded={open}
        title={label}
        onClick={() => setOpen(!open)}
      >
        {button}
      </button>
      {open && (
        <div
          className={`menu-pop absolute z-30 mt-1 ${wide ? 'min-w-[250px]' : 'min-w-[150px]'}`}
          role="menu"
          style={align === 'right' ? { right: 0 } : { left: 0 }}
        >
          {children(() => setOpen(false))}
        </div>
      )}
    </div>
  );
}
