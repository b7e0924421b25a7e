'use client';
/** Strokes of weights on the model that is shown: they are seen at once, undone one by one, and in the piece when they are kept. */
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { sendFiles } from '@/api';
import type { Model } from '@/core/model';
import {
  type Brush,
  beginPainting,
  carryPainting,
  type Held,
  heldBy,
  type Painting,
  patchOf,
  redoStroke,
  Stroking,
  settlePainting,
  undoStroke,
} from '@/core/rig';
import { counted } from '@/core/words/counted';
import { computing } from '@/worker/browser';
import { useOwnUndo } from '../kit';
import { say } from '../kit/say';
import type { Before } from './places';

export interface Painter {
  /** What is shown, painted or not; null where nothing is skinned, or nobody looks. */
  held: Held | null;
  /** Grows with every change of what is held. */
  version: number;
  /** That are not in the piece yet. */
  strokes: number;
  begin: (brush: Brush, at: [number, number, number]) => void;
  to: (at: [number, number, number]) => void;
  end: () => void;
  back: () => void;
  /** Sends what was painted, told where it was before the model was moved; null: nothing was. */
  send: (piece: string, name: string, before: Before['place']) => Promise<string | null>;
  /** It is in the piece. */
  settle: () => void;
  drop: () => void;
}

/** @param looks weights are looked at: what the skin holds is worked out only then */
export function usePainter(model: Model | null, looks: boolean): Painter {
  const held = useMemo(() => (looks && model ? heldBy(model) : null), [looks, model]);
  const [painting, setPainting] = useState<Painting | null>(null);
  const [version, setVersion] = useState(0);
  const stroking = useRef<Stroking | null>(null);
  const changed = () => setVersion((v) => v + 1);
  const strokes = painting?.strokes.length ?? 0;

  // the same shape with other weights: strokes that are not kept go on upon them
  const of = useRef(model);
  useLayoutEffect(() => {
    if (of.current === model || !model) return;
    of.current = model;
    stroking.current = null;
    const pending = painting && painting.strokes.length > 0 ? painting : null;
    const now = pending && heldBy(model);
    const carried = pending && now && carryPainting(pending, now);
    if (pending && !carried)
      say.error(`The shape has changed: ${counted(pending.strokes.length, 'stroke')} could not be laid on it again.`);
    setPainting(carried);
    setVersion((v) => v + 1);
  }, [model, painting]);

  // who leaves the page is asked first
  useEffect(() => {
    if (strokes === 0) return;
    const ask = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [strokes]);

  const step = (go: typeof undoStroke) => {
    if (painting && go(painting)) changed();
  };
  const back = () => step(undoStroke);
  useOwnUndo(
    strokes > 0 ? { label: 'a stroke', run: back } : null,
    painting?.undone.length ? { label: 'a stroke', run: () => step(redoStroke) } : null,
  );
  return {
    held: painting?.held ?? held,
    version,
    strokes,
    begin: (brush, at) => {
      const on = painting ?? (held && beginPainting(held));
      if (!on) return;
      if (on !== painting) setPainting(on);
      stroking.current = new Stroking(on, brush);
      stroking.current.to(at);
      changed();
    },
    to: (at) => {
      if (!stroking.current) return;
      stroking.current.to(at);
      changed();
    },
    end: () => {
      stroking.current?.end();
      stroking.current = null;
      changed();
    },
    back,
    send: async (piece, name, before) => {
      const patch = painting && patchOf(painting);
      if (!patch) return null;
      const { positions } = patch;
      for (let i = 0; i < positions.length; i += 3) positions.set(before([positions[i], positions[i + 1], positions[i + 2]]), i);
      patch.bones = patch.bones.map((b) => ({ ...b, head: before(b.head) }));
      const glb = await computing.weightsFile(patch);
      const file = new File([glb as Uint8Array<ArrayBuffer>], name);
      const { done } = sendFiles(piece, [{ name, file, url: null }], {
        progress: () => undefined,
        placed: () => undefined,
        waiting: () => undefined,
      });
      return (await done).items[0].item.model;
    },
    settle: () => {
      if (painting) settlePainting(painting);
      changed();
    },
    drop: () => {
      setPainting(null);
      changed();
    },
  };
}
