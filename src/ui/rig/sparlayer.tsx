'use client';
/** Bones over the picture of a model: spars, joints as rings, the root as a deadeye, each chain's number at its tip. */
import type { Spar, SparChain } from '@/core/rig';

/** Half the thickness of a spar at its middle, of its length; and at most, px. */
const SLIM = 0.07;
const MOST_PX = 5;

type Px = readonly [number, number];

/** A slim double curve from one point to another. */
export function sparPath([ax, ay]: Px, [bx, by]: Px): string {
  const [dx, dy] = [bx - ax, by - ay];
  const length = Math.hypot(dx, dy) || 1;
  const half = Math.min(MOST_PX, length * SLIM) * 2;
  const [nx, ny] = [(-dy / length) * half, (dx / length) * half];
  const [mx, my] = [ax + dx / 2, ay + dy / 2];
  return `M${ax} ${ay}Q${mx + nx} ${my + ny} ${bx} ${by}Q${mx - nx} ${my - ny} ${ax} ${ay}Z`;
}

export function SparLayer({
  spars,
  chains,
  unhung,
  heads,
  tails,
  chosen,
  pressed,
  onChoose,
}: {
  spars: readonly Spar[];
  chains: readonly SparChain[];
  /** Places of bones that no vertex follows. */
  unhung: readonly number[];
  /** Of every spar, in the picture, px. */
  heads: readonly Px[];
  tails: readonly Px[];
  chosen: number | null;
  /** A root that waits for its tip, px. */
  pressed: Px | null;
  onChoose: (chain: number) => void;
}) {
  const idle = new Set(unhung);
  const inChain = new Map(chains.flatMap((c, i) => c.spars.map((s) => [s, i] as const)));
  return (
    <svg className="absolute inset-0 w-full h-full" style={{ pointerEvents: 'none' }} aria-hidden="true">
      {spars.map((s, i) => {
        const chain = inChain.get(i);
        if (chain === undefined)
          return (
            <g key={s.name} transform={`translate(${heads[i][0]} ${heads[i][1]})`}>
              <circle r="8" fill="var(--color-base-100)" stroke="var(--ink)" strokeWidth="1.6" />
              {[-90, 30, 150].map((deg) => (
                <circle
                  key={deg}
                  cx={3.4 * Math.cos((deg * Math.PI) / 180)}
                  cy={3.4 * Math.sin((deg * Math.PI) / 180)}
                  r="1.5"
                  fill="var(--ink)"
                />
              ))}
            </g>
          );
        const own = chain === chosen;
        return (
          <g key={s.name}>
            {s.parent >= 0 && inChain.get(s.parent) !== chain && (
              <line
                x1={heads[s.parent][0]}
                y1={heads[s.parent][1]}
                x2={heads[i][0]}
                y2={heads[i][1]}
                stroke="var(--ink)"
                strokeWidth="1"
                strokeDasharray="1.5 3"
              />
            )}
            <path
              d={sparPath(heads[i], tails[i])}
              fill={own ? 'var(--brass-wash)' : 'var(--color-base-100)'}
              stroke={idle.has(i) ? 'var(--warning)' : own ? 'var(--brass)' : 'var(--ink)'}
              strokeWidth={own ? 1.8 : 1.2}
              strokeDasharray={idle.has(i) ? '4 3' : undefined}
            />
            <circle
              cx={heads[i][0]}
              cy={heads[i][1]}
              r="3"
              fill="var(--color-base-100)"
              stroke={own ? 'var(--brass)' : 'var(--ink)'}
              strokeWidth="1.4"
            />
          </g>
        );
      })}
      {chains.map((c, i) => {
        const last = c.spars[c.spars.length - 1];
        const [x, y] = tails[last];
        const [dx, dy] = [x - heads[last][0], y - heads[last][1]];
        const length = Math.hypot(dx, dy) || 1;
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the sail plan has the same for the keyboard
          <g
            key={c.name}
            transform={`translate(${x + (dx / length) * 14} ${y + (dy / length) * 14})`}
            style={{ pointerEvents: 'auto', cursor: 'pointer' }}
            onClick={() => onChoose(i)}
            onPointerDown={(e) => e.stopPropagation()}
          >
            <circle
              r="9"
              fill={i === chosen ? 'var(--brass-wash)' : 'var(--color-base-100)'}
              stroke={i === chosen ? 'var(--brass)' : 'var(--ink)'}
            />
            <text className="num" textAnchor="middle" dy="3.6" fontSize="11" fill="var(--ink)">
              {i + 1}
            </text>
          </g>
        );
      })}
      {pressed && (
        <circle cx={pressed[0]} cy={pressed[1]} r="7" fill="none" stroke="var(--brass)" strokeWidth="2" strokeDasharray="3 2.5" />
      )}
    </svg>
  );
}
