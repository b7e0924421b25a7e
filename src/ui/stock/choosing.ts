'use client';
/** Several rows of a list chosen beside the one that is open: by Ctrl or Shift with a press, by Shift with arrows. */
import { type MouseEvent, useMemo, useState } from 'react';

interface Chosen {
  /** In the order of the list; the open one is among them. */
  chosen: readonly string[];
  press: (e: Pick<MouseEvent, 'ctrlKey' | 'metaKey' | 'shiftKey'>, id: string) => void;
  /** The range from the open one grows or shrinks by so many rows. @returns where it ends now */
  extend: (by: number) => string | null;
  chooseAll: () => void;
  chooseOne: (id: string) => void;
}

/** With which row others are chosen (opening another one otherwise lets them go), and where a range of them ends. */
interface Also {
  with: string | undefined;
  ids: ReadonlySet<string>;
  end: string | undefined;
}
const NONE: Also = { with: undefined, ids: new Set(), end: undefined };

/** @param ids rows in their order @param open the row whose sheet is shown */
export function useChosen(ids: readonly string[], open: string | undefined, onOpen: (id: string) => void): Chosen {
  const [also, setAlso] = useState<Also>(NONE);
  const held = also.with === open ? also : null;
  const chosen = useMemo(() => ids.filter((id) => id === open || held?.ids.has(id)), [ids, open, held]);
  const one = (id: string) => {
    setAlso(NONE);
    onOpen(id);
  };
  const range = (to: string) => {
    const [a, b] = [ids.indexOf(open ?? to), ids.indexOf(to)].sort((x, y) => x - y);
    setAlso({ with: open, ids: new Set(ids.slice(Math.max(0, a), b + 1)), end: to });
  };
  const toggle = (id: string) => {
    const rest = new Set(chosen);
    if (rest.has(id)) rest.delete(id);
    else rest.add(id);
    if (id !== open) return setAlso({ with: open, ids: rest, end: id });
    // the open one is let go: the next of the others is open
    const next = chosen.find((c) => c !== id);
    if (!next) return;
    setAlso({ with: next, ids: rest, end: next });
    onOpen(next);
  };
  return {
    chosen,
    press: (e, id) => {
      if (e.shiftKey && open) range(id);
      else if ((e.ctrlKey || e.metaKey) && open) toggle(id);
      else one(id);
    },
    extend: (by) => {
      const from = ids.indexOf(held?.end ?? open ?? '');
      const to = ids[Math.min(ids.length - 1, Math.max(0, from + by))];
      if (to) range(to);
      return to ?? null;
    },
    chooseAll: () => setAlso({ with: open, ids: new Set(ids), end: ids.at(-1) }),
    chooseOne: one,
  };
}
