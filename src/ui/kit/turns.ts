'use client';
import { useEffect, useState } from 'react';

/** How many of a page's parts may stand by now: one comes after another, each with a picture of its own, and what is pressed meanwhile is answered between them. */
export function useTurns(parts: number): number {
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    if (turn >= parts) return;
    let timer = 0;
    const frame = requestAnimationFrame(() => {
      timer = window.setTimeout(() => setTurn(turn + 1));
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
    };
  }, [turn, parts]);
  return turn;
}
