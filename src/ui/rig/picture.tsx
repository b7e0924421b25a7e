'use client';
/** The model on a table that turns, with its chains over it, and presses on it. */
import { type PointerEvent, useRef, useState } from 'react';
import type { sparsOf } from '@/core/rig';
import { counted } from '@/core/words/counted';
import type { HeatSurface } from '@/stage';
import { USUAL_HEIGHT_RAD } from '@/stage/camera';
import { useSize, useTurning } from '../kit';
import { NotThere } from '../piece/notthere';
import { pixelRatio, stageNow, useDraw } from '../piece/stagehooks';
import { type LineFigure, LineFigures, useFigures } from './linefigures';
import { SparLayer } from './sparlayer';

export type Place = [number, number, number];

export function Picture({
  sha,
  name,
  ready,
  error,
  rig,
  unhung,
  chosen,
  pressing,
  asks,
  busy,
  heat,
  lines,
  moves,
  onPress,
  stroke,
  onChoose,
}: {
  sha: string;
  name: string;
  ready: boolean;
  error: string | null;
  rig: ReturnType<typeof sparsOf>;
  /** Places of bones that hold nothing. */
  unhung: readonly number[];
  chosen: number | null;
  pressing: { root: Place | null } | null;
  /** What else a press is asked for; null: nothing. */
  asks: string | null;
  busy: boolean;
  /** Shown instead of the model. */
  heat: HeatSurface | undefined;
  lines: readonly (readonly number[])[] | null;
  /** A clip is shown: bones at rest say nothing of it. */
  moves: boolean;
  onPress: (place: Place) => void;
  /** Drawn over the shape instead of pressed; beside it the table is turned. */
  stroke?: { begin: (at: Place) => void; to: (at: Place) => void; end: () => void } | null;
  onChoose: (chain: number) => void;
}) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { headingDeg, turn, handlers } = useTurning(26);
  const [marks, setMarks] = useState<{
    heads: [number, number][];
    tails: [number, number][];
    root: [number, number] | null;
    figures: LineFigure[];
  } | null>(null);
  const size = { width, height, ratio: pixelRatio() };
  const show = {
    items: heat ? [] : [{ sha }],
    heat,
    frame: { sha },
    view: { headingRad: (headingDeg * Math.PI) / 180, heightRad: USUAL_HEIGHT_RAD },
    look: 'lit' as const,
  };
  const root = pressing?.root ?? null;
  const figures = useFigures(lines, show.view);
  useDraw(
    (stage) => {
      if (!canvas.current || width === 0 || !ready) return;
      stage.drawTable(canvas.current, size, show);
      const places = [...rig.spars.flatMap((s) => [...s.head, ...s.tail]), ...(root ?? []), ...figures.flatMap((f) => f.at)];
      const at = stage.marksOnTable(size, show, places);
      if (!at) return setMarks(null);
      const px = (i: number): [number, number] => [at[i * 2] * width, at[i * 2 + 1] * height];
      setMarks({
        heads: rig.spars.map((_, i) => px(i * 2)),
        tails: rig.spars.map((_, i) => px(i * 2 + 1)),
        root: root ? px(rig.spars.length * 2) : null,
        figures: figures.map((f, i) => ({ text: f.text, px: px(rig.spars.length * 2 + (root ? 1 : 0) + i) })),
      });
    },
    [width, height, ready, headingDeg, sha, rig, root, heat, figures],
  );
  const placeAt = (e: PointerEvent<HTMLElement>): Place | null => {
    const box = ref.current?.getBoundingClientRect();
    if (!box || (e.target as HTMLElement).closest('button')) return null;
    return stageNow()?.pickTable(size, show, (e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height) ?? null;
  };
  const press = (e: PointerEvent<HTMLElement>) => {
    const place = placeAt(e);
    if (place) onPress(place);
  };
  const [drawing, setDrawing] = useState(false);
  const endStroke = () => {
    if (!drawing) return;
    setDrawing(false);
    stroke?.end();
  };
  const strokes = stroke && {
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      const place = e.button === 0 ? placeAt(e) : null;
      if (!place) return handlers.onPointerDown(e);
      e.currentTarget.setPointerCapture(e.pointerId);
      setDrawing(true);
      stroke.begin(place);
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (!drawing) return handlers.onPointerMove(e);
      const place = placeAt(e);
      if (place) stroke.to(place);
    },
    onPointerUp: () => (drawing ? endStroke() : handlers.onPointerUp()),
    onPointerCancel: endStroke,
  };
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] overflow-hidden min-h-[260px]"
      style={{ touchAction: 'none', cursor: pressing || asks ? 'crosshair' : 'grab' }}
      {...(strokes && !busy ? strokes : (pressing || asks) && !busy ? { onPointerDown: press } : handlers)}
    >
      <canvas
        ref={canvas}
        className="plate-canvas"
        role="img"
        aria-label={`${name} and its bones, ${counted(rig.spars.length, 'bone')}`}
        data-view="rig"
        data-ready={ready ? sha : ''}
      />
      {!ready && <NotThere what="The model" why={error} />}
      {!moves && marks && marks.heads.length === rig.spars.length && (
        <SparLayer
          spars={rig.spars}
          chains={rig.chains}
          unhung={unhung}
          heads={marks.heads}
          tails={marks.tails}
          chosen={chosen}
          pressed={marks.root}
          onChoose={onChoose}
        />
      )}
      {marks && heat && <LineFigures figures={marks.figures} />}
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight absolute right-2 top-2"
        title="Turn the table by 45°"
        onClick={() => turn(45)}
      >
        Turn
      </button>
      <p className="absolute left-3 bottom-2 text-small" role="status">
        {busy
          ? 'Bones are raised and weights are found …'
          : pressing
            ? pressing.root
              ? 'Press where the chain ends.'
              : 'Press where the chain begins.'
            : asks}
      </p>
    </div>
  );
}
