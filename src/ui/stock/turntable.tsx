'use client';
import { RotateCw } from 'lucide-react';
import { useRef, useState } from 'react';
import type { Model } from '@/core/intake';
import type { TableLook } from '@/stage';
import { Choice, useSize, useTurning } from '../kit';
import { NotThere } from '../piece/notthere';
import { pixelRatio, useDraw } from '../piece/stagehooks';
import { LayoutMenu } from './takeaway';

type Look = TableLook | 'uv';
const LOOKS: [Look, string][] = [
  ['lit', 'As lit'],
  ['bare', 'Without pictures'],
  ['wire', 'Triangles'],
  ['normals', 'Normals'],
  ['uv', 'UV layout'],
];

/** The model as it stands, on a table one can turn; and its UV layout. */
export function Turntable({ name, model, data, error }: { name: string; model: string; data: Model | null; error: string | null }) {
  const { ref, width, height } = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [look, setLook] = useState<Look>('lit');
  const { headingDeg, turn, handlers } = useTurning(26);
  useDraw(
    (stage) => {
      if (canvas.current && width > 0 && data && look !== 'uv')
        stage.drawTurntable(canvas.current, model, { width, height, ratio: pixelRatio() }, (headingDeg * Math.PI) / 180, look);
    },
    [width, height, data, look, headingDeg, model],
  );
  return (
    <div
      ref={ref}
      className="relative water border border-[color:var(--ink)] overflow-hidden flex-none"
      style={{ height: 252, touchAction: 'none', cursor: look === 'uv' ? 'default' : 'grab' }}
      {...(look === 'uv' ? {} : handlers)}
    >
      {look !== 'uv' && <Dial width={width} />}
      {look === 'uv' ? (
        data && <UvLayout data={data} width={width} height={height} />
      ) : (
        <canvas
          ref={canvas}
          className="plate-canvas"
          role="img"
          aria-label={`${name} on the turntable`}
          data-view="turntable"
          data-ready={data ? model : ''}
        />
      )}
      {!data && <NotThere what="The model" why={error} />}
      <Choice
        className="absolute left-2 top-2"
        label="Look"
        options={LOOKS.map(([value, label]) => ({ value, label }))}
        value={look}
        onChange={setLook}
      />
      {look === 'uv' && data && (
        <div className="absolute right-2 top-2">
          <LayoutMenu name={name} data={data} />
        </div>
      )}
      {look !== 'uv' && (
        <>
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight absolute right-2 top-2"
            title="Turn the table by 45°"
            onClick={() => turn(45)}
          >
            <RotateCw className="ico" />
            Turn
          </button>
          <span className="absolute right-3 bottom-2 text-micro soft">
            heading <span className="num">{String(Math.round(headingDeg) % 360).padStart(3, '0')}</span>°
          </span>
        </>
      )}
    </div>
  );
}

function Dial({ width }: { width: number }) {
  const ticks = Array.from({ length: 72 }, (_, i) => {
    const a = (i / 72) * Math.PI * 2;
    const r = i % 6 ? 176 : 172;
    return `M${(190 + Math.cos(a) * 180).toFixed(1)} ${(46 + Math.sin(a) * 36).toFixed(1)}L${(190 + Math.cos(a) * r).toFixed(1)} ${(46 + (Math.sin(a) * r) / 5).toFixed(1)}`;
  });
  return (
    <svg
      className="absolute bottom-[12px]"
      style={{ left: width / 2 - 190 }}
      width="380"
      height="92"
      viewBox="0 0 380 92"
      aria-hidden="true"
      fill="none"
    >
      <ellipse cx="190" cy="46" rx="180" ry="36" stroke="var(--water-line)" fill="var(--shoal)" fillOpacity=".55" />
      <path d={ticks.join('')} stroke="var(--ink)" strokeWidth=".9" strokeOpacity=".7" />
      <path d="M190 82v8" stroke="var(--brass)" strokeWidth="3" />
    </svg>
  );
}

/** So many triangles are drawn; a layout with more is black anyway. */
const MOST_LINES = 40_000;

/** First UV set of every shape over the square 0–1, a colour of the chart's own for each shape. */
function UvLayout({ data, width, height }: { data: Model; width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const shapes = data.meshes.flatMap((m) => m.primitives);
  const mapped = shapes.filter((p) => p.uvs);
  useDraw(() => {
    const c = canvas.current;
    const g = c?.getContext('2d');
    if (!c || !g || width === 0) return;
    const ratio = pixelRatio();
    c.width = width * ratio;
    c.height = height * ratio;
    g.scale(ratio, ratio);
    const side = height - 44;
    const [x0, y0] = [(width - side) / 2, 34];
    const style = getComputedStyle(c);
    const token = (name: string) => style.getPropertyValue(name).trim();
    g.fillStyle = token('--color-base-100');
    g.fillRect(x0, y0, side, side);
    g.strokeStyle = token('--grat-main');
    g.lineWidth = 1;
    for (let i = 1; i < 4; i++) {
      g.strokeRect(x0 + (side * i) / 4, y0, 0, side);
      g.strokeRect(x0, y0 + (side * i) / 4, side, 0);
    }
    let left = MOST_LINES;
    const hues = ['--axis-side', '--axis-up', '--axis-fore', '--ink'].map(token);
    mapped.forEach((p, i) => {
      const uv = p.uvs as Float32Array;
      g.strokeStyle = hues[i % hues.length];
      g.lineWidth = 0.5;
      g.beginPath();
      for (let t = 0; t + 2 < p.triangles.length && left > 0; t += 3, left--) {
        for (let k = 0; k <= 3; k++) {
          const v = p.triangles[t + (k % 3)];
          const [x, y] = [x0 + uv[v * 2] * side, y0 + uv[v * 2 + 1] * side];
          if (k === 0) g.moveTo(x, y);
          else g.lineTo(x, y);
        }
      }
      g.stroke();
    });
    g.strokeStyle = token('--ink');
    g.lineWidth = 1;
    g.strokeRect(x0, y0, side, side);
  }, [data, width, height]);
  return mapped.length === 0 ? (
    <p className="absolute inset-0 grid place-items-center text-small soft">This model has no UVs: pictures cannot be placed on it.</p>
  ) : (
    <canvas
      ref={canvas}
      className="absolute inset-0 w-full h-full"
      role="img"
      aria-label={`UV layout: ${mapped.length} of ${shapes.length} shapes have UVs`}
      data-view="uv"
    />
  );
}
