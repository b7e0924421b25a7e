'use client';
import { useMemo, useRef, useState } from 'react';
import type { PerspectiveCamera } from 'three';
import { type LensView, PICTURE_SHAPES } from '@/core/capture';
import { cameraOf } from '@/core/fit';
import { castOf, isMade, type Piece, settings, shownWearer, wearerWords } from '@/core/piece';
import type { StageState } from '@/core/run';
import { capital, counted } from '@/core/words/counted';
import { afterwards, Mark, Menu, soon, useSize } from '../kit';
import { usePiece } from '../piece/context';
import { pixelRatio, stageNow, useDraw } from '../piece/stagehooks';
import type { Wearer } from '../piece/wearers';
import { cameraWords } from './camerawords';
import { frameOf } from './frame';
import { usePace } from './pace';
import { useSkinPress } from './skinpress';
import { handMoves, useFit } from './state';

const FilesOnTheWay = soon(() => import('../piece/filesontheway'), 'FilesOnTheWay');
const SkinPressNote = afterwards(() => import('./skinnote'), 'SkinPressNote');
const MirrorBar = soon(() => import('./mirrorbar'), 'MirrorBar');
const Handles = afterwards(() => import('./handles'), 'Handles');

/** The piece as the camera sees it: the wearer first, then what the occluders leave of the parts. */
export function Mirror({ piece, state, wearer, ready }: { piece: Piece; state: StageState; wearer: Wearer | null; ready: unknown }) {
  const { ref, width: room, height: high } = useSize<HTMLDivElement>();
  const view = useFit((s) => s.camera);
  const [width, height] = pictureIn(room, high, view);
  const mirrored = view?.mirrored ?? false;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [shown, setShown] = useState(false);
  const poor = useFit((s) => s.poor);
  const tab = useFit((s) => s.tab);
  const mark = useFit((s) => (s.tab === 'finish' ? s.mark : null));
  const panel = useFit((s) => s.panel);
  const press = useSkinPress(state);
  const set = useFit((s) => s.set);
  const selected = usePiece((s) => s.selected);
  const select = usePiece((s) => s.select);
  const selectMore = usePiece((s) => s.selectMore);
  const commit = usePiece((s) => s.commit);
  const who = shownWearer(piece);
  const worn = state.parts.filter((p) => p.found && isMade(piece.parts[p.id])).length;
  const moving = useFit(handMoves);
  const inPace = usePace(moving);
  useDraw(
    async (stage) => {
      const target = canvas.current;
      if (!target || width === 0) return;
      if (!wearer) {
        stage.prepare(state, { width, height, ratio: pixelRatio() });
        return;
      }
      stage.setWearer(wearer);
      await inPace((ratio, coarsely) => stage.drawMirror(target, state, { width, height, ratio }, { poor, coarsely }));
      target.dataset.drawn = String(Number(target.dataset.drawn ?? 0) + 1);
      setShown(true);
    },
    [state, wearer, width, height, ready, moving, poor],
  );
  const camera = useMemo(() => {
    const seen = cameraOf(state.camera, Math.max(width, 1) / Math.max(height, 1));
    return mirrored ? asMirrored(seen) : seen;
  }, [state.camera, width, height, mirrored]);
  const part = selected ? piece.parts[selected] : undefined;
  const hung = useMemo(() => (part ? frameOf(state, part) : null), [state, part]);
  return (
    <section className="fit-mirror flex flex-col min-h-0 min-w-0" aria-label="Mirror">
      <div className="flex items-center gap-2 h-[38px] pr-2">
        <h2 className="text-[14px] font-semibold mr-auto">Mirror</h2>
        <button type="button" className="btn btn-line btn-sm rack-door" onClick={() => set({ rackOpen: true })}>
          <Mark name="part" />
          Rack
        </button>
        <button
          type="button"
          className="btn btn-line btn-sm"
          aria-pressed={panel === 'face'}
          onClick={() => set({ panel: panel === 'face' ? null : 'face' })}
        >
          <Mark name="facepoint" />
          Face
        </button>
        <Menu
          label="Form"
          align="right"
          className="pick"
          button={
            <>
              <Mark name="form" />
              <span className="truncate max-w-[138px]">
                {capital(wearerWords(who))}, {state.form?.body ? 'body' : 'head'}
              </span>
            </>
          }
          groups={[
            {
              id: 'Form',
              choice: true,
              entries: castOf(piece).map((w) => ({
                id: w.key,
                label: capital(wearerWords(w)),
                chosen: w.key === who.key,
                act: () => commit(settings(w.set)),
              })),
            },
            {
              id: 'Cast',
              entries: [
                { id: 'cast', label: 'Cast and measures …', act: () => set({ panel: 'cast' }) },
                { id: 'camera', label: 'Camera …', act: () => set({ panel: 'camera' }) },
              ],
            },
          ]}
        />
      </div>
      {/* biome-ignore lint/a11y/useSemanticElements: no fields are in it */}
      <div
        ref={ref}
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: here arrows move the chosen part
        tabIndex={0}
        aria-label="The picture; arrows move the chosen part"
        data-hand=""
        className="relative flex-1 min-h-0 border border-[color:var(--frame)] outline outline-1 outline-offset-2 outline-[color:var(--hair-strong)] bg-[#0c2029] overflow-hidden"
      >
        <div className="absolute" style={{ left: (room - width) / 2, top: (high - height) / 2, width, height }}>
          <canvas
            ref={canvas}
            className="absolute inset-0 w-full h-full"
            style={mirrored ? { transform: 'scaleX(-1)' } : undefined}
            data-mirrored={mirrored ? '' : undefined}
            role="img"
            aria-label={`The simulated wearer, ${wearerWords(who)}, wearing ${counted(worn, 'part')}`}
            data-view="mirror"
            onPointerDown={(e) => {
              const r = e.currentTarget.getBoundingClientRect();
              const [across, y] = [(e.clientX - r.left) / r.width, (e.clientY - r.top) / r.height];
              const x = mirrored ? 1 - across : across;
              if (press((stage) => stage.pickSkin(state, width / height, x, y))) return;
              if (tab === 'finish') set({ mark: [x, y] });
              const hit = stageNow()?.pick(state, width / height, x, y) ?? null;
              if (hit && (e.ctrlKey || e.metaKey || e.shiftKey)) selectMore(hit);
              else select(hit);
            }}
          />
        </div>
        {view && (
          <p className="absolute left-2 top-1.5 text-micro" style={{ color: '#f3ecd6', textShadow: '0 1px 2px #0c1b23' }} data-camera="">
            {cameraWords(view)}
          </p>
        )}
        {!shown && (
          <p className="absolute inset-0 grid place-items-center text-small" role="status" style={{ color: '#f3ecd6' }}>
            {wearer ? 'The first picture is being drawn …' : 'The form is being made, once …'}
          </p>
        )}
        <FilesOnTheWay />
        <SkinPressNote />
        <svg
          className="absolute"
          style={{ pointerEvents: 'none', left: (room - width) / 2, top: (high - height) / 2, width, height }}
          aria-hidden="true"
        >
          {mark && (
            <circle className="pixel-mark" r={7} cx={(mirrored ? 1 - mark[0] : mark[0]) * width} cy={mark[1] * height} data-mark="" />
          )}
          {tab === 'placement' && part && hung && state.form && (
            <Handles part={part} frame={hung} camera={camera} width={width} height={height} onPicture />
          )}
        </svg>
        <MirrorBar piece={piece} />
      </div>
    </section>
  );
}

/** How large a picture of the view's shape is in what room there is, px; all of it where no view is asked. */
function pictureIn(width: number, height: number, view: LensView | null): [number, number] {
  if (!view || width === 0 || height === 0) return [width, height];
  const [side, up] = PICTURE_SHAPES[view.shape];
  const scale = Math.min(width / side, height / up);
  return [Math.round(side * scale), Math.round(up * scale)];
}
function asMirrored(camera: PerspectiveCamera): PerspectiveCamera {
  const e = camera.projectionMatrix.elements;
  for (const i of [0, 4, 8, 12]) e[i] *= -1;
  camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
  return camera;
}
