'use client';
/** Strokes on their way into the piece: they go along with whatever else is changed about the bones, and with who walks on. */
import { useEffect, useRef } from 'react';
import type { ModelItem, RecipeStep } from '@/core/piece';
import { usePiece, usePieceStore } from '../piece/context';
import { setSteps } from '../stock/mending';
import { type StepOf, withStep } from './order';
import type { Painter } from './painter';
import { beforeMoves, MOVED_BEHIND } from './places';

const NOT_PAINTED: StepOf<'weights'>['settings']['taken'] = [];

export function useKeptStrokes(
  painter: Painter,
  item: ModelItem,
  steps: readonly RecipeStep[],
  /** Whether a recipe leaves the bones that are painted for. */
  leavesBones: (next: readonly RecipeStep[]) => boolean,
  work: (what: () => Promise<void>) => Promise<boolean>,
) {
  const piece = usePiece((s) => s.id);
  const store = usePieceStore();
  const taken = steps.find((s): s is StepOf<'weights'> => s.step === 'weights')?.settings.taken ?? NOT_PAINTED;
  const withStrokes = async (next: readonly RecipeStep[]): Promise<RecipeStep[]> => {
    const name = `weights of ${item.name}`.slice(0, 120).replace(/(\.glb)?$/i, '.glb');
    if (painter.strokes === 0 || !leavesBones(next)) return [...next];
    const before = beforeMoves(next, 'weights');
    if (!before) throw new Error(MOVED_BEHIND);
    const weights = await painter.send(piece, name, before.place);
    return weights ? withStep(next, 'weights', { taken: [...taken, { weights, name }] }) : [...next];
  };
  const keep = (next: readonly RecipeStep[]) =>
    work(async () => {
      // with bones that go strokes go too, and come back with them: first they are in the piece
      if (painter.strokes > 0 && !leavesBones(next)) await setSteps(store.getState, item.id, await withStrokes(steps), true);
      await setSteps(store.getState, item.id, await withStrokes(next), true);
      painter.settle();
    });
  const leaving = useRef<() => unknown>(() => undefined);
  useEffect(() => {
    leaving.current = () => painter.strokes > 0 && keep(steps);
  });
  useEffect(() => () => void leaving.current(), []);
  return {
    keep,
    /** How often strokes were kept. */
    painted: taken.length,
    onStroke: {
      back: painter.back,
      drop: painter.drop,
      keep: () => void keep(steps),
      'last-away': () => void keep(withStep(steps, 'weights', { taken: taken.slice(0, -1) })),
      'all-away': () => void keep(withStep(steps, 'weights', null)),
    },
  };
}
