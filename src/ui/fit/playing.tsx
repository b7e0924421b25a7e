'use client';
/** The take that plays: its time goes on while it does, and the button that starts and stops it. */
import { Pause, Play } from 'lucide-react';
import { useEffect } from 'react';
import { useFit } from './state';

/** After a page that stood still the take goes on where it was, s. */
const MOST_STEP_S = 0.25;

export function usePlaying(): void {
  const playing = useFit((s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    const { tick } = useFit.getState();
    let frame = 0;
    let last: number | null = null;
    const run = (now: number) => {
      if (last !== null) tick(useFit.getState().timeS + Math.min(MOST_STEP_S, (now - last) / 1000));
      last = now;
      frame = requestAnimationFrame(run);
    };
    frame = requestAnimationFrame(run);
    return () => cancelAnimationFrame(frame);
  }, [playing]);
}

export function PlayButton() {
  const playing = useFit((s) => s.playing);
  const play = useFit((s) => s.play);
  return (
    <button
      type="button"
      className="btn btn-line btn-sm"
      title={playing ? 'Pause the Take (Space)' : 'Play the Take (Space)'}
      aria-pressed={playing}
      onClick={() => play(!playing)}
    >
      {playing ? <Pause className="ico" /> : <Play className="ico" />}
      {playing ? 'Pause' : 'Play'}
    </button>
  );
}
