'use client';
import { RotateCw } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { showBytes, showCount } from '@/core/math';
import type { Weight } from '@/core/prepare/terms';
import type { TableLook } from '@/stage';
import { useTurning } from '../kit';
import { getStage, loadModel, pixelRatio, useDraw, useSize } from '../piece/stagehooks';

const LOOKS: [TableLook, string][] = [
  ['lit', 'As lit'],
  ['wire', 'Triangles'],
  ['normals', 'Normals'],
];

function useReady(piece: string, sha: string | null): boolean {
  const [ready, setReady] = useState<string | null>(null);
  useEffect(() => {
    if (sha)
      loadModel(piece, sha).then(
        () => setReady(sha),
        () => setReady(null),
      );
  }, [piece, sha]);
  return sha !== null && ready === sha;
}

/** The model before and after, from the same side, with a wipe between. */
export function Compare({
  piece,
  before,
  after,
  weights,
}: {
  piece: string;
  before: string;
  after: string | null;
  weights: { before: Weight; after: Weight } | null;
}) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const left = useRef<HTMLCanvasElement>(null);
  const right = useRef<HTMLCanvasElement>(null);
  const [look, setLook] = useState<TableLook>('lit');
  const { headingDeg, turn, handlers } = useTurning(26);
  const [at, setAt] = useState(0.5);
  const ready = [useReady(piece, before), useReady(piece, after)];
  useDraw(() => {
    const draw = (canvas: HTMLCanvasElement | null, sha: string | null, is: boolean) => {
      if (canvas && sha && is && width > 0)
        getStage().drawTurntable(canvas, sha, { width, height, ratio: pixelRatio() }, (headingDeg * Math.PI) / 180, look);
    };
    draw(left.current, before, ready[0]);
    draw(right.current, after, ready[1]);
  }, [width, height, look, headingDeg, before, after, ready[0], ready[1]]);
  const wipe = (clientX: number) => {
    const box = ref.current?.getBoundingClientRect();
    if (box) setAt(Math.min(0.98, Math.max(0.02, (clientX - box.left) / box.width)));
  };
  const shown = after !== null && ready[1];
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] overflow-hidden flex-1 min-h-0"
      style={{ touchAction: 'none', cursor: 'grab' }}
      {...handlers}
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
      {!ready[0] && <p className="absolute inset-0 grid place-items-center text-small soft">The model is being fetched …</p>}
      <div className="absolute left-2 top-2 detent" role="tablist" aria-label="Look">
        {LOOKS.map(([key, label]) => (
          <button key={key} type="button" role="tab" aria-selected={look === key} onClick={() => setLook(key)}>
            {label}
          </button>
        ))}
      </div>
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight absolute right-2 top-2"
        title="Turn the table by 45°"
        onClick={() => turn(45)}
      >
        <RotateCw className="ico" />
        Turn
      </button>
      {weights && <Side label="Before" side="left" w={weights.before} />}
      {weights && shown && <Side label="After" side="right" w={weights.after} />}
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
      <div className="num">{showBytes(w.bytes)}</div>
    </div>
  );
}
