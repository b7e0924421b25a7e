'use client';
import { useEffect } from 'react';
import { loadLight } from './loadlight';
import { useFetching } from './stagehooks';

/** Brings what a piece is lit by on stage, and shows nothing. @param onReady another key whenever another environment is on stage */
export function PieceLight({ piece, environment, onReady }: { piece: string; environment: string; onReady: (key: string) => void }) {
  const tries = useFetching((s) => s.tries);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what did not come is asked for anew with every try
  useEffect(() => {
    let gone = false;
    loadLight(piece, environment).then(
      () => !gone && onReady(environment),
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, [piece, environment, onReady, tries]);
  return null;
}
