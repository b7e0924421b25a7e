'use client';
import { useEffect, useState } from 'react';
import type { Model } from '@/core/model';
import { loadModel, useFetching } from './stagehooks';

/** A model of the piece by its SHA-256, as it is parsed; why it did not come. */
export function useModelData(piece: string, model: string): { data: Model | null; error: string | null } {
  const [state, setState] = useState<{ model: string; data: Model | null; error: string | null }>({ model, data: null, error: null });
  const tries = useFetching((s) => s.tries);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what did not come is asked for anew with every try
  useEffect(() => {
    let gone = false;
    setState((s) => (s.error ? { ...s, error: null } : s));
    loadModel(piece, model).then(
      (data) => !gone && setState({ model, data, error: null }),
      (e: Error) => !gone && setState({ model, data: null, error: e.message }),
    );
    return () => {
      gone = true;
    };
  }, [piece, model, tries]);
  return state.model === model ? state : { data: null, error: null };
}
