'use client';
/** What the wearer's face does, by sliders in the rack's place, for one looks at the pictures meanwhile. */
import { X } from 'lucide-react';
import { useState } from 'react';
import { FACE_STRIP } from '@/core/form';
import { capital } from '@/core/words/counted';
import { sidesOf, unitWords, WHOLE_UNITS, type WholeUnit, weightsOf } from '@/core/words/face';
import { Check } from '../kit';
import { useFit } from './state';

type Shown = ReturnType<typeof sidesOf>[number] | WholeUnit;
const isWhole = (row: Shown): row is WholeUnit => (WHOLE_UNITS as readonly string[]).includes(row);
const onesOf = (row: Shown) => (isWhole(row) ? sidesOf(row) : [row]);

export function FaceSliders() {
  const face = useFit((s) => s.pose.face) ?? {};
  const { takeFace, set } = useFit.getState();
  const [apart, setApart] = useState(false);
  const now = weightsOf(face);
  const rows: readonly Shown[] = apart ? WHOLE_UNITS.flatMap(sidesOf) : WHOLE_UNITS;
  const weightOf = (row: Shown) => Math.max(...onesOf(row).map((u) => now[u] ?? 0));
  const change = (row: Shown, value: number) => {
    takeFace(weightsOf({ ...now, ...Object.fromEntries(onesOf(row).map((u) => [u, value])) }));
  };
  return (
    <aside
      className="rack flex flex-col min-h-0 border-r border-[color:var(--hair-strong)] text-small"
      aria-label="What the face does"
      data-open=""
    >
      <header className="flex items-center gap-1 pl-3 pr-2 h-[38px] rule-b">
        <h2 className="text-[14px] font-semibold mr-auto">Face</h2>
        <button type="button" className="btn btn-bare btn-sm btn-tight" onClick={() => takeFace({})}>
          At rest
        </button>
        <button type="button" className="btn btn-bare btn-sm btn-icon" aria-label="Close the face" onClick={() => set({ panel: null })}>
          <X className="ico" />
        </button>
      </header>
      <p className="flex flex-wrap gap-1 px-3 pt-2 pb-1.5">
        {FACE_STRIP.map((p) => (
          <button key={p.id} type="button" className="btn btn-line btn-sm btn-tight" onClick={() => takeFace(p.face ?? {})}>
            {capital(p.label)}
          </button>
        ))}
      </p>
      <div className="overflow-y-auto min-h-0 flex-1 px-3 pb-1">
        {rows.map((row) => (
          <label key={row} className="grid items-center gap-x-2 h-[25px]" style={{ gridTemplateColumns: '104px 1fr 24px' }}>
            <span className="truncate" title={unitWords(row)}>
              {capital(unitWords(row))}
            </span>
            <input
              type="range"
              min={0}
              max={1}
              step={0.01}
              style={{ accentColor: 'var(--brass)', width: '100%' }}
              value={weightOf(row)}
              aria-label={capital(unitWords(row))}
              aria-valuetext={`${Math.round(weightOf(row) * 100)} %`}
              onChange={(e) => change(row, Number(e.target.value))}
            />
            <span className="num text-right text-micro">{Math.round(weightOf(row) * 100)}</span>
          </label>
        ))}
      </div>
      <div className="flex items-center px-3 h-[40px] border-t border-[color:var(--hair)]">
        <Check label="Left and right apart" checked={apart} onChange={setApart} />
      </div>
    </aside>
  );
}
