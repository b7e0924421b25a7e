'use client';
/** A measured surface on a table that turns, which can be drawn over. */
import { type PointerEvent, useRef, useState } from 'react';
import type { HeatSurface, TableDab } from '@/stage';
import { USUAL_HEIGHT_RAD } from '@/stage/camera';
import { useSize, useTurning } from '../../kit';
import { NotThere } from '../../piece/notthere';
import { pixelRatio, stageNow, useDraw } from '../../piece/stagehooks';

/** Of places where something is wrong. */
const MARK = '#b23a2b';

export type Place = [number, number, number];

export function SurfacePicture({
  heat,
  dabs,
  label,
  what,
  stroke = null,
}: {
  /** null: it is not there yet. */
  heat: HeatSurface | null;
  /** Marks on it. */
  dabs?: readonly TableDab[];
  label: string;
  /** “The body”, of what is waited for. */
  what: string;
  /** Drawn over the surface; beside it the table is turned. */
  stroke?: { to: (at: Place) => void; end: () => void; words: string } | null;
}) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { headingDeg, turn, handlers } = useTurning(20);
  const [drawing, setDrawing] = useState(false);
  const size = { width, height, ratio: pixelRatio() };
  const show = heat && {
    items: [],
    frame: null,
    heat,
    view: { headingRad: (headingDeg * Math.PI) / 180, heightRad: USUAL_HEIGHT_RAD },
    look: 'lit' as const,
    dabs: dabs && dabs.length > 0 ? { list: dabs, color: MARK } : undefined,
  };
  useDraw(
    (stage) => {
      if (canvas.current && width > 0 && show) stage.drawTable(canvas.current, size, show);
    },
    [width, height, headingDeg, heat, dabs],
  );
  const placeAt = (e: PointerEvent<HTMLElement>): Place | null => {
    const box = ref.current?.getBoundingClientRect();
    if (!box || !show || (e.target as HTMLElement).closest('button')) return null;
    return stageNow()?.pickTable(size, show, (e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height) ?? null;
  };
  const finish = () => {
    setDrawing(false);
    stroke?.end();
  };
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] overflow-hidden"
      style={{ height: 'min(480px, 64vh)', touchAction: 'none', cursor: stroke ? 'crosshair' : 'grab' }}
      onPointerDown={(e) => {
        const place = stroke && e.button === 0 ? placeAt(e) : null;
        if (!place) return handlers.onPointerDown(e);
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrawing(true);
        stroke?.to(place);
      }}
      onPointerMove={(e) => {
        if (!drawing) return handlers.onPointerMove(e);
        const place = placeAt(e);
        if (place) stroke?.to(place);
      }}
      onPointerUp={() => (drawing ? finish() : handlers.onPointerUp())}
      onPointerCancel={() => drawing && finish()}
    >
      <canvas ref={canvas} className="plate-canvas" role="img" aria-label={label} data-view="surface" data-ready={heat ? 'yes' : ''} />
      {!heat && <NotThere what={what} why={null} />}
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight absolute right-2 top-2"
        title="Turn the table by 45°"
        onClick={() => turn(45)}
      >
        Turn
      </button>
      {stroke && <p className="absolute left-3 bottom-2 text-small">{stroke.words}</p>}
    </div>
  );
}
