'use client';
/** Which acts hold now, and under which keys: screens say what an act does as long as they are there. */
import { useLayoutEffect, useRef } from 'react';
import { create } from 'zustand';
import { say } from '../kit/say';
import { ACT_IDS, ACTS, type ActId } from './catalog';
import { chordOf, isSingle, showChord } from './chords';

export interface Doing {
  run: () => void;
  /** Why it cannot be done now. */
  off?: string | null;
}
type Doings = Partial<Record<ActId, Doing>>;

/** Screens that are there, the innermost last. */
const screens: { current: Doings }[] = [];

/** Says what acts do on this screen, as long as it is there. */
export function useActs(doings: Doings): void {
  const latest = useRef(doings);
  useLayoutEffect(() => {
    latest.current = doings;
  });
  // with the picture, not after it: who is quick presses as soon as there is something to see
  useLayoutEffect(() => {
    screens.push(latest);
    return () => void screens.splice(screens.indexOf(latest), 1);
  }, []);
}

/** What an act does now; null where it does not hold. */
export const doingOf = (id: ActId): Doing | null => screens.findLast((s) => s.current[id])?.current[id] ?? null;

/** Does an act, or says why it cannot be done now. */
export function doAct(id: ActId): void {
  const doing = doingOf(id);
  if (!doing) return;
  if (doing.off) say.message(`${ACTS[id].name}: ${doing.off}`);
  else doing.run();
}

/** Acts that hold now, in the order of the catalog. */
export const heldActs = (): ActId[] => ACT_IDS.filter((id) => doingOf(id) !== null);

const KEPT = 'scaphos-keys';
interface Kept {
  /** Keys that were changed or taken from an act. */
  changed: Partial<Record<ActId, readonly string[]>>;
  /** Keys that write a sign alone do what they say (WCAG 2.2, 2.1.4: one can switch them off). */
  singles: boolean;
}
interface Keys extends Kept {
  setKeys: (id: ActId, keys: readonly string[]) => void;
  setSingles: (on: boolean) => void;
  reset: () => void;
}
const AS_THEY_ARE: Kept = { changed: {}, singles: true };

function readKept(): Kept {
  try {
    return { ...AS_THEY_ARE, ...JSON.parse(localStorage.getItem(KEPT) ?? '{}') };
  } catch {
    // a browser that keeps nothing, or something of another's
    return AS_THEY_ARE;
  }
}

export const useKeys = create<Keys>((set, get) => {
  const keep = (to: Partial<Kept>) => {
    set(to);
    const { changed, singles } = get();
    try {
      localStorage.setItem(KEPT, JSON.stringify({ changed, singles }));
    } catch {
      // then they hold until the page is left
    }
  };
  return {
    ...(typeof window === 'undefined' ? AS_THEY_ARE : readKept()),
    setKeys: (id, keys) => keep({ changed: { ...get().changed, [id]: keys } }),
    setSingles: (singles) => keep({ singles }),
    reset: () => keep(AS_THEY_ARE),
  };
});

/** The keys of an act as they are now. */
export function keysOf(id: ActId, { changed, singles }: Pick<Keys, 'changed' | 'singles'> = useKeys.getState()): readonly string[] {
  const keys = ACTS[id].fixed ? ACTS[id].keys : (changed[id] ?? ACTS[id].keys);
  return singles ? keys : keys.filter((k) => !isSingle(k));
}

/** The first key of an act in words, for menus and tips; '' where it has none. */
export function useKeyOf(id: ActId): string {
  const key = useKeys((s) => keysOf(id, s)[0]);
  return key ? showChord(key) : '';
}
export const keyOf = (id: ActId): string => {
  const [key] = keysOf(id);
  return key ? showChord(key) : '';
};

/** Where all keys write. */
const WRITES =
  'input:not([type="radio"], [type="checkbox"], [type="range"], [type="file"], [type="button"]), textarea, [contenteditable="true"]';
const OWN_ARROWS = 'input, select, [role="slider"], [role="separator"], [role="tab"], [role="menu"]';
const ARROWS = /^(Alt\+|Shift\+)*(Arrow|Page|Home|End)/;

/** Whether what has the focus needs the key itself. */
function isTheirs(at: Element | null, chord: string): boolean {
  if (!at) return false;
  if (at.closest('[role="menu"], [role="listbox"]')) return true;
  if (at.closest('select') && (isSingle(chord) || ARROWS.test(chord))) return true;
  if (chord === 'Space' || chord === 'Enter') return at.closest('button, a, summary, input, [role="option"], [data-own-space]') !== null;
  return ARROWS.test(chord) && at.closest(OWN_ARROWS) !== null;
}

/** The act that a key means here; null: the key is not ours. */
export function actFor(e: KeyboardEvent): ActId | null {
  if (e.defaultPrevented || e.isComposing) return null;
  const chord = chordOf(e);
  if (!chord) return null;
  const at = e.target instanceof Element ? e.target : null;
  const writes = at?.closest(WRITES) != null;
  const inDialog = document.querySelector('[role="dialog"]') !== null;
  if (isTheirs(at, chord)) return null;
  const meant = (id: ActId) => !ACTS[id].fixed && ((!writes && !inDialog) || ACTS[id].typing === true) && keysOf(id).includes(chord);
  // the innermost screen first: two may have given a key to acts of their own
  for (const screen of screens.toReversed()) {
    const id = (Object.keys(screen.current) as ActId[]).find(meant);
    if (id) return id;
  }
  return null;
}
