'use client';
import { memo, useMemo, useRef } from 'react';
import type { Form } from '@/core/form';
import { type Box, showQuantity } from '@/core/math';
import type { Piece } from '@/core/piece';
import type { StageState } from '@/core/run';
import { type PlateWindow, plateCamera } from '@/stage';
import { onEscape, useSize, useTheme } from '../kit';
import { usePiece } from '../piece/context';
import { getStage, pixelRatio, useDraw } from '../piece/stagehooks';
import { frameOf, Handles } from './handles';
import { useFit } from './state';

const BORDER = 17;
const BAND = 5;

/** Ruler segments: 10 mm at ordinary scales, coarser or finer where they would crowd or sprawl. */
export function segmentMm(pxPerMm: number): number {
  if (pxPerMm > 6) return 1;
  for (const mm of [10, 50, 100, 500, 1000, 5000, 10_000]) if (mm * pxPerMm >= 9) return mm;
  return 50_000;
}

const spoken = (mm: number) => (mm >= 1000 ? `${mm / 1000} m` : `${mm} mm`);

export function Plate({
  side,
  piece,
  state,
  form,
  box,
  ready,
}: {
  side: 'front' | 'side';
  piece: Piece;
  state: StageState;
  form: Form | null;
  box: Box | null;
  ready: unknown;
}) {
  const { ref, width: outerW, height: outerH } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const plates = useFit((s) => s.plates);
  const hatched = useFit((s) => s.hatched);
  const set = useFit((s) => s.set);
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
  useDraw(async () => {
    const target = canvas.current;
    if (!target || !form || width === 0) return;
    const stage = getStage();
    stage.setForm(form);
    await stage.drawPlate(target, state, { width, height, ratio: pixelRatio() }, window_, {
      hatched,
      formOpacity: theme === 'chartroom' ? 0.82 : 0.62,
      hatchColor: theme === 'chartroom' ? '#35464f' : '#c8d6d2',
    });
    target.dataset.drawn = String(Number(target.dataset.drawn ?? 0) + 1);
  }, [state, form, width, height, window_, hatched, theme, ready]);
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
            const hit = getStage().pickPlate(state, { width, height, ratio: 1 }, window_, x, y);
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

/** Millimetres to pixels of the plate. Fore is left. */
function scalesOf({ side, acrossMm, upMm, pxPerMm }: PlateWindow, width: number, height: number) {
  return {
    toX: (mm: number) => width / 2 + (side === 'side' ? acrossMm - mm : mm - acrossMm) * pxPerMm,
    toY: (mm: number) => height / 2 + (upMm - mm) * pxPerMm,
  };
}

/** Drawn anew where the window moves, not where a part does. */
const Graticule = memo(function Graticule({ window, width, height }: { window: PlateWindow; width: number; height: number }) {
  if (width === 0) return null;
  const { toX, toY } = scalesOf(window, width, height);
  const [outerW, outerH] = [width + 2 * BORDER, height + 2 * BORDER];
  const step = segmentMm(window.pxPerMm);
  const main = step * 5;
  const range = (f: (mm: number) => number, size: number) => {
    // the axis may run either way: invert it from two samples
    const slope = f(1) - f(0);
    const at = (px: number) => (px - f(0)) / slope;
    const [a, b] = [Math.min(at(0), at(size)), Math.max(at(0), at(size))];
    return Array.from(
      { length: Math.min(400, Math.floor(b / step) - Math.floor(a / step) + 1) },
      (_, i) => (Math.floor(a / step) + i) * step,
    );
  };
  const xs = range(toX, width);
  const ys = range(toY, height);
  const clip = (v: number, size: number) => Math.min(size, Math.max(0, v));
  const dark = (mm: number) => Math.abs(Math.round(mm / step)) % 2 === 0;
  const figure = (mm: number) => (main >= 1000 ? `${Math.round(mm / 100) / 10}` : `${mm}`).replace('-', '−');
  return (
    <svg className="plate absolute inset-0" width={outerW} height={outerH} aria-hidden="true">
      <rect width={outerW} height={outerH} fill="var(--color-base-100)" />
      <g transform={`translate(${BORDER} ${BORDER})`}>
        <rect width={width} height={height} fill="var(--water)" />
        <g fill="none" strokeWidth="1">
          {xs.map((mm) => {
            const x = toX(mm);
            return x < 0 || x > width ? null : (
              <path key={mm} className={mm % main === 0 ? 'gm' : 'g'} d={`M${x.toFixed(1)} 0V${height}`} />
            );
          })}
          {ys.map((mm) => {
            const y = toY(mm);
            return y < 0 || y > height ? null : (
              <path key={mm} className={mm % main === 0 ? 'gm' : 'g'} d={`M0 ${y.toFixed(1)}H${width}`} />
            );
          })}
          {toX(0) > 0 && toX(0) < width && <path className="datum" d={`M${toX(0)} 0V${height}`} />}
          {toY(0) > 0 && toY(0) < height && <path className="datum" d={`M0 ${toY(0)}H${width}`} />}
        </g>
        {xs.map((mm) => {
          const [a, b] = [clip(Math.min(toX(mm), toX(mm + step)), width), clip(Math.max(toX(mm), toX(mm + step)), width)];
          const fill = `var(--neat-${dark(mm) ? 'a' : 'b'})`;
          return b - a < 0.1 ? null : (
            <g key={mm} fill={fill}>
              <rect x={a} y={-BAND} width={b - a} height={BAND} />
              <rect x={a} y={height} width={b - a} height={BAND} />
            </g>
          );
        })}
        {ys.map((mm) => {
          const [a, b] = [clip(Math.min(toY(mm), toY(mm + step)), height), clip(Math.max(toY(mm), toY(mm + step)), height)];
          const fill = `var(--neat-${dark(mm) ? 'a' : 'b'})`;
          return b - a < 0.1 ? null : (
            <g key={mm} fill={fill}>
              <rect x={-BAND} y={a} width={BAND} height={b - a} />
              <rect x={width} y={a} width={BAND} height={b - a} />
            </g>
          );
        })}
        <g fill="none" stroke="var(--neat-a)" strokeWidth=".8">
          <rect x={-BAND} y={-BAND} width={width + 2 * BAND} height={height + 2 * BAND} />
          <rect width={width} height={height} />
        </g>
        <g style={{ fill: 'var(--ink-2)' }}>
          {xs
            .filter((mm) => mm % main === 0 && toX(mm) > 14 && toX(mm) < width - 14)
            .map((mm) => (
              <text key={mm} x={toX(mm)} y={-BAND - 2} textAnchor="middle">
                {figure(mm)}
              </text>
            ))}
          {ys
            .filter((mm) => mm % main === 0 && toY(mm) > 14 && toY(mm) < height - 14)
            .map((mm) => (
              <text key={mm} transform={`translate(${-BAND - 2} ${toY(mm)}) rotate(-90)`} textAnchor="middle">
                {figure(mm)}
              </text>
            ))}
        </g>
      </g>
    </svg>
  );
});

/** The selected part's extent: side and up in front, fore at the side. */
function Dimensions({
  side,
  box,
  toX,
  toY,
  width,
  height,
}: {
  side: 'front' | 'side';
  box: Box;
  toX: (mm: number) => number;
  toY: (mm: number) => number;
  width: number;
  height: number;
}) {
  const mm = box.map((v) => v * 1000);
  const [lo, hi] = side === 'front' ? [mm[0], mm[3]] : [mm[2], mm[5]];
  const name = side === 'front' ? 'side' : 'fore';
  const keep = (v: number, size: number, edge = 12) => Math.min(size - edge, Math.max(edge, v));
  const yTop = keep(toY(mm[4]) - 14, height, 16);
  const xUp = keep(Math.min(toX(mm[0]), toX(mm[3])) - 14, width, 14);
  const [xa, xb] = [toX(lo), toX(hi)];
  const [ya, yb] = [toY(mm[4]), toY(mm[1])];
  const wide = (hi - lo).toFixed(1);
  const high = (mm[4] - mm[1]).toFixed(1);
  const end = (x: number) =>
    name === 'side' ? (
      <path d={`M${x} ${yTop - 4}v8`} strokeWidth="1.6" style={{ strokeDasharray: 'none' }} />
    ) : (
      <circle cx={x} cy={yTop} r="2.4" style={{ fill: 'var(--water)', strokeDasharray: 'none' }} />
    );
  return (
    <>
      <g className={`${name}-l`} fill="none" strokeWidth="1.2">
        <path d={`M${xa} ${yTop}L${xb} ${yTop}`} />
        {end(xa)}
        {end(xb)}
      </g>
      <text className={`dimt ${name}-t`} x={keep((xa + xb) / 2, width, 40)} y={yTop - 5} textAnchor="middle">
        {wide}
        <tspan className="w" dx="4">
          {name}
        </tspan>
      </text>
      {side === 'front' && (
        <>
          <g className="up-l" fill="none" strokeWidth="1.2">
            <path d={`M${xUp} ${ya}V${yb}`} />
            <path
              d={`M${xUp - 3.5} ${ya + 5}L${xUp} ${ya}l3.5 5M${xUp - 3.5} ${yb - 5}L${xUp} ${yb}l3.5 -5`}
              style={{ strokeDasharray: 'none' }}
            />
          </g>
          <text
            className="dimt up-t"
            transform={`rotate(-90 ${xUp} ${keep((ya + yb) / 2, height, 40)})`}
            x={xUp}
            y={keep((ya + yb) / 2, height, 40) - 5}
            textAnchor="middle"
          >
            {high}
            <tspan className="w" dx="4">
              up
            </tspan>
          </text>
        </>
      )}
    </>
  );
}
