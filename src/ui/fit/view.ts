'use client';
import { useMemo, useRef } from 'react';
import { type LensView, lensCamera } from '@/core/capture';
import type { RestFrames } from '@/core/fit';
import type { Form } from '@/core/form';
import { bodyRest } from '@/core/form/body/rests';
import type { Model } from '@/core/intake';
import { type Hang, hasBody, isOnFace, type Piece, shownAsk, shownBody, shownWearer } from '@/core/piece';
import { type Assets, compile, type Held, Runner, restFramesOf, type Show, type StageState, takeSource, wearerCapture } from '@/core/run';
import { loadForm } from '../piece/wearers';
import { useFit } from './state';

/** The document with what is being dragged, and measures that a slider is held at, laid over it. */
export function useShownPiece(doc: Piece): Piece {
  const draft = useFit((s) => s.draft);
  const measuring = useFit((s) => s.measuring);
  return useMemo(() => {
    const row = measuring && doc.forms[measuring.id];
    const worn = row ? { ...doc, forms: { ...doc.forms, [row.id]: { ...row, ...measuring } } } : doc;
    const part = draft && worn.parts[draft.id];
    if (!draft || !part) return worn;
    return { ...worn, parts: { ...worn.parts, [part.id]: { ...part, offset: draft.offset } } };
  }, [doc, draft, measuring]);
}

/** The page's one run: the piece compiled anew where it changed, and frames from it. */
export function useRun(
  piece: Piece,
  models: Readonly<Record<string, Model>>,
  form: Form | null,
  sculpts: Assets['sculpts'],
): { show: Show; runner: Runner } {
  const last = useRef<{ show: Show; runner: Runner } | null>(null);
  const take = useFit((s) => s.take);
  const camera = useFit((s) => s.camera);
  const body = bodyRest(shownBody(piece));
  return useMemo(() => {
    // known anew once its body was made
    void body;
    const forms = form ? { [shownWearer(piece).key]: form } : {};
    const show = compile(piece, { models, forms, sculpts }, last.current?.show);
    const source = takeSource(take, piece, cameraFor(piece, camera));
    const runner = last.current?.runner ?? new Runner(show, source);
    if (last.current) runner.change(show, source);
    last.current = { show, runner };
    return { show, runner };
  }, [piece, models, take, form, camera, sculpts, body]);
}

/** A show that knows the form its wearer has. */
export async function knowingForm(show: Show): Promise<Show> {
  const { key } = shownWearer(show.piece);
  if (show.assets.forms?.[key]) return show;
  return compile(show.piece, { ...show.assets, forms: { [key]: await loadForm(shownAsk(show.piece)) } });
}
/** Frames at rest, for what is to hang so: on a face they are known once the form is. */
export const framesFor = async (show: Show, hang: Hang | null): Promise<RestFrames> =>
  restFramesOf(isOnFace(hang) ? await knowingForm(show) : show);

/** At rest in a pose: nothing lags. */
const stillAt = ({ runner, show }: { runner: Runner; show: Show }, pose: Held, timeS: number, view: LensView | null): StageState =>
  runner.still(wearerCapture(show.piece, pose, timeS, cameraFor(show.piece, view)));
const cameraFor = (piece: Piece, view: LensView | null) => (view ? lensCamera(view, hasBody(piece)) : undefined);

/** What Mirror and plates show: the take's moment, or the pose held. */
export function useStageState(run: { runner: Runner; show: Show }): StageState {
  const pose = useFit((s) => s.pose);
  const timeS = useFit((s) => s.timeS);
  const running = useFit((s) => s.running);
  const camera = useFit((s) => s.camera);
  return useMemo(() => (running && run.runner.frame(timeS)) || stillAt(run, pose, timeS, camera), [run, pose, timeS, running, camera]);
}
