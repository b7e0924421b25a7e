/** The wearer as the device's mattes see them, where those come late. */
import { useEffect } from 'react';
import { poseAtTime } from '@/core/form';
import { wearerCapture } from '@/core/run';
import { useFitRunRef } from '../run';
import { useFit } from '../state';

/** Keeps the wearer of so long ago beside what else is wrong with the mattes; a pose that is held has always been held. */
export function usePoorForm(): void {
  const run = useFitRunRef();
  const timeS = useFit((s) => s.timeS);
  const running = useFit((s) => s.running);
  const lagMs = useFit((s) => s.poor?.lagMs ?? 0);
  useEffect(() => {
    const { poor, take, set } = useFit.getState();
    if (!poor) return;
    const late = running && lagMs > 0;
    const { runner, show } = run.current;
    const form = late ? runner.still(wearerCapture(show.piece, poseAtTime(take, Math.max(0, timeS - lagMs / 1000)), timeS)).form : null;
    if (form !== poor.form) set({ poor: { ...poor, form } });
  }, [run, timeS, running, lagMs]);
  useEffect(
    () => () => {
      const { poor, set } = useFit.getState();
      if (poor?.form) set({ poor: { ...poor, form: null } });
    },
    [],
  );
}
