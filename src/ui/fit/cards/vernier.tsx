'use client';
import { useRef } from 'react';
import { onEscape } from '../../kit';

const WIDTH = 232;
const TICK_PX = 5.6;
const TICKS = 20;

interface Props {
  /** In the field's own unit. */
  value: number;
  /** One small tick, in the field's own unit. */
  tick: number;
  decimals: number;
  label: string;
  onDrag: (value: number) => void;
  /** null: it went nowhere, or was broken off. */
  onDrop: (value: number | null) => void;
}

/** A scale under the fields: drag it to move the focused value finely; ten small ticks to a figure. */
export function Vernier({ value, tick, decimals, label, onDrag, onDrop }: Props) {
  const grab = useRef<{ x: number; from: number; now: number; end: () => void } | null>(null);
  const letGo = () => {
    const g = grab.current;
    g?.end();
    grab.current = null;
    return g;
  };
  // figures stand on round values, so the scale slides under the pointer
  const nearest = Math.round(value / tick);
  const slip = (nearest - value / tick) * TICK_PX;
  return (
    <div className="mt-2">
      <p className="head text-right">{label}</p>
      <svg
        width={WIDTH}
        height="25"
        viewBox={`0 0 ${WIDTH} 25`}
        className="block"
        style={{ cursor: 'ew-resize', touchAction: 'none' }}
        role="presentation"
        data-vernier={label}
        onPointerDown={(e) => {
          e.preventDefault(); // the field keeps its focus
          e.currentTarget.setPointerCapture(e.pointerId);
          const end = onEscape(() => {
            letGo();
            onDrop(null);
          });
          grab.current = { x: e.clientX, from: value, now: value, end };
        }}
        onPointerMove={(e) => {
          const g = grab.current;
          if (!g) return;
          g.now = Math.round((g.from - ((e.clientX - g.x) / TICK_PX) * tick) / (tick / 10)) * (tick / 10);
          onDrag(g.now);
        }}
        onPointerUp={() => {
          const g = letGo();
          if (g) onDrop(g.now === g.from ? null : g.now);
        }}
        onPointerCancel={() => {
          letGo();
          onDrop(null);
        }}
      >
        <rect width={WIDTH} height="12" fill="var(--brass-wash)" />
        {Array.from({ length: 2 * TICKS + 1 }, (_, k) => {
          const i = nearest + k - TICKS;
          const x = WIDTH / 2 + (k - TICKS) * TICK_PX + slip;
          return (
            <g key={i}>
              <path d={`M${x} 1v${i % 10 ? (i % 5 ? 5 : 8) : 11}`} stroke="var(--ink)" strokeWidth={i % 10 ? 0.7 : 1.1} />
              {i % 10 === 0 && (
                <text x={x} y="21" textAnchor="middle" style={{ font: '11px var(--font-mono)', fill: 'var(--ink-2)' }}>
                  {(i * tick).toFixed(decimals).replace('-', '−')}
                </text>
              )}
            </g>
          );
        })}
        <path d={`M${WIDTH / 2 - 4} 0h8l-4 7Z`} fill="var(--brass)" />
        <path d={`M${WIDTH / 2} 0V14`} stroke="var(--brass)" strokeWidth="1.6" />
      </svg>
    </div>
  );
}
