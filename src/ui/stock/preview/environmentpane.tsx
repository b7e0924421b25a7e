'use client';
import { useEffect, useState } from 'react';
import type { EnvironmentFacts, Pixels } from '@/core/intake';
import { computing } from '@/worker/browser';
import { say } from '../../kit/say';
import { NotThere } from '../../piece/notthere';
import { PixelCanvas } from './pixels';

/** The environment on a mirror ball and a matte one, and unrolled with its brightest place marked. */
export function EnvironmentPane({ url, name, facts }: { url: string; name: string; facts: EnvironmentFacts }) {
  const [file, setFile] = useState<Uint8Array | null>(null);
  // as bright as a mean of a fifth looks: grey card
  const [ev, setEv] = useState(() => Math.round((-2.3 - facts.exposureEv) * 2) / 2);
  const [bearing, setBearing] = useState(0);
  const [drawn, setDrawn] = useState<Record<'mirror' | 'matte' | 'whole', Pixels> | null>(null);
  const [lost, setLost] = useState<string | null>(null);
  const [tries, setTries] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what did not come is asked for anew with every try
  useEffect(() => {
    let gone = false;
    setLost(null);
    const away = () => {
      throw new Error('the server does not answer');
    };
    fetch(url)
      .catch(away)
      .then(async (r) => {
        if (!r.ok) throw new Error(`the server answered with ${r.status}`);
        const bytes = new Uint8Array(await r.arrayBuffer());
        if (!gone) setFile(bytes);
      })
      .catch((e: Error) => !gone && setLost(e.message));
    return () => {
      gone = true;
    };
  }, [url, tries]);
  useEffect(() => {
    if (!file) return;
    let gone = false;
    computing.drawEnvironment(file, 216, ev, bearing).then(
      (d) => !gone && setDrawn(d),
      (e: Error) => say.error(e.message),
    );
    return () => {
      gone = true;
    };
  }, [file, ev, bearing]);
  const [x, y] = [facts.brightest.bearingDeg / 360 + 0.5, 0.5 - facts.brightest.heightDeg / 180];
  return (
    <div
      className="relative water border border-[color:var(--ink)] flex-none overflow-hidden"
      style={{ height: 300 }}
      data-view="environment"
    >
      <div className="absolute left-3 right-3 top-3 flex items-center justify-between gap-3">
        <PixelCanvas pixels={drawn?.mirror ?? null} label={`${name} on a mirror ball`} view="mirror-ball" className="w-[176px] h-[176px]" />
        <PixelCanvas
          pixels={drawn?.matte ?? null}
          label={`${name} on a matte white ball`}
          view="matte-ball"
          className="w-[176px] h-[176px]"
        />
        <div className="relative" style={{ width: 268, height: 134 }}>
          <PixelCanvas
            pixels={drawn?.whole ?? null}
            label={`${name}, unrolled`}
            view="unrolled"
            className="w-full h-full border border-[color:var(--ink)]"
          />
          <svg
            className="absolute"
            style={{ left: x * 268 - 11, top: y * 134 - 11 }}
            width="22"
            height="22"
            viewBox="0 0 22 22"
            aria-hidden="true"
            fill="none"
          >
            <circle cx="11" cy="11" r="8" stroke="var(--ink)" strokeWidth="4" />
            <circle cx="11" cy="11" r="8" stroke="var(--brass)" strokeWidth="2" />
          </svg>
        </div>
      </div>
      {lost ? (
        <NotThere what="The environment" why={lost} again={() => setTries(tries + 1)} />
      ) : (
        !drawn && <p className="absolute inset-0 grid place-items-center text-small soft">The environment is being drawn …</p>
      )}
      <p className="absolute left-3 text-micro soft" style={{ top: 194 }}>
        mirror ball, white matte ball, and all round; the ring marks the brightest place
      </p>
      <div
        className="absolute left-2 right-2 bottom-2 grid gap-x-4 gap-y-1 px-3 py-2 bg-[color:var(--color-base-100)] border border-[color:var(--hair-strong)] text-small"
        style={{ gridTemplateColumns: 'auto 1fr auto' }}
      >
        <Slide
          label="Exposure of this preview"
          value={ev}
          min={-12}
          max={12}
          step={0.5}
          words={`${ev > 0 ? '+' : ev < 0 ? '−' : ''}${Math.abs(ev).toFixed(1)} stops`}
          onChange={setEv}
        />
        <Slide label="Turn" value={bearing} min={-180} max={180} step={5} words={`${bearing}°`} onChange={setBearing} />
      </div>
    </div>
  );
}

function Slide({
  label,
  value,
  min,
  max,
  step,
  words,
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  words: string;
  onChange: (v: number) => void;
}) {
  return (
    <>
      <span className="soft">{label}</span>
      <input
        type="range"
        aria-label={label}
        min={min}
        max={max}
        step={step}
        value={value}
        style={{ accentColor: 'var(--brass)' }}
        onChange={(e) => onChange(Number(e.target.value))}
      />
      <span className="num text-right" style={{ minWidth: 76 }}>
        {words}
      </span>
    </>
  );
}
