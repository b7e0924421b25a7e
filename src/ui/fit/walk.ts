'use client';
/**
 * The keyboard's way through the rack, a tree by WAI-ARIA: arrows walk and choose, Shift takes in more, Enter gives the arrows to the
 * part. Where one pressed with the pointer arrows belong to the part at once.
 */
import { type FocusEvent, type KeyboardEvent, type RefObject, useRef } from 'react';
import { usePieceStore } from '../piece/context';

const item = (at: EventTarget) => (at instanceof HTMLElement ? at.closest<HTMLElement>('[role="treeitem"]') : null);

export function useWalk(rack: RefObject<HTMLElement | null>) {
  const store = usePieceStore();
  const pressed = useRef(false);
  const focusOn = (id: string) => {
    const find = () => rack.current?.querySelector<HTMLElement>(`[data-part="${id}"]`);
    const now = find();
    // a row that is not drawn yet comes with the choice
    if (now) now.focus();
    else requestAnimationFrame(() => find()?.focus());
  };
  const goTo = (at: HTMLElement | undefined, more: boolean) => {
    const id = at?.dataset.part;
    if (!id) return;
    const { selection, selectAll, select } = store.getState();
    if (more) selectAll([...selection.filter((s) => s !== id), id]);
    else select(id);
    focusOn(id);
  };
  return {
    onPointerDownCapture: () => {
      pressed.current = true;
      delete rack.current?.dataset.walks;
    },
    onFocusCapture: (e: FocusEvent) => {
      if (!pressed.current && item(e.target) && rack.current) rack.current.dataset.walks = '';
      pressed.current = false;
    },
    onKeyDown: (e: KeyboardEvent) => {
      const at = item(e.target);
      if (!at || at !== e.target || e.ctrlKey || e.metaKey || e.altKey || rack.current?.dataset.walks === undefined) return;
      const all = [...rack.current.querySelectorAll<HTMLElement>('[role="treeitem"]')];
      const i = all.indexOf(at);
      const level = (x: HTMLElement) => Number(x.ariaLevel);
      const next = () => {
        switch (e.key) {
          case 'ArrowDown':
            return all[i + 1];
          case 'ArrowUp':
            return all[i - 1];
          case 'Home':
            return all[0];
          case 'End':
            return all.at(-1);
          case 'ArrowRight':
            return all[i + 1] && level(all[i + 1]) > level(at) ? all[i + 1] : at;
          case 'ArrowLeft':
            return all.slice(0, i).findLast((x) => level(x) < level(at)) ?? at;
          case ' ':
            return at;
          default:
            return null;
        }
      };
      if (e.key === 'Enter') {
        e.preventDefault();
        store.getState().select(at.dataset.part ?? null);
        document.querySelector<HTMLElement>('[data-hand]')?.focus();
        return;
      }
      const to = next();
      if (to === null) return;
      e.preventDefault();
      goTo(to, e.shiftKey);
    },
  };
}
