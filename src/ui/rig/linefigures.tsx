'use client';
/** Figures on the lines of a chart of weights: each level's where the line is nearest to the eye. */
import { useMemo } from 'react';
import { foremost } from '@/core/rig';
import { LINES } from './depthlook';

export interface LineFigure {
  text: string;
  px: [number, number];
}

/** Where the figures stand, metres of the model. */
export function useFigures(
  lines: readonly (readonly number[])[] | null,
  { headingRad, heightRad }: { headingRad: number; heightRad: number },
): { text: string; at: [number, number, number] }[] {
  return useMemo(() => {
    // the table is turned, not the eye
    const eye: [number, number, number] = [
      -Math.sin(headingRad) * Math.cos(heightRad),
      Math.sin(heightRad),
      Math.cos(headingRad) * Math.cos(heightRad),
    ];
    return (lines ?? []).flatMap((pieces, i) => {
      const at = foremost(pieces, eye);
      return at ? [{ text: LINES[i].toFixed(2).slice(1), at }] : [];
    });
  }, [lines, headingRad, heightRad]);
}

/** Nearer than so they would lie over one another, px. */
const APART = [24, 12] as const;

/** The deepest first: those that find no room are left out. */
function withRoom(figures: readonly LineFigure[]): LineFigure[] {
  const kept: LineFigure[] = [];
  for (const f of [...figures].reverse())
    if (!kept.some((k) => Math.abs(k.px[0] - f.px[0]) < APART[0] && Math.abs(k.px[1] - f.px[1]) < APART[1])) kept.push(f);
  return kept;
}

export function LineFigures({ figures }: { figures: readonly LineFigure[] }) {
  return (
    <svg className="absolute inset-0 w-full h-full" style={{ pointerEvents: 'none' }} aria-hidden="true">
      {withRoom(figures).map(({ text, px: [x, y] }) => (
        <text
          key={text}
          x={x}
          y={y}
          dy="3.5"
          className="num"
          textAnchor="middle"
          fontSize="10.5"
          fill="var(--ink)"
          stroke="var(--color-base-100)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {text}
        </text>
      ))}
    </svg>
  );
}
