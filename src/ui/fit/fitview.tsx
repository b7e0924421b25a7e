'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Box } from '@/core/math';
import { branchOf, hides, isMade, isPlaced, litBy, partDef, seesBody, shownBody } from '@/core/piece';
import { worldBox } from '@/core/run';
import { forms } from '@/worker/browser';
import { afterwards, lazily, Panes, soon, useTurns } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { useSculpts } from '../piece/sculpts';
import { useModels } from '../piece/stagehooks';
import { useFaceForm, useWearer } from '../piece/wearers';
import { Mirror } from './mirror';
import { FitRunProvider } from './run';
import { useSelectionInAddress } from './selectionaddress';
import { PLATES_AT_REST, platesAtRest, useFit } from './state';
import { STRIP_PX } from './stripsize';
import { useRun, useShownPiece, useStageState } from './view';

const FitActs = soon(() => import('./fitacts'), 'FitActs');
const Rack = soon(() => import('./rack'), 'Rack');
const FaceSliders = lazily(() => import('./facesliders'), 'FaceSliders');
const CameraPanel = lazily(() => import('./camerapanel'), 'CameraPanel');
const CastPanel = lazily(() => import('./castpanel'), 'CastPanel');
const TakesPanel = lazily(() => import('./takespanel'), 'TakesPanel');
/** What may stand in the rack's place. */
const PANELS = { face: <FaceSliders />, cast: <CastPanel />, camera: <CameraPanel />, takes: <TakesPanel /> };
const Cards = soon(() => import('./cards'), 'Cards');
const SightCard = afterwards(() => import('./cards/sightcard'), 'SightCard');
const ClearanceCard = afterwards(() => import('./cards/clearancecard'), 'ClearanceCard');
const PoseStrip = soon(() => import('./strip'), 'PoseStrip');
const PieceLight = lazily(() => import('../piece/piecelight'), 'PieceLight');
const Stacking = lazily(() => import('./look/stacking'), 'Stacking');
const LookPanel = lazily(() => import('./look/lookpanel'), 'LookPanel');
const Plate = soon(() => import('./plate'), 'Plate');

// the thread starts while the page is still being put together: the first picture waits for the form
if (typeof window !== 'undefined') forms.warm().catch(() => undefined);

/** The Mirror, the rack, each plate, the cards and the strip: together they would hold the page for a tenth of a second. */
const TURNS = 6;

export function FitView() {
  const turn = useTurns(TURNS);
  const doc = useDocument();
  const id = usePiece((s) => s.id);
  const selected = usePiece((s) => s.selected);
  const { head, body, face } = useFit((s) => s.pose);
  const running = useFit((s) => s.running);
  const panel = useFit((s) => s.panel);
  const looks = useFit((s) => s.tab === 'finish');
  const [layer, setLayer] = useState<string | null>(null);
  const set = useFit((s) => s.set);
  const models = useModels(id, doc);
  const { environment } = litBy(doc);
  const lit = useFit((s) => s.lit);
  const setLit = useCallback((key: string) => set({ lit: key }), [set]);
  // views draw anew when a file has come, or a light
  const ready = useMemo(() => ({ models, lit }), [models, lit]);
  const shown = useShownPiece(doc);
  const form = useFaceForm(shown);
  const sculpts = useSculpts(shown, models);
  const run = useRun(shown, models, form, sculpts);
  const state = useStageState(run);
  const whole = state.form?.body != null;
  const wearer = useWearer(shownBody(shown), whole || seesBody(doc));
  const atRest = platesAtRest(doc);
  // plates that nobody has moved show what the piece is worn on
  useEffect(() => {
    if (useFit.getState().plates === PLATES_AT_REST) set({ plates: atRest });
  }, [atRest, set]);

  const boxNow = useCallback((): Box | null => {
    if (!selected || !shown.parts[selected]) return null;
    const branch = new Set(branchOf(shown, selected).map((p) => p.id));
    return worldBox(
      state.parts.filter((p) => branch.has(p.id)),
      { models },
    );
  }, [state, selected, models, shown]);

  // on a turned wearer the extent along the picture is not the part's own: nothing is better than a wrong measure
  const still = !running && !body && !face && head.yawDeg === 0 && head.pitchDeg === 0 && head.rollDeg === 0;
  const measured = useMemo(() => (still ? boxNow() : null), [still, boxNow]);
  const frame = () => {
    const box = boxNow();
    if (!box) return set({ plates: platesAtRest(doc) });
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
    () =>
      asked && partDef(asked).drawnIn === 'parts' && isPlaced(asked) && !hides(asked) ? (
        <>
          <SightCard part={asked} wearer={wearer} />
          {isMade(asked) && wearer && <ClearanceCard part={asked} />}
        </>
      ) : null,
    [asked, wearer],
  );

  useSelectionInAddress();

  return (
    <FitRunProvider run={run}>
      <FitActs show={run.show} showWhole={onFrame} />
      {environment && <PieceLight piece={id} environment={environment} onReady={setLit} />}
      <div className="fit" data-tab={looks ? 'finish' : undefined}>
        <div className="fit-work">
          <Panes
            id="rack"
            start={226}
            least={180}
            most={460}
            label="Width of the rack"
            first={turn > 1 && (panel ? PANELS[panel] : <Rack />)}
            second={
              <div className="fit-views">
                {turn > 0 && <Mirror piece={shown} state={state} wearer={wearer} ready={ready} />}
                {looks ? (
                  <LookPanel layer={layer} />
                ) : (
                  <section className="fit-plates flex flex-col gap-1.5 min-h-0 pt-[2px]" aria-label="Plates">
                    {(['front', 'side'] as const).map((side, i) =>
                      turn > 2 + i ? (
                        <Plate key={side} side={side} piece={shown} state={state} wearer={wearer} box={measured} ready={ready} />
                      ) : (
                        <div key={side} className="flex-1" />
                      ),
                    )}
                  </section>
                )}
              </div>
            }
          />
        </div>
        <div className="fit-cards">{turn > 4 && <Cards onFrame={onFrame} sight={sight} />}</div>
        {looks ? (
          <div className="fit-wide">
            <Stacking state={state} wearer={wearer} ready={ready} chosen={layer} onChoose={setLayer} />
          </div>
        ) : (
          <div style={{ height: STRIP_PX }}>{turn > 5 && <PoseStrip wearer={wearer} />}</div>
        )}
      </div>
    </FitRunProvider>
  );
}
