'use client';
/** The page's run, for every card and view below Fit. */
import { createContext, type ReactNode, type RefObject, useContext, useRef } from 'react';
import type { Assets, Runner, Show } from '@/core/run';

export interface FitRun {
  show: Show;
  runner: Runner;
}
const Now = createContext<FitRun | null>(null);
const Models = createContext<Assets['models']>({});
const Latest = createContext<RefObject<FitRun> | null>(null);

export function FitRunProvider({ run, children }: { run: FitRun; children: ReactNode }) {
  const latest = useRef(run);
  latest.current = run;
  return (
    <Latest.Provider value={latest}>
      <Models.Provider value={run.show.assets.models}>
        <Now.Provider value={run}>{children}</Now.Provider>
      </Models.Provider>
    </Latest.Provider>
  );
}

/** The run, followed: with every edit and every move of a drag. */
export function useFitRun(): FitRun {
  const run = useContext(Now);
  if (!run) throw new Error('useFitRun needs Fit above it');
  return run;
}

/** The models at hand, by SHA-256: for what a move of a drag does not concern. */
export const useFitModels = () => useContext(Models);

/** The run as it is when it is asked: for what is pressed now and then, and need not be drawn anew with every move. */
export function useFitRunRef(): RefObject<FitRun> {
  const latest = useContext(Latest);
  if (!latest) throw new Error('useFitRunRef needs Fit above it');
  return latest;
}
