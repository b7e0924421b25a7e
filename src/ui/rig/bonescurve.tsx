'use client';
/** Bones against how far straight ones stray from the shape, for one chain, with where it stands and what shows. */
import { SHOWS_MM, type SparChain } from '@/core/rig';

const W = 420;
const H = 92;
const LEFT = 48;
const FOOT = 18;
const TOP = 8;
/** Bones that are drawn: beyond, nothing more is to be seen. */
const MOST = 12;
const LEAST_MM = 0.1;

export function BonesCurve({ chain }: { chain: SparChain }) {
  const all = chain.strayMm;
  if (!all) return null;
  const shown = all.slice(0, Math.max(MOST, chain.spars.length));
  const top = Math.max(...shown, SHOWS_MM) * 1.3;
  const x = (bones: number) => LEFT + ((bones - 1) / Math.max(1, shown.length - 1)) * (W - LEFT - 10);
  const y = (mm: number) => TOP + (Math.log(top / Math.max(mm, LEAST_MM)) / Math.log(top / LEAST_MM)) * (H - TOP - FOOT);
  const own = chain.spars.length;
  return (
    <figure className="mt-2" aria-label={`Bones of ${chain.name} against how far they stray`}>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="block w-full max-w-[520px]"
        role="img"
        aria-label={`${own} bones stray ${shown[own - 1]?.toFixed(1)} mm`}
      >
        <line x1={LEFT} x2={W - 10} y1={y(SHOWS_MM)} y2={y(SHOWS_MM)} stroke="var(--warning)" strokeDasharray="4 3" />
        <text x={W - 10} y={y(SHOWS_MM) - 3} fontSize="10" textAnchor="end" fill="var(--ink)">
          above {SHOWS_MM} mm it shows
        </text>
        <path d={shown.map((mm, i) => `${i ? 'L' : 'M'}${x(i + 1)} ${y(mm)}`).join('')} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
        {shown.map((mm, i) => (
          <g key={x(i + 1)}>
            <circle
              cx={x(i + 1)}
              cy={y(mm)}
              r={i + 1 === own ? 5 : 2.6}
              fill={i + 1 === own ? 'var(--brass)' : 'var(--color-base-100)'}
              stroke={i + 1 === own ? 'var(--brass)' : 'var(--ink)'}
            />
            <text x={x(i + 1)} y={H - 4} fontSize="10" textAnchor="middle" className="num" fill="var(--ink)">
              {i + 1}
            </text>
          </g>
        ))}
        {[LEAST_MM, 1, SHOWS_MM].map((mm) => (
          <text key={mm} x={LEFT - 6} y={y(mm) + 3} fontSize="10" textAnchor="end" className="num" fill="var(--ink)">
            {mm} mm
          </text>
        ))}
      </svg>
      <figcaption className="soft text-[11px]">Bones of {chain.name}, and how far straight ones stray from the shape</figcaption>
    </figure>
  );
}
