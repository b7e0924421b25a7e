'use client';
import { Eye, RotateCw } from 'lucide-react';
import { type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { showBytesFinely, showCount } from '@/core/math';
import type { VisibleError, Weight } from '@/core/prepare/terms';
import { VIEW_RING } from '@/core/prepare/viewing';
import type { TableDab, TableLook, TableShow } from '@/stage';
import { USUAL_HEIGHT_RAD } from '@/stage/camera';
import { Choice, useSize, useTheme, useTurning } from '../kit';
import { TINTS } from '../kit/depths';
import { NotThere } from '../piece/notthere';
import { loadModel, pixelRatio, stageNow, useDraw, useFetching } from '../piece/stagehooks';
import { DEPTHS, drawDifference, heatSurface, unseenMm, useHeat } from './looks';

type Look = TableLook | 'difference' | 'heat';
const LOOKS: readonly { value: Look; label: string; title: string }[] = [
  { value: 'lit', label: 'As lit', title: 'As the light of the table shows it' },
  { value: 'wire', label: 'Triangles', title: 'The edges of its triangles' },
  { value: 'normals', label: 'Normals', title: 'Which way its surface faces' },
  { value: 'difference', label: 'Difference', title: 'After less before, four times enlarged: black is alike' },
  { value: 'heat', label: 'Error', title: 'How far the surface lies from the original' },
];

function useReady(piece: string, sha: string | null): boolean {
  const [ready, setReady] = useState<string | null>(null);
  const tries = useFetching((s) => s.tries);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what did not come is asked for anew with every try
  useEffect(() => {
    if (sha)
      loadModel(piece, sha).then(
        () => setReady(sha),
        () => setReady(null),
      );
  }, [piece, sha, tries]);
  return sha !== null && ready === sha;
}

/** Painting where detail is kept. */
export interface Brush {
  dabs: readonly TableDab[];
  /** A dab was set at a place of the placed original, metres. */
  onDab: (atM: [number, number, number]) => void;
}

/** The model before and after, from the same side, with a wipe between. */
export function Compare({
  piece,
  before,
  after,
  moved,
  weights,
  error,
  distanceM,
  brush,
}: {
  piece: string;
  before: string;
  after: string | null;
  /** By how the recipe moves the whole model; undefined while that is not known. */
  moved: readonly number[] | undefined;
  weights: { before: Weight; after: Weight } | null;
  error: VisibleError | null;
  /** From how far it is looked at. */
  distanceM: number;
  /** null: dragging turns the table. */
  brush: Brush | null;
}) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const left = useRef<HTMLCanvasElement>(null);
  const right = useRef<HTMLCanvasElement>(null);
  const [look, setLook] = useState<Look>('lit');
  const { headingDeg, turn, setHeading, handlers } = useTurning(26);
  const [heightRad, setHeight] = useState(USUAL_HEIGHT_RAD);
  const [at, setAt] = useState(0.5);
  const ready = [useReady(piece, before), useReady(piece, after)];
  const lost = useFetching((s) => s.files[before]);
  const heat = useHeat(piece, before, after, moved, look === 'heat');
  const colored = useMemo(() => heat && heatSurface(heat, distanceM), [heat, distanceM]);
  const shown = after !== null && ready[1];
  const worst = VIEW_RING.find((v) => v.name === error?.worstView);
  const frame = useMemo(() => ({ sha: before, moved }), [before, moved]);
  const size = { width, height, ratio: pixelRatio() };
  const ink = useTheme() === 'chartroom' ? '#14283a' : '#ece2c8';
  const table: Pick<TableShow, 'frame' | 'view' | 'ink'> = {
    frame,
    view: { headingRad: (headingDeg * Math.PI) / 180, heightRad },
    ink,
  };
  // only models have looks of their own
  const modelLook: TableLook = look === 'difference' || look === 'heat' ? 'lit' : look;
  const dabs = brush && { list: brush.dabs, color: '#a97c23' };
  useDraw(
    (stage) => {
      if (width === 0 || !ready[0]) return;
      if (left.current) stage.drawTable(left.current, size, { ...table, items: [frame], look: modelLook, dabs: dabs ?? undefined });
      if (!right.current || !after || !shown) return;
      if (look === 'heat' && colored) stage.drawTable(right.current, size, { ...table, items: [], look: 'lit', heat: colored });
      else stage.drawTable(right.current, size, { ...table, items: [{ sha: after }], look: modelLook });
      if (look === 'difference' && left.current) drawDifference(right.current, left.current);
    },
    [width, height, look, headingDeg, heightRad, frame, after, ready[0], shown, colored, brush?.dabs, ink],
  );

  const wipe = (clientX: number) => {
    const box = ref.current?.getBoundingClientRect();
    if (box) setAt(Math.min(0.98, Math.max(0.02, (clientX - box.left) / box.width)));
  };
  const dab = (e: PointerEvent<HTMLElement>) => {
    const box = ref.current?.getBoundingClientRect();
    if (!box || !brush || (e.target as HTMLElement).closest('button, input, select, [role=slider]')) return;
    const [x, y] = [(e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height];
    const place = stageNow()?.pickTable(size, { ...table, items: [frame], look: 'lit' }, x, y);
    if (place) brush.onDab(place);
  };
  const painting = {
    onPointerDown: (e: PointerEvent<HTMLElement>) => dab(e),
    onPointerMove: (e: PointerEvent<HTMLElement>) => e.buttons === 1 && dab(e),
  };
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] overflow-hidden flex-1 min-h-0"
      style={{ touchAction: 'none', cursor: brush ? 'crosshair' : 'grab' }}
      data-look={look}
      data-heat={look === 'heat' ? (colored ? 'ready' : 'busy') : undefined}
      {...(brush ? painting : handlers)}
    >
      <canvas
        ref={left}
        className="plate-canvas"
        role="img"
        aria-label="Before"
        data-ready={ready[0] ? before : ''}
        style={shown ? { clipPath: `inset(0 ${(1 - at) * 100}% 0 0)` } : undefined}
      />
      {after && (
        <canvas
          ref={right}
          className="plate-canvas"
          role="img"
          aria-label="After"
          data-ready={ready[1] ? after : ''}
          style={{ clipPath: `inset(0 0 0 ${at * 100}%)` }}
        />
      )}
      {!ready[0] && <NotThere what="The model" why={lost?.is === 'failed' ? lost.why : null} />}
      <Choice className="absolute left-2 top-2" label="Look" options={LOOKS} value={look} onChange={setLook} />
      <div className="absolute right-2 top-2 flex gap-1">
        {worst && shown && (
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight"
            title={`Of the ten views that are compared, ${worst.name} shows most`}
            onClick={() => {
              setHeading(-worst.bearingDeg);
              setHeight((worst.heightDeg * Math.PI) / 180);
            }}
          >
            <Eye className="ico" />
            Where it differs most
          </button>
        )}
        <button
          type="button"
          className="btn btn-line btn-sm btn-tight"
          title="Turn the table by 45°"
          onClick={() => {
            turn(45);
            setHeight(USUAL_HEIGHT_RAD);
          }}
        >
          <RotateCw className="ico" />
          Turn
        </button>
      </div>
      {weights && <Side label="Before" side="left" w={weights.before} />}
      {weights && shown && <Side label="After" side="right" w={weights.after} />}
      {look === 'heat' && shown && <Depths distanceM={distanceM} busy={!colored} />}
      {shown && (
        <div className="absolute inset-y-0" style={{ left: `${at * 100}%`, width: 0 }}>
          <div className="absolute inset-y-0 -left-px w-[2px] bg-[color:var(--ink)]" />
          <div
            role="slider"
            tabIndex={0}
            aria-label="Wipe between before and after"
            aria-valuemin={2}
            aria-valuemax={98}
            aria-valuenow={Math.round(at * 100)}
            className="absolute top-1/2 -translate-x-1/2 -translate-y-1/2 w-8 h-8 rounded-full grid place-items-center bg-[color:var(--color-base-100)] border-2 border-[color:var(--ink)] num text-small"
            style={{ cursor: 'ew-resize', touchAction: 'none' }}
            onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
            onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && wipe(e.clientX)}
            onKeyDown={(e) => {
              const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[e.key];
              if (by) setAt((x) => Math.min(0.98, Math.max(0.02, x + by)));
            }}
          >
            ‹ ›
          </div>
        </div>
      )}
    </div>
  );
}

function Side({ label, side, w }: { label: string; side: 'left' | 'right'; w: Weight }) {
  return (
    <div
      className={`absolute bottom-2 ${side === 'left' ? 'left-2' : 'right-2 text-right'} px-2 py-1 bg-[color:var(--color-base-100)] border border-[color:var(--hair-strong)] text-small`}
    >
      <b className="font-semibold">{label}</b>
      <div className="num">
        {showCount(w.triangles)} <span className="unit">triangles</span>
      </div>
      <div className="num">{showBytesFinely(w.bytes)}</div>
    </div>
  );
}

const shortMm = (x: number) => String(Number(x.toPrecision(2)));

/** The tints of depth and the distances they stand for. */
function Depths({ distanceM, busy }: { distanceM: number; busy: boolean }) {
  return (
    <div
      className="absolute top-[36px] left-2 px-2 py-1 bg-[color:var(--color-base-100)] border border-[color:var(--hair-strong)] text-micro"
      title="Distance from the original"
    >
      {busy ? (
        <span className="soft">Distances are being measured …</span>
      ) : (
        <div className="flex items-end gap-px">
          {TINTS.map((tint, i) => (
            <span key={tint} className="w-9">
              <span className="block h-[10px] border border-[color:var(--hair-strong)]" style={{ background: tint }} />
              <span className="num">{shortMm(DEPTHS[i] * unseenMm(distanceM))}</span>
            </span>
          ))}
          <span className="unit">mm and more off</span>
        </div>
      )}
    </div>
  );
}
