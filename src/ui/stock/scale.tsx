'use client';
import { useRef } from 'react';
import { KINDS, type Kind } from '@/core/intake';
import { showCount } from '@/core/math';
import { say, useSize } from '../kit';
import { pixelRatio, useDraw } from '../piece/stagehooks';
import { loadForm } from '../piece/wearers';

type Beside = 'head' | 'hand' | 'person';
const REFERENCE: Record<Beside, { wide: number; high: number; words: string }> = {
  head: { wide: 170, high: 240, words: 'form M, head' },
  hand: { wide: 92, high: 188, words: 'a hand, 188 mm' },
  person: { wide: 500, high: 1750, words: 'a person, 1.75 m' },
};

/** What a thing of this kind and size is looked at beside: where a head would be a speck, a person. */
function besideOf(kind: Kind | null, sideMm: number, upMm: number): Beside {
  if (sideMm > 900 || upMm > 900) return 'person';
  return kind ? KINDS[kind].beside : 'head';
}

/** The model at a size beside a head, a hand or a person, all to one scale. `factor`: as it would be read. */
export function ScaleFigure({
  name,
  model,
  sizeMm,
  factor,
  kind,
  ready,
}: {
  name: string;
  model: string;
  sizeMm: readonly [number, number, number];
  factor: number;
  kind: Kind | null;
  ready: boolean;
}) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const form = useRef<HTMLCanvasElement>(null);
  const [side, up] = [sizeMm[0] * factor, sizeMm[1] * factor];
  const beside = besideOf(kind, side, up);
  const reference = REFERENCE[beside];
  const pxPerMm = Math.min((width - 36) / (side + reference.wide * 1.25), (height - 34) / Math.max(up, reference.high));
  useDraw(
    (stage) => {
      if (width === 0 || !ready || !(pxPerMm > 0)) return;
      const size = { width, height: height - 20, ratio: pixelRatio() };
      // the model itself is not changed: it is drawn that much larger
      if (canvas.current) stage.drawFrontal(canvas.current, model, { ...size, width: side * pxPerMm + 8 }, pxPerMm * 1000 * factor, 0);
      if (beside === 'head')
        void loadForm('M').then(
          (f) => {
            if (!form.current) return;
            stage.setWearer({ form: f, body: null });
            stage.drawFormFrontal(form.current, { ...size, width: reference.wide * pxPerMm + 8 }, pxPerMm * 1000, 0.015);
          },
          (e: Error) => say.error(e.message),
        );
    },
    [width, height, ready, pxPerMm, model, beside, factor],
  );
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--hair-strong)] overflow-hidden"
      style={{ height: 132 }}
      role="img"
      aria-label={`${name}: ${Math.round(side)} millimetres wide, beside ${beside === 'head' ? 'a size M head' : reference.words}`}
    >
      {beside === 'head' ? (
        <canvas
          ref={form}
          className="absolute"
          style={{ left: 6, bottom: 20, width: reference.wide * pxPerMm + 8, height: height - 20, opacity: 'var(--form-op)' }}
        />
      ) : (
        <Silhouette kind={beside} pxPerMm={pxPerMm} />
      )}
      <canvas
        ref={canvas}
        className="absolute"
        style={{ right: 10, bottom: 20, width: side * pxPerMm + 8, height: height - 20 }}
        data-view="scale"
      />
      <span className="absolute left-2 bottom-0.5 text-micro soft">{reference.words}</span>
      <span className="absolute right-3 bottom-0.5 text-micro side-t font-semibold">
        <span className="num">{showCount(Math.round(side * 10) / 10)}</span> side
      </span>
    </div>
  );
}

function Silhouette({ kind, pxPerMm }: { kind: 'hand' | 'person'; pxPerMm: number }) {
  const { wide, high } = REFERENCE[kind];
  return (
    <svg
      className="absolute"
      style={{ left: 10, bottom: 20 }}
      width={Math.max(2, wide * pxPerMm)}
      height={Math.max(6, high * pxPerMm)}
      viewBox={kind === 'person' ? '0 0 44 175' : '0 0 92 188'}
      preserveAspectRatio="none"
      aria-hidden="true"
      fill="var(--ink-2)"
    >
      {kind === 'person' ? (
        <>
          <circle cx="22" cy="13" r="12" />
          <path d="M4 34C8 27 36 27 40 34l4 52-8 2-4-34v34l-3 87H23l-1-60-1 60h-6l-3-87V54L8 88l-8-2Z" />
        </>
      ) : (
        <path d="M24 188c-2-22-6-30-12-44C6 131 0 118 2 112c3-7 10-4 14 4l9 16V38c0-10 12-10 13 0l2 46 2-74c0-12 13-12 13 0l1 74 4-62c1-10 13-9 12 1l-3 66 7-42c2-9 12-7 11 2l-9 74c-2 18-6 30-8 65Z" />
      )}
    </svg>
  );
}
