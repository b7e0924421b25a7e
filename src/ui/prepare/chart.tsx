'use client';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { showBytes, showCount } from '@/core/math';
import type { FrontPoint } from '@/core/prepare/terms';

interface Dot {
  cx?: number;
  cy?: number;
  index?: number;
}

/** 1, 2 and 5 times powers of ten between two sizes; fewer where they would touch. */
function niceTicks(low: number, high: number): number[] {
  const out: number[] = [];
  for (let p = 10 ** Math.floor(Math.log10(low)); p <= high; p *= 10)
    for (const k of high / low > 60 ? [1] : [1, 2, 5]) if (k * p >= low && k * p <= high) out.push(k * p);
  return out;
}
const shortBytes = (b: number) => (b < 1e6 ? `${Number((b / 1e3).toPrecision(2))} kB` : `${Number((b / 1e6).toPrecision(2))} MB`);

/** Size against visible error: each point is a recipe one can try. */
export function FrontChart({
  front,
  chosen,
  tried,
  limit,
  onTry,
}: {
  front: readonly FrontPoint[];
  chosen: number;
  /** The point whose recipe stands in the table; −1 for none. */
  tried: number;
  limit: number | null;
  onTry: (at: number) => void;
}) {
  const data = front.map((p, i) => ({ i, bytes: p.bytes, e: Math.max(0.01, p.e) }));
  const [low, high] = [Math.min(...data.map((d) => d.bytes)) * 0.92, Math.max(...data.map((d) => d.bytes)) * 1.08];
  const dot = ({ cx = 0, cy = 0, index = 0 }: Dot) => {
    const p = front[index];
    const on = index === tried;
    return (
      // biome-ignore lint/a11y/useSemanticElements: a point of a drawing
      <g
        key={index}
        role="button"
        tabIndex={0}
        aria-label={`${showBytes(p.bytes)}, E ${p.e.toFixed(2)}${index === chosen ? ', chosen' : ''}`}
        aria-pressed={on}
        style={{ cursor: 'pointer' }}
        onClick={() => onTry(index)}
        onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && onTry(index)}
      >
        <circle cx={cx} cy={cy} r={12} fill="transparent" />
        <circle
          cx={cx}
          cy={cy}
          r={on ? 7 : 5}
          fill={on ? 'var(--brass-wash)' : 'var(--color-base-100)'}
          stroke={on ? 'var(--brass)' : 'var(--ink)'}
          strokeWidth={on ? 2.4 : 1.5}
        />
        {index === chosen && <circle cx={cx} cy={cy} r={2.2} fill="var(--ink)" />}
      </g>
    );
  };
  const tick = { fontSize: 11, fontFamily: 'var(--font-mono)', fill: 'var(--ink)' };
  return (
    <div className="w-full h-full" data-view="front">
      <ResponsiveContainer>
        <LineChart data={data} margin={{ top: 8, right: 14, bottom: 18, left: 2 }}>
          <CartesianGrid stroke="var(--grat)" />
          <XAxis
            dataKey="bytes"
            type="number"
            scale="log"
            domain={[low, high]}
            ticks={niceTicks(low, high)}
            tickFormatter={shortBytes}
            tick={tick}
            stroke="var(--ink)"
            label={{
              value: 'size of the file, visible error E above',
              position: 'insideBottom',
              offset: -10,
              fontSize: 11,
              fill: 'var(--ink-2)',
            }}
          />
          <YAxis
            dataKey="e"
            type="number"
            scale="log"
            domain={['auto', 'auto']}
            tickFormatter={(x: number) => String(Number(x.toPrecision(2)))}
            tick={tick}
            stroke="var(--ink)"
            width={38}
            label={{ value: 'E', position: 'insideTopLeft', fontSize: 11, fill: 'var(--ink-2)', offset: 2 }}
          />
          <ReferenceLine
            y={1}
            stroke="var(--sea)"
            strokeDasharray="4 3"
            label={{ value: 'not seen below', position: 'insideBottomRight', fontSize: 11, fill: 'var(--sea)' }}
          />
          {limit !== null && (
            <ReferenceLine
              x={limit}
              stroke="var(--brass)"
              strokeWidth={2}
              label={{ value: 'load line', position: 'insideTopLeft', fontSize: 11, fill: 'var(--ink)' }}
            />
          )}
          <Tooltip
            isAnimationActive={false}
            content={({ payload }) => {
              const p = payload?.[0] ? front[(payload[0].payload as { i: number }).i] : null;
              return p ? (
                <div className="menu-pop text-micro">
                  <b className="num">{showBytes(p.bytes)}</b>, <span className="num">{showCount(p.triangles)}</span> triangles
                  <div>
                    E <span className="num">{p.e.toFixed(2)}</span>, mean <span className="num">{p.error.meanMm.toFixed(3)}</span> mm
                  </div>
                </div>
              ) : null;
            }}
          />
          <Line dataKey="e" stroke="var(--ink)" strokeWidth={1.5} dot={dot as never} activeDot={false} isAnimationActive={false} />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}
