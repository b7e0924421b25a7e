'use client';
/** Menus of a right press (or the menu key), at the place where it was pressed. */
import { useRef } from 'react';
import { create } from 'zustand';
import { lazily } from './lazily';
import type { MenuGroup } from './menu';

const MenuPop = lazily(() => import('./menupop'), 'MenuPop');

interface Pressed {
  at: { x: number; y: number } | null;
  label: string;
  groups: readonly MenuGroup[];
}
const useMenu = create<Pressed>(() => ({ at: null, label: '', groups: [] }));

/** Opens a menu where the event happened, in place of the browser's. */
export function openMenuAt(
  e: Pick<MouseEvent, 'preventDefault' | 'clientX' | 'clientY'>,
  label: string,
  groups: readonly MenuGroup[],
): void {
  e.preventDefault();
  useMenu.setState({ at: { x: e.clientX, y: e.clientY }, label, groups: groups.filter((g) => g.entries.length > 0) });
}

/** One a page. */
export function PressMenus() {
  const { at, label, groups } = useMenu();
  const anchor = useRef<HTMLSpanElement>(null);
  if (!at) return null;
  return (
    <>
      <span ref={anchor} className="fixed w-px h-px" style={{ left: at.x, top: at.y }} />
      <MenuPop
        key={`${at.x} ${at.y}`}
        label={label}
        groups={groups}
        align="left"
        triggerRef={anchor}
        first="first"
        onClose={() => useMenu.setState({ at: null })}
      />
    </>
  );
}
