'use client';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { type Box, turnAbout } from '@/core/math';
import { branchOf, changePart, fills, isPlaced, type Offset, partDef, rackOf } from '@/core/piece';
import { worldBox } from '@/core/run';
import { forms } from '@/worker/browser';
import { charOf } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { useForm, useModels } from '../piece/stagehooks';
import { Cards } from './cards';
import { SightCard } from './cards/sightcard';
import { Mirror } from './mirror';
import { actsFor, copyToClip, doAct, pasteFromClip } from './partmenu';
import { Plate } from './plate';
import { Rack } from './rack';
import { FitRunProvider } from './run';
import { PLATES_AT_REST, useFit } from './state';
import { PoseStrip } from './strip';
import { useRun, useShownPiece, useStageState } from './view';

// the thread starts while the page is still being put together: the first picture waits for the form
if (typeof window !== 'undefined') forms.warm().catch(() => undefined);

/** Nudges: one millimetre or degree; Shift a tenth, Alt ten. */
const NUDGES: Record<string, [0 | 1 | 2, 1 | -1]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [1, 1],
  ArrowDown: [1, -1],
  PageUp: [2, 1],
  PageDown: [2, -1],
};

export function FitView() {
  const doc = useDocument();
  const id = usePiece((s) => s.id);
  const selected = usePiece((s) => s.selected);
  const select = usePiece((s) => s.select);
  const commit = usePiece((s) => s.commit);
  const selection = usePiece((s) => s.selection);
  const selectAll = usePiece((s) => s.selectAll);
  const turn = useFit((s) => s.pose.head);
  const running = useFit((s) => s.running);
  const set = useFit((s) => s.set);
  const form = useForm(doc.settings.form);
  const models = useModels(id, doc);
  const shown = useShownPiece(doc);
  const run = useRun(shown, models);
  const state = useStageState(run, doc.settings.form);

  const box = useMemo((): Box | null => {
    if (!selected || !shown.parts[selected]) return null;
    const branch = new Set(branchOf(shown, selected).map((p) => p.id));
    return worldBox(
      state.parts.filter((p) => branch.has(p.id)),
      { models },
    );
  }, [state, selected, models, shown]);

  // on a turned wearer the extent along the picture is not the part's own: nothing is better than a wrong measure
  const measured = !running && turn.yawDeg === 0 && turn.pitchDeg === 0 && turn.rollDeg === 0 ? box : null;
  const frame = () => {
    if (!box) return set({ plates: PLATES_AT_REST });
    const mm = box.map((v) => v * 1000);
    const span = Math.max(mm[3] - mm[0], (mm[4] - mm[1]) * 1.1, mm[5] - mm[2], 1);
    set({
      plates: { sideMm: (mm[0] + mm[3]) / 2, foreMm: (mm[2] + mm[5]) / 2, upMm: (mm[1] + mm[4]) / 2, pxPerMm: Math.min(20, 230 / span) },
    });
  };

  const latestFrame = useRef(frame);
  latestFrame.current = frame;
  const onFrame = useCallback(() => latestFrame.current(), []);
  const asked = doc.parts[selected ?? ''];
  const sight = useMemo(
    () => (asked && partDef(asked).drawnIn === 'parts' && isPlaced(asked) ? <SightCard part={asked} form={form} /> : null),
    [asked, form],
  );

  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      // arrows walk through radios, all other keys are free on them
      if (at.closest('input:not([type="radio"]), textarea, select, [role="dialog"], [role="menu"]')) return;
      if (at.closest('input') && (NUDGES[e.key] || e.code === 'Space')) return;
      if (e.ctrlKey || e.metaKey) {
        const char = charOf(e);
        if (char === 'c' && selection.length > 0 && !String(window.getSelection())) {
          e.preventDefault();
          copyToClip(doc, selection);
        } else if (char === 'v') {
          e.preventDefault();
          pasteFromClip(doc, { commit, selectAll });
        } else if (char === 'a') {
          e.preventDefault();
          selectAll(rackOf(doc).map((p) => p.id));
        }
        return;
      }
      const act = !e.altKey && selection.length > 0 && actsFor(doc, run.show, selection).find((a) => a.key === charOf(e));
      if (act) {
        e.preventDefault();
        if (act.can) doAct(act, { commit, selectAll });
        return;
      }
      if (at.closest('[role="treeitem"]')) return;
      const { play, playing, stepPose, hatched } = useFit.getState();
      if (e.code === 'Space' && !at.closest('button, a')) {
        e.preventDefault();
        return play(!playing);
      }
      if (e.key === ';') return stepPose(-1);
      if (e.key === "'") return stepPose(1);
      const char = charOf(e);
      if (char === 'o') return set({ hatched: !hatched });
      if (char === 'p') return set({ hand: 'place' });
      if (char === 't') return set({ hand: 'turn' });
      if (char === 'z') return set({ hand: 'size' });
      if (e.key === 'Escape') return select(null);
      const p = selected ? doc.parts[selected] : undefined;
      if (!p || fills(p) || p.locked || !NUDGES[e.key]) return;
      e.preventDefault();
      const [axis, way] = NUDGES[e.key];
      const by = way * (e.shiftKey ? 0.1 : e.altKey ? 10 : 1);
      const { hand } = useFit.getState();
      const o = p.offset;
      if (hand === 'turn') commit(changePart(p.id, { offset: { ...o, turnRad: turnAbout(o.turnRad, axis, (by * Math.PI) / 180) } }));
      else if (hand === 'size') commit(changePart(p.id, { offset: { ...o, size: o.size.map((s) => s * 1.01 ** by) as Offset['size'] } }));
      else
        commit(
          changePart(p.id, {
            offset: { ...o, positionM: o.positionM.map((v, i) => (i === axis ? v + by / 1000 : v)) as Offset['positionM'] },
          }),
        );
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, [doc, selected, selection, commit, select, selectAll, set, run]);

  return (
    <FitRunProvider run={run}>
      <div className="grid h-full" style={{ gridTemplate: 'minmax(0,1fr) auto / minmax(0,1fr) var(--cards)' }}>
        <div className="min-h-0 flex">
          <Rack />
          <div
            className="flex-1 min-w-0 grid pl-3 pr-2 pb-1.5 gap-3"
            style={{ gridTemplateColumns: 'minmax(0,1fr) minmax(300px, calc((100vh - 218px) * .6))' }}
          >
            <Mirror piece={shown} state={state} form={form} ready={models} />
            <section className="flex flex-col gap-1.5 min-h-0 pt-[2px]" aria-label="Plates">
              <Plate side="front" piece={shown} state={state} form={form} box={measured} ready={models} />
              <Plate side="side" piece={shown} state={state} form={form} box={measured} ready={models} />
            </section>
          </div>
        </div>
        <div className="row-span-2 min-h-0 grid">
          <Cards onFrame={onFrame} sight={sight} />
        </div>
        <PoseStrip form={form} />
      </div>
    </FitRunProvider>
  );
}
