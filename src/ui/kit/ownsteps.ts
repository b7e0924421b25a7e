'use client';
/** Steps of work that is not in the piece yet, a recipe's or a painting's: while they are there, undo and redo are of them. */
import { useEffect, useLayoutEffect, useRef } from 'react';
import { create } from 'zustand';

export interface OwnStep {
  /** What would be undone or done again. */
  label: string;
  run: () => void;
}
interface OwnSteps {
  undo: OwnStep | null;
  redo: OwnStep | null;
}

export const useOwnSteps = create<OwnSteps>(() => ({ undo: null, redo: null }));

/** Says what undo and redo are of, as long as the screen is there. */
export function useOwnUndo(undo: OwnStep | null, redo: OwnStep | null): void {
  const latest = useRef({ undo, redo });
  useLayoutEffect(() => {
    latest.current = { undo, redo };
  });
  const back = undo?.label;
  const on = redo?.label;
  useEffect(() => {
    useOwnSteps.setState({
      undo: back === undefined ? null : { label: back, run: () => latest.current.undo?.run() },
      redo: on === undefined ? null : { label: on, run: () => latest.current.redo?.run() },
    });
  }, [back, on]);
  useEffect(() => () => useOwnSteps.setState({ undo: null, redo: null }), []);
}
