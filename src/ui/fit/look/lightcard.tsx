'use client';
/** What the piece is lit by: an environment, turned on its dome, as bright and as blurred as asked; the exposure of the picture. */
import { useEffect, useRef, useState } from 'react';
import { type Environment, litBy, type Surroundings, settings, usualSurroundings } from '@/core/piece';
import { SKIES, SKY_LABELS } from '@/core/words/skies';
import { NumField } from '../../kit';
import { useDocument, usePiece } from '../../piece/context';
import { type LightLook, loadLight } from '../../piece/loadlight';
import { Card, Line } from '../cards/card';

const DOME_PX = 148;
const keyOf = (e: Environment) => (typeof e === 'string' ? e : `stock ${e.stock}`);
const rounded = (deg: number) => ((Math.round(deg) + 540) % 360) - 180 + 0;

export function LightCard() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const now = doc.settings.surroundings;
  const put = (set: Partial<Surroundings>) => commit(settings({ surroundings: { ...now, ...set } }));
  const files = Object.values(doc.stock).filter((s) => s.kind === 'environment');
  const chosen = keyOf(now.environment);
  const gone = chosen.startsWith('stock ') && !files.some((f) => `stock ${f.id}` === chosen);
  const choose = (value: string) =>
    put({ environment: value.startsWith('stock ') ? { stock: value.slice(6) } : (value as Exclude<Environment, object>) });
  const field = (label: string, value: number, unit: '°' | '×' | '%' | 'EV', min: number, max: number, keep: (v: number) => void) => (
    <Line label={`${label}, ${unit}`}>
      <span className="inline-block w-[74px]">
        <NumField
          label={`${label} of the light`}
          value={unit === '°' ? (value * Math.PI) / 180 : value}
          dimension={unit === '°' ? 'angle' : unit === '%' ? 'share' : 'factor'}
          unit={unit === 'EV' ? '×' : unit}
          decimals={unit === '°' || unit === '%' ? 0 : 2}
          step={unit === '°' ? Math.PI / 36 : 0.1}
          min={unit === '°' ? (min * Math.PI) / 180 : min}
          max={unit === '°' ? (max * Math.PI) / 180 : max}
          onChange={(v) => keep(unit === '°' ? Math.round((v * 180) / Math.PI) : v)}
        />
      </span>
    </Line>
  );
  const lit = litBy(doc).environment;
  return (
    <Card title="Light">
      <Line label="Environment">
        <select
          className="field h-[26px]! px-1! text-small"
          style={{ width: 178 }}
          aria-label="Environment"
          value={gone ? 'gone' : chosen}
          onChange={(e) => choose(e.target.value)}
        >
          {gone && (
            <option value="gone" disabled>
              no more in Stock
            </option>
          )}
          <option value="fitting">Fitting light</option>
          <optgroup label="Ours">
            {SKIES.map((s) => (
              <option key={s} value={s}>
                {SKY_LABELS[s]}
              </option>
            ))}
          </optgroup>
          {files.length > 0 && (
            <optgroup label="Of Stock">
              {files.map((f) => (
                <option key={f.id} value={`stock ${f.id}`}>
                  {f.name}
                </option>
              ))}
            </optgroup>
          )}
        </select>
      </Line>
      <div className="flex gap-3 mt-1.5">
        {lit && <Dome environment={lit} turnDeg={now.turnDeg} onTurn={(turnDeg) => put({ turnDeg })} />}
        <div className="flex-1 min-w-0">
          {lit && field('Turn', now.turnDeg, '°', -360, 360, (turnDeg) => put({ turnDeg }))}
          {field('Strength', now.strength, '×', 0, 16, (strength) => put({ strength }))}
          {lit && field('Blur behind', now.blur, '%', 0, 1, (blur) => put({ blur }))}
          {field('Exposure', now.exposureEv, 'EV', -6, 6, (exposureEv) => put({ exposureEv }))}
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight mt-1"
            onClick={() => commit(settings({ surroundings: usualSurroundings() }))}
          >
            As usual
          </button>
        </div>
      </div>
      <p className="text-micro soft mt-1.5">
        Parts and wearer are lit by it, in every view. Light is brought into the picture by the neutral tone mapping that Khronos publishes;
        what shows its colour as it is, is not.
      </p>
    </Card>
  );
}

/** The dome above, seen from below; dragged round its middle the environment turns. */
function Dome({ environment, turnDeg, onTurn }: { environment: string; turnDeg: number; onTurn: (deg: number) => void }) {
  const piece = usePiece((s) => s.id);
  const [look, setLook] = useState<LightLook | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const grip = useRef<{ from: number; turn: number } | null>(null);
  useEffect(() => {
    let gone = false;
    loadLight(piece, environment).then(
      (l) => !gone && setLook(l),
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, [piece, environment]);
  useEffect(() => {
    const x = canvas.current?.getContext('2d');
    if (!look || !x) return;
    const edge = Math.sqrt(look.dome.length / 4);
    x.canvas.width = edge;
    x.canvas.height = edge;
    x.putImageData(new ImageData(look.dome as Uint8ClampedArray<ArrayBuffer>, edge, edge), 0, 0);
    x.canvas.dataset.drawn = environment;
  }, [look, environment]);
  const turn = held ?? turnDeg;
  const angle = (e: React.PointerEvent) => {
    const r = e.currentTarget.getBoundingClientRect();
    return (Math.atan2(e.clientY - r.top - r.height / 2, e.clientX - r.left - r.width / 2) * 180) / Math.PI;
  };
  const sun = look?.main;
  const out = sun ? (1 - Math.max(0, sun.heightDeg) / 90) * (DOME_PX / 2) : 0;
  const bearing = sun ? ((sun.bearingDeg + turn) * Math.PI) / 180 : 0;
  return (
    <div className="shrink-0 text-micro soft text-center leading-[14px]" style={{ width: DOME_PX }}>
      fore
      <div
        className="relative cursor-grab touch-none"
        style={{ width: DOME_PX, height: DOME_PX }}
        title="The sky seen from below: its rim is the horizon. Drag it round"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          grip.current = { from: angle(e), turn };
        }}
        onPointerMove={(e) => grip.current && setHeld(rounded(grip.current.turn + angle(e) - grip.current.from))}
        onPointerUp={() => {
          if (grip.current && held !== null && held !== turnDeg) onTurn(held);
          grip.current = null;
          setHeld(null);
        }}
      >
        <canvas
          ref={canvas}
          data-view="dome"
          className="w-full h-full rounded-full border border-[color:var(--hair-strong)] bg-[#0c2029]"
          style={{ transform: `rotate(${turn}deg)` }}
        />
        {sun && (
          <span
            className="absolute rounded-full border border-[#14283a] bg-[#f4c542]"
            style={{
              width: 13,
              height: 13,
              left: DOME_PX / 2 + Math.sin(bearing) * out - 6.5,
              top: DOME_PX / 2 - Math.cos(bearing) * out - 6.5,
            }}
          />
        )}
      </div>
      aft; wearer’s left at the right
    </div>
  );
}
