'use client';
/** The page's one stage, and the models it needs, loaded once by content. */
import { useEffect, useMemo, useRef, useState } from 'react';
import { create } from 'zustand';
import { api } from '@/api';
import type { Model } from '@/core/intake';
import { drawnModel, drawnSky, type Piece, stockOf } from '@/core/piece';
import type { Stage } from '@/stage';
import { computing } from '@/worker/browser';
import { say } from '../kit/say';
import { onLeave } from './leaving';

let stage: Stage | null = null;
let staging: Promise<Stage> | null = null;
/** One WebGL context for the whole visit, whatever steps are walked. What draws is a third of a step: it comes after what is pressed. */
export function loadStage(): Promise<Stage> {
  if (!staging) {
    const away = () => {
      throw new Error('What draws could not be fetched: the server does not answer. Reload the page when it is back.');
    };
    staging = import('@/stage').catch(away).then((file) => {
      stage = new file.Stage();
      stage.assets.onGone = forget;
      return stage;
    });
    staging.catch(() => {
      staging = null;
    });
  }
  return staging;
}
/** The stage, for what is pressed in a picture: before it is there nothing is drawn that could be. */
export const stageNow = (): Stage | null => stage;

let open = 0;
/** Says on the page that models are on their way or drawings wait, for whoever looks at the pictures. */
function underWay(by: 1 | -1): void {
  open += by;
  if (open > 0) document.body.dataset.drawing = String(open);
  else delete document.body.dataset.drawing;
}
/** Work that the pictures wait for. */
export function followed<T>(work: Promise<T>): Promise<T> {
  underWay(1);
  const done = () => underWay(-1);
  work.then(done, done);
  return work;
}

/** Files that are on their way, and those that did not come, by SHA-256. */
type Fetching = { is: 'waits' } | { is: 'failed'; why: string };
export const useFetching = create<{ files: Readonly<Record<string, Fetching>>; tries: number }>(() => ({ files: {}, tries: 0 }));
function note(sha: string, state: Fetching | null): void {
  useFetching.setState(({ files: { [sha]: _, ...files } }) => ({ files: state ? { ...files, [sha]: state } : files }));
}
/** What did not come is asked for once more by whoever shows it. */
export const tryAgain = () => useFetching.setState((s) => ({ tries: s.tries + 1 }));

/** One file by its content, once: its bytes taken in by `take`. What fails is forgotten, so that it can be asked for again. */
export function fetchOnce<T>(
  kept: Map<string, Promise<T>>,
  sha: string,
  url: string,
  take: (bytes: Uint8Array<ArrayBuffer>) => Promise<T>,
): Promise<T> {
  const before = kept.get(sha);
  if (before) return before;
  const fetching = async () => {
    const response = await fetch(url).catch(() => {
      throw new Error('the server does not answer');
    });
    if (!response.ok) throw new Error(`the server answered with ${response.status}`);
    return take(new Uint8Array(await response.arrayBuffer()));
  };
  note(sha, { is: 'waits' });
  const loading = followed(fetching());
  kept.set(sha, loading);
  loading.then(
    () => note(sha, null),
    (e: Error) => {
      kept.delete(sha);
      note(sha, { is: 'failed', why: e.message });
    },
  );
  return loading;
}

const models = new Map<string, Promise<Model>>();
/** What the stage lets go is fetched anew when it is asked for. */
const forget = (sha: string) => {
  models.delete(sha);
  skies.delete(sha);
};
/** Fetches a GLB once, for drawing and for computing. */
export const loadModel = (pieceId: string, sha: string): Promise<Model> =>
  fetchOnce(models, sha, api.drawnUrl(pieceId, sha), async (glb) => {
    await (await loadStage()).addModel(sha, glb.slice().buffer);
    return computing.readModel(glb);
  });

const skies = new Map<string, Promise<void>>();
/** Brings an environment on stage once. */
export const loadSky = (pieceId: string, sha: string): Promise<void> =>
  fetchOnce(skies, sha, api.modelUrl(pieceId, sha), async (bytes) => {
    const sky = await computing.readSky(bytes);
    (await loadStage()).assets.addSky(sha, sky);
  });

const motions = new Map<string, Promise<Model>>();
/** Fetches a GLB of bones and clips once; nothing of it is drawn by the stage. */
export const loadMotion = (pieceId: string, sha: string): Promise<Model> =>
  fetchOnce(motions, sha, api.modelUrl(pieceId, sha), (glb) => computing.readModel(glb));

// models, pictures and clips of a piece that was closed; the forms are everybody's
onLeave(() => {
  motions.clear();
  stage?.assets.leave('piece');
});

/** Environments that the parts of a piece show, by SHA-256. */
export const skiesOf = (doc: Piece): string[] =>
  [...new Set(Object.values(doc.parts).flatMap((p) => drawnSky(doc, stockOf(p) ?? '') ?? []))].sort();

/** Every model of the piece that is at hand, by SHA-256; another object too when an environment it shows has come. */
export function useModels(pieceId: string, doc: Piece): Readonly<Record<string, Model>> {
  const [ready, setReady] = useState<Readonly<Record<string, Model>>>({});
  const wanted = useMemo(() => [...new Set(Object.keys(doc.stock).flatMap((id) => drawnModel(doc, id) ?? []))].sort().join(' '), [doc]);
  const around = useMemo(() => skiesOf(doc).join(' '), [doc]);
  const tries = useFetching((s) => s.tries);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what did not come is asked for anew with every try
  useEffect(() => {
    let gone = false;
    const shas = wanted.split(' ').filter(Boolean);
    const skyShas = around.split(' ').filter(Boolean);
    loadStage().then(
      (s) => !gone && s.assets.pin('piece', [...shas, ...skyShas]),
      () => undefined,
    );
    for (const sha of skyShas)
      loadSky(pieceId, sha).then(
        () => !gone && setReady((r) => ({ ...r })),
        () => undefined,
      );
    setReady((r) =>
      Object.keys(r).every((sha) => shas.includes(sha)) ? r : Object.fromEntries(Object.entries(r).filter(([sha]) => shas.includes(sha))),
    );
    for (const sha of shas)
      loadModel(pieceId, sha).then(
        (m) => !gone && setReady((r) => (r[sha] === m ? r : { ...r, [sha]: m })),
        () => undefined,
      );
    return () => {
      gone = true;
    };
  }, [pieceId, wanted, around, tries]);
  return ready;
}

/** Drawings that wait, each once: one a task, so that several views do not hold the page together. */
type Drawing = (stage: Stage) => unknown;
const waiting = new Set<Drawing>();
let due = false;
async function drawAll(): Promise<void> {
  for (let [next] = waiting; next; [next] = waiting) {
    waiting.delete(next);
    // a view that fails must not stop the others
    try {
      await next(await loadStage());
    } catch (e) {
      say.error((e as Error).message);
    }
    await new Promise((r) => setTimeout(r));
  }
  due = false;
  underWay(-1);
}
/** Puts a drawing in the queue: one is drawn at a time, with the page free in between. */
export function drawSoon(drawing: Drawing): () => void {
  waiting.add(drawing);
  if (!due) {
    due = true;
    underWay(1);
    // a task of its own, after what React did in this one
    setTimeout(() => void drawAll());
  }
  return () => waiting.delete(drawing);
}

/** Draws once per change, in a frame soon; nothing runs while nothing changes. */
export function useDraw(draw: Drawing, changes: readonly unknown[]): void {
  const latest = useRef(draw);
  latest.current = draw;
  const run = useRef<Drawing>((s) => latest.current(s));
  useEffect(() => {
    const drop = drawSoon(run.current);
    return () => void drop();
    // biome-ignore lint/correctness/useExhaustiveDependencies: the caller says what a drawing depends on
  }, changes);
}

export const pixelRatio = () => Math.min(2, window.devicePixelRatio || 1);
