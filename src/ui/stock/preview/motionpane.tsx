'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import { figureAt, type Model, type MotionFacts, stickFigure } from '@/core/intake';
import { useSize, useTurning } from '../../kit';
import { NotThere } from '../../piece/notthere';
import { loadMotion, pixelRatio, useDraw, useFetching } from '../../piece/stagehooks';
import { PlayBar } from './playbar';
import { usePlaying } from './playing';

/** The clip on a stick figure: joints as rings, bones as slim double curves, on a floor of 500 mm squares. */
export function MotionPane({ piece, model, name, facts }: { piece: string; model: string; name: string; facts: MotionFacts }) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [data, setData] = useState<Model | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [clip, setClip] = useState(0);
  const { headingDeg, handlers } = useTurning(30);
  const now = facts.clips[clip];
  const { playing, timeS, play, seek } = usePlaying(now?.seconds ?? 0, true);
  const tries = useFetching((s) => s.tries);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what did not come is asked for anew with every try
  useEffect(() => {
    let gone = false;
    setError(null);
    loadMotion(piece, model).then(
      (m) => !gone && setData(m),
      (e: Error) => !gone && setError(e.message),
    );
    return () => {
      gone = true;
    };
  }, [piece, model, tries]);
  const figure = useMemo(() => (data ? stickFigure(data) : null), [data]);
  // the whole way of the clip, so that the figure neither leaves the picture nor swims in it
  const reach = useMemo(() => {
    if (!data || !figure || !now) return null;
    const box = [1e9, 1e9, 1e9, -1e9, -1e9, -1e9];
    for (let i = 0; i <= 24; i++) {
      const p = figureAt(data, figure, clip, (now.seconds * Math.min(i, 23.999)) / 24);
      for (let k = 0; k < p.length; k++) {
        box[k % 3] = Math.min(box[k % 3], p[k]);
        box[3 + (k % 3)] = Math.max(box[3 + (k % 3)], p[k]);
      }
    }
    return box;
  }, [data, figure, clip, now]);
  useDraw(() => {
    const c = canvas.current;
    const g = c?.getContext('2d', { willReadFrequently: true });
    if (!c || !g || !data || !figure || !reach || width === 0) return;
    const ratio = pixelRatio();
    c.width = width * ratio;
    c.height = height * ratio;
    g.scale(ratio, ratio);
    const style = getComputedStyle(c);
    draw(
      g,
      { width, height: height - 44, token: (n) => style.getPropertyValue(n).trim() },
      figureAt(data, figure, clip, timeS),
      figure.parents,
      reach,
      headingDeg,
    );
    c.dataset.drawn = String(Number(c.dataset.drawn ?? 0) + 1);
  }, [data, figure, reach, clip, timeS, headingDeg, width, height]);
  return (
    <div
      ref={ref}
      className="relative water border border-[color:var(--ink)] flex-none overflow-hidden"
      style={{ height: 300, cursor: 'grab', touchAction: 'none' }}
      data-view="motion"
      {...handlers}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 w-full h-full"
        role="img"
        aria-label={`${name} on a stick figure of ${facts.joints.length} joints`}
        data-ready={data ? 'yes' : ''}
      />
      {!data && <NotThere what="The clip" why={error} />}
      {facts.clips.length > 1 && (
        <select
          className="field absolute left-2 top-2"
          style={{ width: 190, height: 28 }}
          aria-label="Clip"
          value={clip}
          onChange={(e) => setClip(Number(e.target.value))}
        >
          {facts.clips.map((c, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: clips may share a name
            <option key={i} value={i}>
              {c.name}
            </option>
          ))}
        </select>
      )}
      <span className="absolute right-3 top-2 text-micro soft">
        heading <span className="num">{String(Math.round(headingDeg) % 360).padStart(3, '0')}</span>°
      </span>
      {now && (
        <PlayBar
          playing={playing}
          timeS={timeS}
          seconds={now.seconds}
          step={now.fps > 0 ? 1 / now.fps : 0.01}
          words={`frame ${Math.min(now.frames, Math.floor(timeS * now.fps + 1e-6) + 1)} of ${now.frames}`}
          onPlay={play}
          onSeek={seek}
        />
      )}
    </div>
  );
}

interface Ground {
  width: number;
  height: number;
  token: (name: string) => string;
}

/** A view from a little above, without perspective: lengths along one direction stay comparable. */
function draw(
  g: CanvasRenderingContext2D,
  { width, height, token }: Ground,
  p: Float32Array,
  parents: readonly number[],
  reach: readonly number[],
  headingDeg: number,
) {
  g.clearRect(0, 0, width, height + 60);
  const mid = [0, 1, 2].map((k) => (reach[k] + reach[k + 3]) / 2);
  const [a, tilt] = [(headingDeg * Math.PI) / 180, 0.22];
  const span = Math.max(Math.hypot(reach[3] - reach[0], reach[5] - reach[2]), (reach[4] - reach[1]) * 1.6, 1e-6);
  const scale = Math.min(width / span, (height - 30) / ((reach[4] - reach[1]) * Math.cos(tilt) + span * Math.sin(tilt) || 1e-6)) * 0.94;
  const to = (x: number, y: number, z: number): [number, number] => {
    const [dx, dy, dz] = [x - mid[0], y - mid[1], z - mid[2]];
    const side = dx * Math.cos(a) + dz * Math.sin(a);
    const depth = -dx * Math.sin(a) + dz * Math.cos(a);
    return [width / 2 + side * scale, height / 2 - (dy * Math.cos(tilt) - depth * Math.sin(tilt)) * scale + 8];
  };
  const line = (from: [number, number], end: [number, number]) => {
    g.moveTo(...from);
    g.lineTo(...end);
  };
  g.strokeStyle = token('--grat-main');
  g.lineWidth = 1;
  g.beginPath();
  const step = 0.5;
  const [x0, x1] = [Math.floor((reach[0] - 0.3) / step), Math.ceil((reach[3] + 0.3) / step)];
  const [z0, z1] = [Math.floor((reach[2] - 0.3) / step), Math.ceil((reach[5] + 0.3) / step)];
  if ((x1 - x0) * (z1 - z0) < 4000) {
    for (let x = x0; x <= x1; x++) line(to(x * step, reach[1], z0 * step), to(x * step, reach[1], z1 * step));
    for (let z = z0; z <= z1; z++) line(to(x0 * step, reach[1], z * step), to(x1 * step, reach[1], z * step));
  }
  g.stroke();
  const at = (i: number) => to(p[i * 3], p[i * 3 + 1], p[i * 3 + 2]);
  // spars: a slim double curve, thickest at its middle
  g.lineWidth = 1.3;
  g.strokeStyle = token('--ink');
  g.fillStyle = token('--color-base-100');
  parents.forEach((parent, i) => {
    if (parent < 0) return;
    const [from, end] = [at(parent), at(i)];
    const [dx, dy] = [end[0] - from[0], end[1] - from[1]];
    const length = Math.hypot(dx, dy);
    if (length < 1.5) return;
    const w = Math.min(4, length * 0.12);
    const [nx, ny] = [(-dy / length) * w, (dx / length) * w];
    const [mx, my] = [(from[0] + end[0]) / 2, (from[1] + end[1]) / 2];
    g.beginPath();
    g.moveTo(...from);
    g.quadraticCurveTo(mx + nx, my + ny, ...end);
    g.quadraticCurveTo(mx - nx, my - ny, ...from);
    g.fill();
    g.stroke();
  });
  parents.forEach((_, i) => {
    g.beginPath();
    g.arc(...at(i), 2.2, 0, Math.PI * 2);
    g.fill();
    g.stroke();
  });
}
