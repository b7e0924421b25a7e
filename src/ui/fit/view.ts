'use client';
import { useMemo, useRef } from 'react';
import { simulateCapture, type WearerPose } from '@/core/capture';
import { type FormSize, poseAtTime, SKELETONS, type Take } from '@/core/form';
import type { Model } from '@/core/intake';
import type { Piece } from '@/core/piece';
import { compile, Runner, type Show, type StageState, sourceOf } from '@/core/run';
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

const takeSource = (take: Take, form: FormSize) => sourceOf((timeS) => simulateCapture(poseAtTime(take, timeS), SKELETONS[form], timeS));

/** The page's one run: the piece compiled anew where it changed, and frames from it. */
export function useRun(piece: Piece, models: Readonly<Record<string, Model>>): { show: Show; runner: Runner } {
  const last = useRef<{ show: Show; runner: Runner } | null>(null);
  const take = useFit((s) => s.take);
  return useMemo(() => {
    const show = compile(piece, { models }, last.current?.show);
    const source = takeSource(take, piece.settings.form);
    const runner = last.current?.runner ?? new Runner(show, source);
    if (last.current) runner.change(show, source);
    last.current = { show, runner };
    return { show, runner };
  }, [piece, models, take]);
}

/** At rest in a pose: nothing lags. */
export const stillAt = (runner: Runner, form: FormSize, pose: WearerPose, timeS = 0): StageState =>
  runner.still(simulateCapture(pose, SKELETONS[form], timeS));

/** What Mirror and plates show: the take's moment, or the pose held. */
export function useStageState(run: { runner: Runner }, form: FormSize): StageState {
  const pose = useFit((s) => s.pose);
  const timeS = useFit((s) => s.timeS);
  const running = useFit((s) => s.running);
  return useMemo(() => (running && run.runner.frame(timeS)) || stillAt(run.runner, form, pose, timeS), [run, form, pose, timeS, running]);
}
