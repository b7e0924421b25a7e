'use client';
/**
 * What a `title` says (why something is off, a name cut short, its key), also for the keyboard and for fingers: browsers show it to the
 * mouse alone. One a page.
 */
import { useEffect, useState } from 'react';

interface Tip {
  text: string;
  x: number;
  y: number;
  /** Above it, where there is no room below. */
  above: boolean;
}

const LONG_MS = 4_000;
const WIDTH_PX = 280;

function tipOf(target: EventTarget | null): Tip | null {
  // its own, or of the label or field right round it; what lies further out speaks of something else
  const at = target instanceof HTMLElement ? [target, target.parentElement].find((e) => e?.title) : null;
  const text = at?.title.trim();
  if (!at || !text || text === at.textContent?.trim()) return null;
  const box = at.getBoundingClientRect();
  const above = box.bottom > window.innerHeight - 70;
  return { text, x: Math.min(Math.max(4, box.left), window.innerWidth - WIDTH_PX), y: above ? box.top - 4 : box.bottom + 4, above };
}

export function Tips() {
  const [tip, setTip] = useState<Tip | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const hide = () => setTip(null);
    const focus = (e: FocusEvent) => setTip(e.target instanceof Element && e.target.matches(':focus-visible') ? tipOf(e.target) : null);
    const touch = (e: PointerEvent) => {
      if (e.pointerType === 'mouse') return hide();
      // under a finger: only why something cannot be pressed, the rest is pressed
      const off = e.target instanceof Element && e.target.closest('[aria-disabled="true"]');
      setTip(off ? tipOf(off) : null);
      clearTimeout(timer);
      timer = setTimeout(hide, LONG_MS);
    };
    const key = (e: KeyboardEvent) => e.key === 'Escape' && hide();
    document.addEventListener('focusin', focus);
    document.addEventListener('focusout', hide);
    document.addEventListener('pointerdown', touch);
    document.addEventListener('keydown', key);
    window.addEventListener('scroll', hide, true);
    return () => {
      clearTimeout(timer);
      document.removeEventListener('focusin', focus);
      document.removeEventListener('focusout', hide);
      document.removeEventListener('pointerdown', touch);
      document.removeEventListener('keydown', key);
      window.removeEventListener('scroll', hide, true);
    };
  }, []);
  if (!tip) return null;
  return (
    <div
      role="tooltip"
      className="sheet fixed z-50 px-2 py-1 text-small pointer-events-none"
      style={{
        left: tip.x,
        top: tip.y,
        maxWidth: WIDTH_PX,
        transform: tip.above ? 'translateY(-100%)' : undefined,
        boxShadow: 'var(--lift)',
      }}
    >
      {tip.text}
    </div>
  );
}
