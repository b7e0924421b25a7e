'use client';
import { useRef, useState } from 'react';
import { Area, AreaChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { SoundFacts } from '@/core/intake';
import { PlayBar } from './playbar';

/** The waveform, with what is silent at its ends marked, and the sound itself. */
export function SoundPane({ url, name, facts }: { url: string; name: string; facts: SoundFacts }) {
  const audio = useRef<HTMLAudioElement>(null);
  const [at, setAt] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const n = facts.waveform.length / 2;
  const data = Array.from({ length: n }, (_, i) => ({
    s: ((i + 0.5) / n) * facts.seconds,
    range: [facts.waveform[i * 2], facts.waveform[i * 2 + 1]],
  }));
  const edge = { stroke: 'var(--brass)', strokeWidth: 2, strokeDasharray: '4 3' };
  return (
    <div className="relative water border border-[color:var(--ink)] flex-none px-3 pt-3 pb-2" style={{ height: 300 }} data-view="sound">
      {n > 0 ? (
        <div role="img" aria-label={`Waveform of ${name}, ${facts.seconds.toFixed(2)} seconds`} style={{ height: 222 }}>
          <ResponsiveContainer width="100%" height="100%">
            <AreaChart data={data} margin={{ top: 4, right: 8, bottom: 0, left: -18 }}>
              <XAxis
                dataKey="s"
                type="number"
                domain={[0, facts.seconds]}
                tickFormatter={(v: number) => `${v.toFixed(facts.seconds < 10 ? 1 : 0)} s`}
                fontSize={11}
                stroke="var(--ink-2)"
              />
              <YAxis domain={[-1, 1]} ticks={[-1, 0, 1]} fontSize={11} stroke="var(--ink-2)" />
              <Area
                dataKey="range"
                type="linear"
                stroke="var(--ink)"
                strokeWidth={0.8}
                fill="var(--ink)"
                fillOpacity={0.75}
                isAnimationActive={false}
              />
              {facts.silence.startS > 0.05 && <ReferenceLine x={facts.silence.startS} {...edge} />}
              {facts.silence.endS > 0.05 && <ReferenceLine x={facts.seconds - facts.silence.endS} {...edge} />}
              {at > 0 && <ReferenceLine x={at} stroke="var(--brass)" strokeWidth={2.5} />}
            </AreaChart>
          </ResponsiveContainer>
        </div>
      ) : (
        <p className="grid place-items-center text-small soft" style={{ height: 222 }}>
          This sound could not be decoded here; the browser may still play it.
        </p>
      )}
      {/* biome-ignore lint/a11y/useMediaCaption: a sound as it came, without words of its own */}
      <audio
        ref={audio}
        src={url}
        preload="metadata"
        onTimeUpdate={(e) => setAt(e.currentTarget.currentTime)}
        onPlay={() => setPlaying(true)}
        onPause={() => setPlaying(false)}
        onError={() => setError('This browser does not play this sound.')}
      />
      <PlayBar
        playing={playing}
        timeS={at}
        seconds={facts.seconds}
        step={0.01}
        words={error ?? ''}
        onPlay={(on) =>
          void (on ? audio.current?.play().catch(() => setError('This browser does not play this sound.')) : audio.current?.pause())
        }
        onSeek={(s) => {
          if (audio.current) audio.current.currentTime = s;
          setAt(s);
        }}
      />
    </div>
  );
}
