'use client';
import { useMemo, useRef } from 'react';
import { type Box, showQuantity } from '@/core/math';
import type { Piece } from '@/core/piece';
import type { StageState } from '@/core/run';
import { type PlateWindow, plateCamera } from '@/stage/camera';
import { onEscape, useSize, useTheme } from '../kit';
import { usePiece } from '../piece/context';
import { stageNow, useDraw } from '../piece/stagehooks';
import type { Wearer } from '../piece/wearers';
import { frameOf } from './frame';
import { Handles } from './handles';
import { usePace } from './pace';
import { BORDER, Dimensions, Graticule, scalesOf, segmentMm } from './platemarks';
import { useSkinPress } from './skinpress';
import { handMoves, useFit } from './state';

const spoken = (mm: number) => (mm >= 1000 ? `${mm / 1000} m` : `${mm} mm`);

export function Plate({
  side,
  piece,
  state,
  wearer,
  box,
  ready,
}: {
  side: 'front' | 'side';
  piece: Piece;
  state: StageState;
  wearer: Wearer | null;
  box: Box | null;
  ready: unknown;
}) {
  const { ref, width: outerW, height: outerH } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const plates = useFit((s) => s.plates);
  const hatched = useFit((s) => s.hatched);
  const set = useFit((s) => s.set);
  const press = useSkinPress(state);
  const selected = usePiece((s) => s.selected);
  const select = usePiece((s) => s.select);
  const selectMore = usePiece((s) => s.selectMore);
  const theme = useTheme();
  const width = Math.max(0, outerW - 2 * BORDER);
  const height = Math.max(0, outerH - 2 * BORDER);
  const across = side === 'front' ? plates.sideMm : plates.foreMm;
  const window_: PlateWindow = useMemo(
    () => ({ side, acrossMm: across, upMm: plates.upMm, pxPerMm: plates.pxPerMm }),
    [side, across, plates.upMm, plates.pxPerMm],
  );
  const moving = useFit(handMoves);
  const inPace = usePace(moving);
  useDraw(
    async (stage) => {
      const target = canvas.current;
      if (!target || !wearer || width === 0) return;
      stage.setWearer(wearer);
      const look = {
        hatched,
        formOpacity: theme === 'chartroom' ? 0.82 : 0.62,
        hatchColor: theme === 'chartroom' ? '#35464f' : '#c8d6d2',
      };
      await inPace((ratio, coarsely) => stage.drawPlate(target, state, { width, height, ratio }, window_, { ...look, coarsely }));
      target.dataset.drawn = String(Number(target.dataset.drawn ?? 0) + 1);
    },
    [state, wearer, width, height, window_, hatched, theme, ready, moving],
  );
  const camera = useMemo(
    () => plateCamera(window_, { width: Math.max(1, width), height: Math.max(1, height), ratio: 1 }),
    [window_, width, height],
  );
  const pan = useRef<{ x: number; y: number; at: typeof plates; moved: boolean; end: () => void } | null>(null);
  const part = selected ? piece.parts[selected] : undefined;
  const hung = useMemo(() => (part ? frameOf(state, part) : null), [state, part]);
  const flip = side === 'side';
  const { toX, toY } = scalesOf(window_, width, height);
  return (
    <section className="flex flex-col min-h-0 flex-1" aria-label={side === 'front' ? 'Front plate' : 'Side plate'}>
      <div className="flex items-baseline justify-between px-[10px] h-[19px] leading-[19px]">
        <span className="text-small font-semibold">
          {side === 'front' ? 'Front' : 'Side'}{' '}
          <span className="soft font-normal">{side === 'front' ? 'plate' : 'plate, from the wearer’s left'}</span>
        </span>
        <span className="text-micro soft">
          {side === 'front' ? `1 square = ${spoken(segmentMm(plates.pxPerMm))}` : 'fore at picture left'}
        </span>
      </div>
      <div
        ref={ref}
        className="relative flex-1 min-h-0 bg-[color:var(--color-base-100)]"
        role="img"
        aria-label={summary(side, part?.name, box)}
      >
        <Graticule window={window_} width={width} height={height} />
        <div
          className="absolute overflow-hidden"
          style={{ left: BORDER, top: BORDER, width, height, touchAction: 'none' }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            const end = onEscape(() => {
              pan.current = null;
              set({ plates });
            });
            pan.current = { x: e.clientX, y: e.clientY, at: plates, moved: false, end };
          }}
          onPointerMove={(e) => {
            const p = pan.current;
            if (!p) return;
            const [dx, dy] = [e.clientX - p.x, e.clientY - p.y];
            if (Math.hypot(dx, dy) > 3) p.moved = true;
            if (!p.moved) return;
            const k = 1 / p.at.pxPerMm;
            set({
              plates: {
                ...p.at,
                upMm: p.at.upMm + dy * k,
                ...(flip ? { foreMm: p.at.foreMm + dx * k } : { sideMm: p.at.sideMm - dx * k }),
              },
            });
          }}
          onPointerUp={(e) => {
            const p = pan.current;
            pan.current = null;
            p?.end();
            if (!p || p.moved) return;
            const r = e.currentTarget.getBoundingClientRect();
            const [x, y] = [(e.clientX - r.left) / width, (e.clientY - r.top) / height];
            if (press((stage) => stage.pickSkinOnPlate(state, { width, height, ratio: 1 }, window_, x, y))) return;
            const hit = stageNow()?.pickPlate(state, { width, height, ratio: 1 }, window_, x, y) ?? null;
            if (hit && (e.ctrlKey || e.metaKey || e.shiftKey)) selectMore(hit);
            else select(hit);
          }}
          onWheel={(e) =>
            set({ plates: { ...plates, pxPerMm: Math.min(40, Math.max(0.002, plates.pxPerMm * Math.exp(-e.deltaY / 500))) } })
          }
        >
          <canvas ref={canvas} className="plate-canvas" data-view={side} />
          <svg
            className="absolute inset-0 w-full h-full plate"
            style={{ background: 'transparent', pointerEvents: 'none' }}
            aria-hidden="true"
          >
            {box && <Dimensions side={side} box={box} toX={toX} toY={toY} width={width} height={height} />}
            {part && hung && state.form && (
              <Handles part={part} frame={hung} camera={camera} width={width} height={height} onPicture={false} plate={side} />
            )}
          </svg>
        </div>
      </div>
    </section>
  );
}

function summary(side: 'front' | 'side', name: string | undefined, box: Box | null): string {
  const what = side === 'front' ? 'Front plate' : 'Side plate from the wearer’s left';
  if (!name || !box) return `${what}, millimetres`;
  const mm = (a: number, b: number) => ((b - a) * 1000).toFixed(1);
  const from = (a: number, b: number) => `from ${showQuantity(a, 'length', 'mm', 1)} to ${showQuantity(b, 'length', 'mm', 1)}`;
  return `${what}: ${name} is ${mm(box[0], box[3])} mm side, ${mm(box[1], box[4])} mm up, ${mm(box[2], box[5])} mm fore; it reaches ${from(box[0], box[3])} side, ${from(box[1], box[4])} up, ${from(box[2], box[5])} fore`;
}
