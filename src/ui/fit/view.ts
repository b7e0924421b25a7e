'use client';
import { useMemo, useRef } from 'react';
import type { Model } from '@/core/intake';
import type { Piece } from '@/core/piece';
import { compile, type Held, Runner, type Show, type StageState, takeSource, wearerCapture } from '@/core/run';
import { useFit } from './state';

/** The document with the drag under way laid over it. */
export function useShownPiece(doc: Piece): Piece {
  const draft = useFit((s) => s.draft);
  return useMemo(() => {
    const part = draft && doc.parts[draft.id];
    if (!draft || !part) return doc;
    return { ...doc, parts: { ...doc.parts, [part.id]: { ...part, offset: draft.offset } } };
  }, [doc, draft]);
}

/** The page's one run: the piece compiled anew where it changed, and frames from it. */
export function useRun(piece: Piece, models: Readonly<Record<string, Model>>): { show: Show; runner: Runner } {
  const last = useRef<{ show: Show; runner: Runner } | null>(null);
  const take = useFit((s) => s.take);
  return useMemo(() => {
    const show = compile(piece, { models }, last.current?.show);
    const source = takeSource(take, piece);
    const runner = last.current?.runner ?? new Runner(show, source);
    if (last.current) runner.change(show, source);
    last.current = { show, runner };
    return { show, runner };
  }, [piece, models, take]);
}

/** At rest in a pose: nothing lags. */
const stillAt = ({ runner, show }: { runner: Runner; show: Show }, pose: Held, timeS = 0): StageState =>
  runner.still(wearerCapture(show.piece, pose, timeS));

/** What Mirror and plates show: the take's moment, or the pose held. */
export function useStageState(run: { runner: Runner; show: Show }): StageState {
  const pose = useFit((s) => s.pose);
  const timeS = useFit((s) => s.timeS);
  const running = useFit((s) => s.running);
  return useMemo(() => (running && run.runner.frame(timeS)) || stillAt(run, pose, timeS), [run, pose, timeS, running]);
}
