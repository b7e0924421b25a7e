/**
 * The size gauge: the hull sinks with the load; at the limit the water meets the load line, past 125 % the deck is awash. Where the load
 * is not known (null) the hull is an outline.
 */
import { showMegabytes } from '@/core/math/quantity';

const HULL = 'M8 2 C60 12 168 12 232 -4 C228 20 220 40 206 56 Q202 62 192 62 L42 62 Q30 62 26 54 Q12 28 8 2 Z';
const LINE_Y = 22;
const EMPTY = 57;

export function Waterline({
  bytes,
  limit,
  width,
  height,
  viewWidth = 240,
  at = 0.64,
}: {
  bytes: number | null;
  limit: number;
  width: number;
  height: number;
  viewWidth?: number;
  at?: number;
}) {
  const viewHeight = (height / width) * viewWidth;
  const waterY = viewHeight * at;
  const sink = EMPTY - (EMPTY - LINE_Y) * Math.min((bytes ?? 0) / limit, 1.25);
  let wave = `M0 ${waterY}`;
  for (let x = 0; x <= viewWidth; x += 12) wave += ' q3 -2.2 6 0 q3 2.2 6 0';
  return (
    <svg
      viewBox={`0 0 ${viewWidth} ${viewHeight.toFixed(1)}`}
      width={width}
      height={height}
      role="img"
      aria-label={
        bytes === null ? 'Waterline: the weight is not known' : `Waterline: ${showMegabytes(bytes)} of ${showMegabytes(limit)} MB`
      }
      style={{ display: 'block', overflow: 'hidden', maxWidth: '100%' }}
    >
      <g className="turn" transform={`translate(${(viewWidth - 240) / 2} ${(waterY - sink).toFixed(1)})`}>
        <path d="M74 6V-20M74 -18l26 15H74" fill="none" stroke="var(--hull)" strokeWidth={2} />
        {bytes === null ? (
          <path d={HULL} fill="none" stroke="var(--hull)" strokeWidth={2} strokeDasharray="7 5" />
        ) : (
          <path d={HULL} fill="var(--hull)" />
        )}
        {bytes !== null &&
          [0, 1, 2, 3, 4, 5, 6].map((i) => (
            <path key={i} d={`M${198 - i * 1.5} ${LINE_Y + i * 5 - 2}h${i % 2 ? 5 : 9}`} stroke="var(--hull-inside)" strokeWidth={1.2} />
          ))}
        <g stroke={bytes === null ? 'var(--hull)' : 'var(--hull-mark)'} fill="none" strokeWidth={2.6}>
          <circle cx="120" cy={LINE_Y} r="8.5" />
          <path d={`M104 ${LINE_Y}h32`} />
        </g>
      </g>
      <rect x="0" y={waterY} width={viewWidth} height={viewHeight} fill="var(--sea-fill)" />
      <path d={wave} fill="none" stroke="var(--water-line)" strokeWidth={1.5} />
    </svg>
  );
}

/** “1.2 MB to spare” or “2.8 MB over the line”. */
export function spareText(bytes: number, limit: number): string {
  return bytes > limit ? `${showMegabytes(bytes - limit)} MB over the line` : `${showMegabytes(limit - bytes)} MB to spare`;
}
