/** What is drawn over and around a plate: its rulers and squares, and how large what is selected is. */
import { memo } from 'react';
import type { Box } from '@/core/math';
import type { PlateWindow } from '@/stage/camera';

/** Around a plate, for its rulers, px. */
export const BORDER = 17;
const BAND = 5;

/** Ruler segments: 10 mm at ordinary scales, coarser or finer where they would crowd or sprawl. */
export function segmentMm(pxPerMm: number): number {
  if (pxPerMm > 6) return 1;
  for (const mm of [10, 50, 100, 500, 1000, 5000, 10_000]) if (mm * pxPerMm >= 9) return mm;
  return 50_000;
}

/** Millimetres to pixels of the plate. Fore is left. */
export function scalesOf({ side, acrossMm, upMm, pxPerMm }: PlateWindow, width: number, height: number) {
  return {
    toX: (mm: number) => width / 2 + (side === 'side' ? acrossMm - mm : mm - acrossMm) * pxPerMm,
    toY: (mm: number) => height / 2 + (upMm - mm) * pxPerMm,
  };
}

/** Drawn anew where the window moves, not where a part does. */
export const Graticule = memo(function Graticule({ window, width, height }: { window: PlateWindow; width: number; height: number }) {
  if (width === 0) return null;
  const { toX, toY } = scalesOf(window, width, height);
  const [outerW, outerH] = [width + 2 * BORDER, height + 2 * BORDER];
  const step = segmentMm(window.pxPerMm);
  const main = step * 5;
  const range = (f: (mm: number) => number, size: number) => {
    // the axis may run either way: invert it from two samples
    const slope = f(1) - f(0);
    const at = (px: number) => (px - f(0)) / slope;
    const [a, b] = [Math.min(at(0), at(size)), Math.max(at(0), at(size))];
    return Array.from(
      { length: Math.min(400, Math.floor(b / step) - Math.floor(a / step) + 1) },
      (_, i) => (Math.floor(a / step) + i) * step,
    );
  };
  const xs = range(toX, width);
  const ys = range(toY, height);
  const clip = (v: number, size: number) => Math.min(size, Math.max(0, v));
  const dark = (mm: number) => Math.abs(Math.round(mm / step)) % 2 === 0;
  const figure = (mm: number) => (main >= 1000 ? `${Math.round(mm / 100) / 10}` : `${mm}`).replace('-', '−');
  return (
    <svg className="plate absolute inset-0" width={outerW} height={outerH} aria-hidden="true">
      <rect width={outerW} height={outerH} fill="var(--color-base-100)" />
      <g transform={`translate(${BORDER} ${BORDER})`}>
        <rect width={width} height={height} fill="var(--water)" />
        <g fill="none" strokeWidth="1">
          {xs.map((mm) => {
            const x = toX(mm);
            return x < 0 || x > width ? null : (
              <path key={mm} className={mm % main === 0 ? 'gm' : 'g'} d={`M${x.toFixed(1)} 0V${height}`} />
            );
          })}
          {ys.map((mm) => {
            const y = toY(mm);
            return y < 0 || y > height ? null : (
              <path key={mm} className={mm % main === 0 ? 'gm' : 'g'} d={`M0 ${y.toFixed(1)}H${width}`} />
            );
          })}
          {toX(0) > 0 && toX(0) < width && <path className="datum" d={`M${toX(0)} 0V${height}`} />}
          {toY(0) > 0 && toY(0) < height && <path className="datum" d={`M0 ${toY(0)}H${width}`} />}
        </g>
        {xs.map((mm) => {
          const [a, b] = [clip(Math.min(toX(mm), toX(mm + step)), width), clip(Math.max(toX(mm), toX(mm + step)), width)];
          const fill = `var(--neat-${dark(mm) ? 'a' : 'b'})`;
          return b - a < 0.1 ? null : (
            <g key={mm} fill={fill}>
              <rect x={a} y={-BAND} width={b - a} height={BAND} />
              <rect x={a} y={height} width={b - a} height={BAND} />
            </g>
          );
        })}
        {ys.map((mm) => {
          const [a, b] = [clip(Math.min(toY(mm), toY(mm + step)), height), clip(Math.max(toY(mm), toY(mm + step)), height)];
          const fill = `var(--neat-${dark(mm) ? 'a' : 'b'})`;
          return b - a < 0.1 ? null : (
            <g key={mm} fill={fill}>
              <rect x={-BAND} y={a} width={BAND} height={b - a} />
              <rect x={width} y={a} width={BAND} height={b - a} />
            </g>
          );
        })}
        <g fill="none" stroke="var(--neat-a)" strokeWidth=".8">
          <rect x={-BAND} y={-BAND} width={width + 2 * BAND} height={height + 2 * BAND} />
          <rect width={width} height={height} />
        </g>
        <g style={{ fill: 'var(--ink-2)' }}>
          {xs
            .filter((mm) => mm % main === 0 && toX(mm) > 14 && toX(mm) < width - 14)
            .map((mm) => (
              <text key={mm} x={toX(mm)} y={-BAND - 2} textAnchor="middle">
                {figure(mm)}
              </text>
            ))}
          {ys
            .filter((mm) => mm % main === 0 && toY(mm) > 14 && toY(mm) < height - 14)
            .map((mm) => (
              <text key={mm} transform={`translate(${-BAND - 2} ${toY(mm)}) rotate(-90)`} textAnchor="middle">
                {figure(mm)}
              </text>
            ))}
        </g>
      </g>
    </svg>
  );
});

/** The selected part's extent: side and up in front, fore at the side. */
export function Dimensions({
  side,
  box,
  toX,
  toY,
  width,
  height,
}: {
  side: 'front' | 'side';
  box: Box;
  toX: (mm: number) => number;
  toY: (mm: number) => number;
  width: number;
  height: number;
}) {
  const mm = box.map((v) => v * 1000);
  const [lo, hi] = side === 'front' ? [mm[0], mm[3]] : [mm[2], mm[5]];
  const name = side === 'front' ? 'side' : 'fore';
  const keep = (v: number, size: number, edge = 12) => Math.min(size - edge, Math.max(edge, v));
  const yTop = keep(toY(mm[4]) - 14, height, 16);
  const xUp = keep(Math.min(toX(mm[0]), toX(mm[3])) - 14, width, 14);
  const [xa, xb] = [toX(lo), toX(hi)];
  const [ya, yb] = [toY(mm[4]), toY(mm[1])];
  const wide = (hi - lo).toFixed(1);
  const high = (mm[4] - mm[1]).toFixed(1);
  const end = (x: number) =>
    name === 'side' ? (
      <path d={`M${x} ${yTop - 4}v8`} strokeWidth="1.6" style={{ strokeDasharray: 'none' }} />
    ) : (
      <circle cx={x} cy={yTop} r="2.4" style={{ fill: 'var(--water)', strokeDasharray: 'none' }} />
    );
  return (
    <>
      <g className={`${name}-l`} fill="none" strokeWidth="1.2">
        <path d={`M${xa} ${yTop}L${xb} ${yTop}`} />
        {end(xa)}
        {end(xb)}
      </g>
      <text className={`dimt ${name}-t`} x={keep((xa + xb) / 2, width, 40)} y={yTop - 5} textAnchor="middle">
        {wide}
        <tspan className="w" dx="4">
          {name}
        </tspan>
      </text>
      {side === 'front' && (
        <>
          <g className="up-l" fill="none" strokeWidth="1.2">
            <path d={`M${xUp} ${ya}V${yb}`} />
            <path
              d={`M${xUp - 3.5} ${ya + 5}L${xUp} ${ya}l3.5 5M${xUp - 3.5} ${yb - 5}L${xUp} ${yb}l3.5 -5`}
              style={{ strokeDasharray: 'none' }}
            />
          </g>
          <text
            className="dimt up-t"
            transform={`rotate(-90 ${xUp} ${keep((ya + yb) / 2, height, 40)})`}
            x={xUp}
            y={keep((ya + yb) / 2, height, 40) - 5}
            textAnchor="middle"
          >
            {high}
            <tspan className="w" dx="4">
              up
            </tspan>
          </text>
        </>
      )}
    </>
  );
}
