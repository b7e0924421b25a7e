'use client';
/** What the wearer's face does, by sliders in the rack's place, for one looks at the pictures meanwhile. */
import { X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { FACE_STRIP } from '@/core/form';
import { capital } from '@/core/words/counted';
import { sidesOf, unitWords, WHOLE_UNITS, type WholeUnit, weightsOf } from '@/core/words/face';
import { Check } from '../kit';
import { Recorder } from './recorder';
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
        <HeadSliders />
        {rows.map((row) => (
          <SliderRow key={row} label={capital(unitWords(row))} title={unitWords(row)} shown={`${Math.round(weightOf(row) * 100)}`}>
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
          </SliderRow>
        ))}
      </div>
      <div className="flex flex-col gap-1.5 px-3 py-2 border-t border-[color:var(--hair)]">
        <Check label="Left and right apart" checked={apart} onChange={setApart} />
        <Recorder />
      </div>
    </aside>
  );
}

const HEAD = [
  ['yawDeg', 'Head turns', 75, 'its left', 'its right'],
  ['pitchDeg', 'Head nods', 45, 'down', 'up'],
  ['rollDeg', 'Head tilts', 40, 'its right', 'its left'],
] as const;

function HeadSliders() {
  const head = useFit((s) => s.pose.head);
  const { takeHead } = useFit.getState();
  return HEAD.map(([k, label, most, over, under]) => {
    const deg = Math.round(head[k]);
    return (
      <SliderRow key={k} label={label} title={`+ to ${over}, − to ${under}`} shown={`${deg}°`.replace('-', '−')}>
        <input
          type="range"
          min={-most}
          max={most}
          step={1}
          style={{ accentColor: 'var(--brass)', width: '100%' }}
          value={deg}
          aria-label={label}
          aria-valuetext={`${deg}° to ${deg < 0 ? under : over}`}
          onChange={(e) => takeHead({ [k]: Number(e.target.value) })}
        />
      </SliderRow>
    );
  });
}

function SliderRow({ label, title, shown, children }: { label: string; title: string; shown: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the slider is the child
    <label className="grid items-center gap-x-2 h-[25px]" style={{ gridTemplateColumns: '104px 1fr 26px' }}>
      <span className="truncate" title={title}>
        {label}
      </span>
      {children}
      <span className="num text-right text-micro">{shown}</span>
    </label>
  );
}
