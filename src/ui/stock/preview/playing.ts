'use client';
import { useEffect, useState } from 'react';

/** Seconds since it began to play; held where it is when it is stopped. Nothing runs while it is held. */
export function usePlaying(
  seconds: number,
  loop: boolean,
): { playing: boolean; timeS: number; play: (on: boolean) => void; seek: (s: number) => void } {
  const [playing, setPlaying] = useState(
    () => typeof window !== 'undefined' && !window.matchMedia('(prefers-reduced-motion: reduce)').matches,
  );
  const [timeS, setTime] = useState(0);
  useEffect(() => {
    if (!playing || seconds <= 0) return;
    let last: number | null = null;
    let frame = 0;
    const tick = (now: number) => {
      const by = last === null ? 0 : Math.min(0.25, (now - last) / 1000);
      last = now;
      setTime((t) => {
        const next = t + by;
        if (next < seconds) return next;
        if (loop) return next % seconds;
        setPlaying(false);
        return seconds;
      });
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [playing, seconds, loop]);
  return {
    playing,
    timeS,
    play: (on) => {
      if (on && timeS >= seconds) setTime(0);
      setPlaying(on);
    },
    seek: (s) => {
      setPlaying(false);
      setTime(s);
    },
  };
}
