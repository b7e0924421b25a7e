'use client';
import { Flag } from '../kit';

/** As many notches as the limit has bones, those that are used filled; a brass post at the limit. */
export function Tally({ bones, limit }: { bones: number; limit: number | null }) {
  const most = Math.max(bones, limit ?? 0);
  const over = limit !== null && bones > limit;
  return (
    <div className="mt-3 pt-2 border-t border-[color:var(--hair)]">
      <div className="flex items-baseline text-small">
        <span>
          <b>Bones</b> <b className="num">{bones}</b>
          {limit !== null && (
            <>
              {' '}
              of <span className="num">{limit}</span>
            </>
          )}
        </span>
        <span className="ml-auto soft flex items-center gap-1">
          {over && <Flag kind="warning" size={13} />}
          {limit === null ? 'no limit' : over ? `${bones - limit} over the limit` : `${limit - bones} to spare`}
        </span>
      </div>
      <svg className="block w-full" height="18" viewBox={`0 0 ${most * 4 + 4} 18`} preserveAspectRatio="none" aria-hidden="true">
        {Array.from({ length: most }, (_, i) => (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: notches have no other name
            key={i}
            x={i * 4 + 1}
            y="3"
            width="2"
            height="10"
            fill={i >= bones ? 'none' : limit !== null && i >= limit ? 'var(--warning)' : 'var(--ink)'}
            stroke={i >= bones ? 'var(--hair-strong)' : 'none'}
            strokeWidth=".4"
          />
        ))}
        {limit !== null && <rect x={limit * 4 + 0.5} y="0" width="1.4" height="18" fill="var(--brass)" />}
      </svg>
    </div>
  );
}
