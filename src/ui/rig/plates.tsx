'use client';
/** A skeleton over a model's front and its side: what is not sure is dashed; a joint is dragged where it belongs, and its pair follows. */
import { type PointerEvent, useRef, useState } from 'react';
import { type mirroredJoint, type Spar, SURE } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { jointWords } from '@/core/words/humanoid';
import type { HeatSurface } from '@/stage';
import { useSize } from '../kit';
import { NotThere } from '../piece/notthere';
import { pixelRatio, stageNow, useDraw } from '../piece/stagehooks';
import { type LineFigure, LineFigures, useFigures } from './linefigures';
import type { Place } from './picture';
import { sparPath } from './sparlayer';

type Px = [number, number];
const RING = 5;
/** Metres of a test step: what it moves in the picture says what a drag moves in the body. */
const PROBE_M = 1e-3;

/** Which way a figure stands in the space it is drawn in. */
export interface BodyAxes {
  up: readonly [number, number, number];
  front: readonly [number, number, number];
  left: readonly [number, number, number];
}

export interface PlateProps {
  sha: string;
  name: string;
  ready: boolean;
  error: string | null;
  spars: readonly Spar[];
  axes: BodyAxes;
  chosen: string | null;
  busy: boolean;
  /** Shown instead of the model. */
  heat: HeatSurface | undefined;
  lines: readonly (readonly number[])[] | null;
  /** A clip is shown: bones at rest say nothing of it. */
  moves: boolean;
  /** What moves with a joint; null: nothing does. */
  pair: ((bone: string, to: Place) => ReturnType<typeof mirroredJoint>) | null;
  /** Shown beside the others, not to be dragged. */
  faint?: ReadonlySet<string>;
  onChoose: (bone: string) => void;
  onMove: (bone: string, to: Place) => void;
}

const plus = (a: Place, b: readonly number[], k = 1): Place => [a[0] + b[0] * k, a[1] + b[1] * k, a[2] + b[2] * k];

export function FigurePlate({ side, ...p }: PlateProps & { side: 'front' | 'side' }) {
  const { sha, name, ready, error, spars, axes, chosen, busy, heat, lines, moves, pair, faint, onChoose, onMove } = p;
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [at, setAt] = useState<{ heads: Px[]; tails: Px[]; figures: LineFigure[] } | null>(null);
  const drag = useRef<{ bone: Spar; from: Px; a: Px; b: Px } | null>(null);
  const [moving, setMoving] = useState<{ bone: string; to: Place } | null>(null);
  // seen from where the figure looks to, or from its left
  const towards = side === 'front' ? axes.front : axes.left;
  const across = side === 'front' ? axes.left : axes.front;
  const size = { width, height, ratio: pixelRatio() };
  const show = {
    items: heat ? [] : [{ sha }],
    heat,
    frame: { sha },
    view: { headingRad: -Math.atan2(towards[0], towards[2]), heightRad: 0 },
    look: 'lit' as const,
  };
  const moved = (bone: Spar): Place => {
    if (!moving) return bone.head;
    if (bone.name === moving.bone) return moving.to;
    const other = pair?.(moving.bone, moving.to);
    return other?.name === bone.name ? other.at : bone.head;
  };
  const heads = spars.map(moved);
  // a bone ends where the one it points to begins
  const ends = spars.map((s): Place => {
    const k = spars.findIndex((o) => o.head.every((x, d) => Math.abs(x - s.tail[d]) < 1e-9));
    return k >= 0 ? heads[k] : s.tail;
  });
  const key = JSON.stringify(moving);
  const figures = useFigures(lines, show.view);
  useDraw(
    (stage) => {
      if (!canvas.current || width === 0 || !ready) return;
      stage.drawTable(canvas.current, size, show);
      const marks = stage.marksOnTable(size, show, [...heads.flatMap((h, i) => [...h, ...ends[i]]), ...figures.flatMap((f) => f.at)]);
      const px = (i: number): Px => [(marks as Float64Array)[i * 2] * width, (marks as Float64Array)[i * 2 + 1] * height];
      setAt(
        marks && {
          heads: spars.map((_, i) => px(i * 2)),
          tails: spars.map((_, i) => px(i * 2 + 1)),
          figures: figures.map((f, i) => ({ text: f.text, px: px(spars.length * 2 + i) })),
        },
      );
    },
    [width, height, ready, sha, spars, side, key, heat, figures],
  );
  const mouse = (e: PointerEvent): Px => {
    const box = ref.current?.getBoundingClientRect();
    return [e.clientX - (box?.left ?? 0), e.clientY - (box?.top ?? 0)];
  };
  const grab = (e: PointerEvent<SVGGElement>, bone: Spar) => {
    onChoose(bone.name);
    const marks = stageNow()?.marksOnTable(size, show, [
      ...bone.head,
      ...plus(bone.head, across, PROBE_M),
      ...plus(bone.head, axes.up, PROBE_M),
    ]);
    if (busy || !marks) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const step = (k: number): Px => [(marks[k * 2] - marks[0]) * width, (marks[k * 2 + 1] - marks[1]) * height];
    drag.current = { bone, from: mouse(e), a: step(1), b: step(2) };
  };
  const pull = (e: PointerEvent) => {
    const d = drag.current;
    if (!d) return;
    const [x, y] = mouse(e);
    const [dx, dy] = [x - d.from[0], y - d.from[1]];
    const whole = d.a[0] * d.b[1] - d.a[1] * d.b[0];
    if (Math.abs(whole) < 1e-12) return;
    const along = ((dx * d.b[1] - dy * d.b[0]) / whole) * PROBE_M;
    const up = ((d.a[0] * dy - d.a[1] * dx) / whole) * PROBE_M;
    setMoving({ bone: d.bone.name, to: plus(plus(d.bone.head, across, along), axes.up, up) });
  };
  const drop = () => {
    drag.current = null;
    if (moving) onMove(moving.bone, moving.to);
    setMoving(null);
  };
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] overflow-hidden min-h-[260px]"
      style={{ touchAction: 'none' }}
    >
      <canvas
        ref={canvas}
        className="plate-canvas"
        role="img"
        aria-label={`${name} from the ${side === 'front' ? 'front' : "wearer's left"}, ${counted(spars.length, 'bone')}`}
        data-view={`figure-${side}`}
        data-ready={ready ? sha : ''}
      />
      {!ready && <NotThere what="The model" why={error} />}
      {!moves && at && at.heads.length === spars.length && (
        <svg className="absolute inset-0 w-full h-full" aria-hidden="true">
          {spars.map((s, i) => (
            <path
              key={s.name}
              d={sparPath(at.heads[i], at.tails[i])}
              fill="var(--color-base-100)"
              fillOpacity=".8"
              stroke={s.name === chosen ? 'var(--brass)' : 'var(--ink)'}
              strokeWidth={s.name === chosen ? 2 : 1.2}
              opacity={faint?.has(s.name) ? 0.35 : 1}
            />
          ))}
          {spars.map((s, i) => {
            const look = s.sure < SURE;
            if (faint?.has(s.name)) return null;
            return (
              <g
                key={s.name}
                transform={`translate(${at.heads[i][0]} ${at.heads[i][1]})`}
                data-joint={s.name}
                style={{ cursor: busy ? 'default' : 'move' }}
                onPointerDown={(e) => grab(e, s)}
                onPointerMove={pull}
                onPointerUp={drop}
                onPointerCancel={drop}
              >
                <title>{jointWords(s.name)}</title>
                <circle r={RING + 6} fill="transparent" />
                <circle
                  r={RING}
                  fill={s.name === chosen ? 'var(--brass)' : 'var(--color-base-100)'}
                  stroke={look ? 'var(--warning)' : s.name === chosen ? 'var(--brass)' : 'var(--ink)'}
                  strokeWidth={look ? 2.2 : 1.5}
                  strokeDasharray={look ? '3 2.2' : undefined}
                />
              </g>
            );
          })}
        </svg>
      )}
      {at && heat && <LineFigures figures={at.figures} />}
      <span className="absolute left-2 top-1.5 text-small soft">{side === 'front' ? 'Front' : "Wearer's left"}</span>
    </div>
  );
}
