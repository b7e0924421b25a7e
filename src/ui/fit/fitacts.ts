'use client';
/** What keys, finder and clipboard do in Fit. */
import { type ReactNode, useEffect } from 'react';
import { turnAbout } from '@/core/math';
import { batch, changePart, fills, type Offset, type Part, rackOf } from '@/core/piece';
import type { Show } from '@/core/run';
import { type ActId, useActs } from '../acts';
import { openMenuAt } from '../kit';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { actsFor, copyToClip, doPartAct, partGroups, pasteFromClip } from './partmenu';
import { type Hand, platesAtRest, stripOf, useFit } from './state';

/** Nudges: one millimetre, degree or percent; Shift a tenth, Alt ten. */
const NUDGES: Readonly<Record<string, readonly [0 | 1 | 2, 1 | -1]>> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [1, 1],
  ArrowDown: [1, -1],
  PageUp: [2, 1],
  PageDown: [2, -1],
};

function nudged(o: Offset, hand: Hand, axis: 0 | 1 | 2, by: number): Offset {
  if (hand === 'turn') return { ...o, turnRad: turnAbout(o.turnRad, axis, (by * Math.PI) / 180) };
  if (hand === 'size') return { ...o, size: o.size.map((s) => s * 1.01 ** by) as Offset['size'] };
  return { ...o, positionM: o.positionM.map((v, i) => (i === axis ? v + by / 1000 : v)) as Offset['positionM'] };
}

/** Where keys walk or write, arrows do not nudge; nor while something lies over the screen. */
const OTHERS_ARROWS = 'input, textarea, select, [role="slider"], [role="separator"], [role="menu"], [role="dialog"], [data-walks]';

/** Shows nothing: keys, finder, clipboard and the right press, once the page is there. */
export function FitActs({ show, showWhole }: { show: Show; showWhole: () => void }): ReactNode {
  const doc = useDocument();
  const store = usePieceStore();
  const selection = usePiece((s) => s.selection);
  const set = useFit((s) => s.set);
  const none = selection.length === 0 ? 'choose a part first.' : null;
  const stuck = selection.map((id) => doc.parts[id]).find((p) => p?.locked);
  const cannot = stuck ? `${stuck.name} is locked; unlock it first.` : 'not with what is chosen.';
  const acts = actsFor(doc, show, selection);
  const ofParts = Object.fromEntries(
    acts.map((a) => [a.id, { run: () => doPartAct(a, store.getState()), off: none ?? (a.can ? null : cannot) }]),
  ) as Partial<Record<ActId, { run: () => void; off: string | null }>>;
  const hand = (h: Hand) => ({ run: () => set({ hand: h }) });
  const zoom = (by: number) => {
    const { plates } = useFit.getState();
    set({ plates: { ...plates, pxPerMm: Math.min(40, Math.max(0.002, plates.pxPerMm * by)) } });
  };
  useActs({
    ...ofParts,
    rename: { run: () => set({ naming: selection.at(-1) ?? null }), off: none },
    copy: { run: () => copyToClip(doc, selection), off: none },
    'choose-all': { run: () => store.getState().selectAll(rackOf(doc).map((p) => p.id)) },
    'choose-none': { run: () => store.getState().select(null) },
    'hand-place': hand('place'),
    'hand-turn': hand('turn'),
    'hand-size': hand('size'),
    'show-whole': { run: showWhole },
    'show-start': { run: () => set({ plates: platesAtRest(doc) }) },
    closer: { run: () => zoom(1.25) },
    farther: { run: () => zoom(0.8) },
    hatch: { run: () => set({ hatched: !useFit.getState().hatched }) },
    play: { run: () => useFit.getState().play(!useFit.getState().playing) },
    'pose-back': { run: () => useFit.getState().stepPose(-1, stripOf(doc, useFit.getState().strip)) },
    'pose-on': { run: () => useFit.getState().stepPose(1, stripOf(doc, useFit.getState().strip)) },
  });
  useEffect(() => {
    const nudge = (e: KeyboardEvent) => {
      const step = NUDGES[e.key];
      if (!step || e.defaultPrevented || e.ctrlKey || e.metaKey || document.querySelector('[role="dialog"]')) return;
      if (e.target instanceof Element && e.target.closest(OTHERS_ARROWS)) return;
      const { history, selection: ids, commit } = store.getState();
      const parts = ids.flatMap((id): Part[] => {
        const p = history.doc.parts[id];
        return p && !fills(p) && !p.locked ? [p] : [];
      });
      if (parts.length === 0) return;
      e.preventDefault();
      const [axis, way] = step;
      const by = way * (e.shiftKey ? 0.1 : e.altKey ? 10 : 1);
      commit(batch(parts.map((p) => changePart(p.id, { offset: nudged(p.offset, useFit.getState().hand, axis, by) }))), 'run');
    };
    const writes = (e: Event) => e.target instanceof Element && e.target.closest('input, textarea, [role="dialog"]') !== null;
    // the browser's own events: a picture or files of another program come with them
    const copy = (e: ClipboardEvent) => {
      const { history, selection: ids } = store.getState();
      if (writes(e) || ids.length === 0 || String(window.getSelection())) return;
      e.preventDefault();
      copyToClip(history.doc, ids, e.clipboardData);
      if (e.type !== 'cut') return;
      const lift = actsFor(history.doc, show, ids).find((a) => a.id === 'lift');
      if (lift?.can) doPartAct(lift, store.getState());
    };
    const paste = (e: ClipboardEvent) => {
      // files are the whole piece's affair
      if (writes(e) || (e.clipboardData?.files.length ?? 0) > 0) return;
      e.preventDefault();
      pasteFromClip(store.getState().history.doc, store.getState());
    };
    const rightPress = (e: MouseEvent) => {
      const { history, selection: ids } = store.getState();
      const at = e.target instanceof Element ? e.target : null;
      if (e.defaultPrevented || ids.length === 0 || !at?.closest('.fit') || at.closest('input, textarea')) return;
      const name = ids.length === 1 ? history.doc.parts[ids[0]]?.name : `${ids.length} parts`;
      openMenuAt(
        e,
        `More for ${name}`,
        partGroups(history.doc, show, ids, store.getState(), () => useFit.getState().set({ naming: ids.at(-1) ?? null })),
      );
    };
    window.addEventListener('contextmenu', rightPress);
    window.addEventListener('keydown', nudge);
    window.addEventListener('copy', copy);
    window.addEventListener('cut', copy);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('contextmenu', rightPress);
      window.removeEventListener('keydown', nudge);
      window.removeEventListener('copy', copy);
      window.removeEventListener('cut', copy);
      window.removeEventListener('paste', paste);
    };
  }, [store, show]);
  return null;
}
