'use client';
import { useRef, useState } from 'react';
import type { PictureFacts } from '@/core/intake';
import type { Corners } from '@/core/math';
import type { StepDraft } from '@/core/piece';
import { straightSize } from '@/core/prepare';
import { Choice, CountField, useSize } from '../../kit';

type Tool = 'look' | 'crop' | 'straighten';
type Corner = [number, number];
const NAMES = ['top picture left', 'top picture right', 'bottom picture right', 'bottom picture left'];

/** A picture on gridded water, and the two things one does to it by hand: cutting, and straightening by its four corners. */
export function PicturePane({
  url,
  name,
  facts,
  busy,
  onStep,
}: {
  url: string;
  name: string;
  facts: PictureFacts;
  busy: boolean;
  onStep: (d: StepDraft) => void;
}) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const [tool, setTool] = useState<Tool>('look');
  const { width: w, height: h } = facts;
  const whole: Corner[] = [
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ];
  const inset = (share: number): Corner[] =>
    whole.map(([x, y]) => [Math.round(w * share + x * (1 - 2 * share)), Math.round(h * share + y * (1 - 2 * share))]);
  const [corners, setCorners] = useState<Corner[]>(inset(0.1));
  const scale = Math.min((width - 24) / w, (height - (tool === 'look' ? 24 : 60)) / h, 4);
  const [x0, y0] = [(width - w * scale) / 2, (height - (tool === 'look' ? 0 : 36) - h * scale) / 2];
  const pick = (t: Tool) => {
    setTool(t);
    setCorners(inset(0.1));
  };
  const clampTo = (v: number, most: number) => Math.round(Math.min(most, Math.max(0, v)));
  const move = (i: number, x: number, y: number) =>
    setCorners((c) =>
      c.map((p, k): Corner => {
        const [nx, ny] = [clampTo(x, w), clampTo(y, h)];
        if (k === i) return [nx, ny];
        if (tool !== 'crop') return p;
        // a cut stays upright: neighbours follow
        const sameX = (i === 0 && k === 3) || (i === 3 && k === 0) || (i === 1 && k === 2) || (i === 2 && k === 1);
        const sameY = (i === 0 && k === 1) || (i === 1 && k === 0) || (i === 2 && k === 3) || (i === 3 && k === 2);
        return [sameX ? nx : p[0], sameY ? ny : p[1]];
      }),
    );
  const cut = {
    x: Math.min(corners[0][0], corners[1][0]),
    y: Math.min(corners[0][1], corners[3][1]),
    width: Math.max(1, Math.abs(corners[1][0] - corners[0][0])),
    height: Math.max(1, Math.abs(corners[3][1] - corners[0][1])),
  };
  const setCut = (c: typeof cut) => {
    const width1 = Math.min(c.width, w - c.x);
    const height1 = Math.min(c.height, h - c.y);
    setCorners([
      [c.x, c.y],
      [c.x + width1, c.y],
      [c.x + width1, c.y + height1],
      [c.x, c.y + height1],
    ]);
  };
  const straight = straightSize(corners as unknown as Corners);
  const apply = () => {
    if (busy) return;
    if (tool === 'crop') onStep({ step: 'crop', settings: cut });
    else onStep({ step: 'straighten', settings: { corners: corners as never, ...straight } });
    setTool('look');
  };
  return (
    <div
      ref={ref}
      className="relative water gridded border border-[color:var(--ink)] flex-none overflow-hidden"
      style={{ height: 300 }}
      data-view="picture"
    >
      {width > 0 && (
        // biome-ignore lint/performance/noImgElement: a stock file is shown as it is
        <img
          src={url}
          alt={name}
          className="absolute max-w-none"
          style={{ left: x0, top: y0, width: w * scale, height: h * scale, imageRendering: scale > 2 ? 'pixelated' : 'auto' }}
        />
      )}
      <Choice
        className="absolute left-2 top-2 z-10"
        label="Work on the picture"
        options={[
          { value: 'look', label: 'As it is' },
          { value: 'crop', label: 'Cut' },
          { value: 'straighten', label: 'Straighten' },
        ]}
        value={tool}
        onChange={pick}
      />
      {tool !== 'look' && width > 0 && (
        <>
          <svg className="absolute inset-0 w-full h-full" style={{ pointerEvents: 'none' }} aria-hidden="true">
            <path
              d={`M0 0H${width}V${height}H0Z M${corners.map(([x, y]) => `${x0 + x * scale} ${y0 + y * scale}`).join('L')}Z`}
              fill="var(--ink)"
              fillOpacity=".45"
              fillRule="evenodd"
            />
            <path
              d={`M${corners.map(([x, y]) => `${x0 + x * scale} ${y0 + y * scale}`).join('L')}Z`}
              fill="none"
              stroke="var(--brass)"
              strokeWidth="2"
            />
          </svg>
          {corners.map(([x, y], i) => (
            <CornerHandle
              key={NAMES[i]}
              label={`Corner ${NAMES[i]}, ${x} across, ${y} down`}
              left={x0 + x * scale}
              top={y0 + y * scale}
              onMove={(dx, dy) => move(i, x + dx / scale, y + dy / scale)}
              onStep={(dx, dy) => move(i, x + dx, y + dy)}
            />
          ))}
          <div className="absolute left-2 right-2 bottom-2 flex items-center gap-2.5 px-2 py-1 bg-[color:var(--color-base-100)] border border-[color:var(--hair-strong)]">
            {tool === 'crop' ? (
              <>
                <CountField
                  before="close"
                  whole
                  label="across"
                  value={cut.x}
                  unit="px"
                  min={0}
                  max={w - 1}
                  width={84}
                  onChange={(v) => setCut({ ...cut, x: v })}
                />
                <CountField
                  before="close"
                  whole
                  label="down"
                  value={cut.y}
                  unit="px"
                  min={0}
                  max={h - 1}
                  width={84}
                  onChange={(v) => setCut({ ...cut, y: v })}
                />
                <CountField
                  before="close"
                  whole
                  label="wide"
                  value={cut.width}
                  unit="px"
                  min={1}
                  max={w}
                  width={84}
                  onChange={(v) => setCut({ ...cut, width: v })}
                />
                <CountField
                  before="close"
                  whole
                  label="high"
                  value={cut.height}
                  unit="px"
                  min={1}
                  max={h}
                  width={84}
                  onChange={(v) => setCut({ ...cut, height: v })}
                />
              </>
            ) : (
              <span className="text-small">
                Set the corners on those of what was photographed: it becomes{' '}
                <span className="num">
                  {straight.width} × {straight.height}
                </span>{' '}
                px.
              </span>
            )}
            <button type="button" className={`fix fix-main ml-auto ${busy ? 'busy' : ''}`} aria-disabled={busy} onClick={apply}>
              {tool === 'crop' ? 'Cut it' : 'Straighten it'}
            </button>
          </div>
        </>
      )}
    </div>
  );
}

/** A ring to drag; arrow keys move it by a pixel, with Alt by ten. */
function CornerHandle({
  label,
  left,
  top,
  onMove,
  onStep,
}: {
  label: string;
  left: number;
  top: number;
  onMove: (dx: number, dy: number) => void;
  onStep: (dx: number, dy: number) => void;
}) {
  const from = useRef<{ x: number; y: number } | null>(null);
  const KEYS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  return (
    <button
      type="button"
      aria-label={label}
      className="absolute grid place-items-center"
      style={{ left: left - 12, top: top - 12, width: 24, height: 24, cursor: 'move', touchAction: 'none' }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { x: e.clientX, y: e.clientY };
      }}
      onPointerMove={(e) => {
        if (!from.current) return;
        onMove(e.clientX - from.current.x, e.clientY - from.current.y);
        from.current = { x: e.clientX, y: e.clientY };
      }}
      onPointerUp={() => {
        from.current = null;
      }}
      onKeyDown={(e) => {
        const by = KEYS[e.key];
        if (!by) return;
        e.preventDefault();
        const n = e.altKey ? 10 : 1;
        onStep(by[0] * n, by[1] * n);
      }}
    >
      <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
        <circle cx="8" cy="8" r="6" fill="var(--color-base-100)" stroke="var(--ink)" strokeWidth="1.6" />
        <path d="M8 4v8M4 8h8" stroke="var(--brass)" strokeWidth="1.4" />
      </svg>
    </button>
  );
}
