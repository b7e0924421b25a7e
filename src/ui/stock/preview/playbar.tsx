'use client';
import { Pause, Play } from 'lucide-react';

/** Play or hold, and where it is. */
export function PlayBar({
  playing,
  timeS,
  seconds,
  step,
  words,
  onPlay,
  onSeek,
}: {
  playing: boolean;
  timeS: number;
  seconds: number;
  step: number;
  words: string;
  onPlay: (on: boolean) => void;
  onSeek: (s: number) => void;
}) {
  return (
    <div className="absolute left-2 right-2 bottom-2 flex items-center gap-2.5 px-2 py-1 bg-[color:var(--color-base-100)] border border-[color:var(--hair-strong)] text-small">
      <button type="button" className="btn btn-bare btn-sm btn-tight" onClick={() => onPlay(!playing)}>
        {playing ? <Pause className="ico" /> : <Play className="ico" />}
        {playing ? 'Pause' : 'Play'}
      </button>
      <input
        type="range"
        className="flex-1 min-w-0"
        aria-label="Time"
        min={0}
        max={seconds}
        step={step}
        value={Math.min(seconds, timeS)}
        style={{ accentColor: 'var(--brass)' }}
        onChange={(e) => onSeek(Number(e.target.value))}
      />
      <span className="num whitespace-nowrap" data-time={timeS.toFixed(2)}>
        {timeS.toFixed(2)} <span className="unit">of {seconds.toFixed(2)} s</span>
      </span>
      <span className="soft whitespace-nowrap">{words}</span>
    </div>
  );
}
