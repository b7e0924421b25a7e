'use client';
/** A turn on an arc: pulled by its pointer, or by arrow keys; upright is rest. */
import type { PointerEvent } from 'react';

const W = 168;
const H = 86;
const R = 66;
const FOOT: readonly [number, number] = [W / 2, 78];

const at = (deg: number, r: number): [number, number] => [
  FOOT[0] + r * Math.sin((deg * Math.PI) / 180),
  FOOT[1] - r * Math.cos((deg * Math.PI) / 180),
];

export function ArcDial({
  label,
  value,
  most,
  onChange,
}: {
  label: string;
  /** Degrees. */
  value: number;
  most: number;
  onChange: (deg: number) => void;
}) {
  const pull = (e: PointerEvent<SVGSVGElement>) => {
    if (e.buttons === 0) return;
    const box = e.currentTarget.getBoundingClientRect();
    const [x, y] = [((e.clientX - box.left) / box.width) * W - FOOT[0], FOOT[1] - ((e.clientY - box.top) / box.height) * H];
    const deg = (Math.atan2(x, y) * 180) / Math.PI;
    onChange(Math.round(Math.min(most, Math.max(-most, deg))));
  };
  const [from, to] = [at(-most, R), at(most, R)];
  const tip = at(value, R - 3);
  const side = [at(value - 90, 3.2), at(value + 90, 3.2)];
  return (
    <span className="dial relative inline-block">
      <input
        type="range"
        className="sr-only peer"
        min={-most}
        max={most}
        step={1}
        value={value}
        aria-label={label}
        aria-valuetext={`${value}°`}
        onChange={(e) => onChange(Number(e.target.value))}
      />
      <svg
        viewBox={`0 0 ${W} ${H}`}
        width={W}
        height={H}
        className="block peer-focus-visible:outline-2 peer-focus-visible:outline-[color:var(--brass)]"
        style={{ touchAction: 'none', cursor: 'grab' }}
        aria-hidden="true"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          pull(e);
        }}
        onPointerMove={pull}
      >
        <path d={`M${from} A${R} ${R} 0 0 1 ${to}`} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
        {Array.from({ length: (2 * most) / 10 + 1 }, (_, i) => -most + i * 10).map((deg) => {
          const long = deg % 30 === 0;
          const [a, b] = [at(deg, R), at(deg, R + (long ? 7 : 4))];
          return (
            <g key={deg}>
              <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} stroke="var(--ink)" strokeWidth={long ? 1.3 : 0.8} />
            </g>
          );
        })}
        <line x1={FOOT[0]} y1={FOOT[1]} x2={at(0, R)[0]} y2={at(0, R)[1]} stroke="var(--color-info)" strokeDasharray="3 3" />
        <path d={`M${side[0]} L${tip} L${side[1]} Z`} fill="var(--brass)" stroke="var(--ink)" strokeWidth=".6" />
        <circle cx={FOOT[0]} cy={FOOT[1]} r="4.5" fill="var(--color-base-100)" stroke="var(--ink)" strokeWidth="1.3" />
      </svg>
    </span>
  );
}
