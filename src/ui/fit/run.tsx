'use client';
/** The page's run, for every card and view below Fit. */
import { createContext, useContext } from 'react';
import type { Runner, Show } from '@/core/run';

export const FitRun = createContext<{ show: Show; runner: Runner } | null>(null);
export function useFitRun(): { show: Show; runner: Runner } {
  const run = useContext(FitRun);
  if (!run) throw new Error('useFitRun needs Fit above it');
  return run;
}
