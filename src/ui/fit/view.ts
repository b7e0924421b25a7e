'use client';
import { useMemo } from 'react';
import { simulateCapture } from '@/core/capture';
import { evaluate, type StageState } from '@/core/evaluate';
import type { HeadTurn } from '@/core/form';
import type { Model } from '@/core/intake';
import type { Piece } from '@/core/piece';
import { useFit } from './state';

/** The document with the drag under way laid over it. */
export function useShownPiece(doc: Piece): Piece {
  const draft = useFit((s) => s.draft);
  return useMemo(() => {
    const part = draft && doc.parts[draft.id];
    if (!draft || part?.kind !== 'model') return doc;
    return { ...doc, parts: { ...doc.parts, [part.id]: { ...part, offset: draft.offset } } };
  }, [doc, draft]);
}

export function useStageState(piece: Piece, models: Readonly<Record<string, Model>>, turn: HeadTurn, timeS: number): StageState {
  return useMemo(() => evaluate(piece, models, simulateCapture(turn, timeS)), [piece, models, turn, timeS]);
}
