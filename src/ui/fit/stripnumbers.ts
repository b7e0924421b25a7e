'use client';
/** What is wrong with the selected part in each key pose, on the form shown: told beside the pose, once the hand rests. */
import { useEffect, useState } from 'react';
import { cuts, LEAKS } from '@/core/fit/judge';
import type { Pose } from '@/core/form';
import { isMade, isPlaced, partDef, shownWearer } from '@/core/piece';
import type { Show } from '@/core/run';
import { cellOf } from '@/core/run/placed';
import { forms, type ToldCell, type WornCell } from '@/worker/browser';
import { usePiece } from '../piece/context';
import { isHeavy } from './clearance';
import { heldIn, stripOf, useFit } from './state';

/** After the pictures of the strip, which are looked at first. */
const REST_MS = 1_200;

/** Short: a share that leaks or is swallowed, else how deep it cuts; null: nothing is wrong. */
export function faultOf(told: ToldCell): string | null {
  const { leaks } = told;
  const share = leaks ? Math.max(leaks.leak, leaks.swallowed) : 0;
  if (share > LEAKS) return `${(share * 100).toFixed(0)} %`;
  return cuts(told) ? `${told.clearance.deepestMm.toFixed(1)} mm` : null;
}

/** @param waits something is dragged or plays @returns by pose */
export function useStripNumbers({ piece, assets }: Show, waits: boolean): ReadonlyMap<string, ToldCell> {
  const selected = usePiece((s) => s.selected);
  const strip = useFit((s) => s.strip);
  const [told, setTold] = useState<{ of: string; cells: ReadonlyMap<string, ToldCell> } | null>(null);
  const part = piece.parts[selected ?? ''];
  const asked = part && isMade(part) && isPlaced(part) && partDef(part).drawnIn === 'parts' && part.hang !== null ? part : null;
  useEffect(() => {
    if (!asked || waits || isHeavy(piece, assets, asked)) return;
    let gone = false;
    const measure = async () => {
      const cells: { pose: Pose; cell: WornCell }[] = [];
      for (const pose of stripOf(piece, strip)) {
        // one a task: all at once would hold the page
        await new Promise((r) => setTimeout(r));
        if (gone) return;
        const cell = cellOf(piece, assets, asked, shownWearer(piece), heldIn(pose));
        if (cell) cells.push({ pose, cell });
      }
      const answers = await forms.clearance(cells.map((c) => c.cell));
      if (gone) return;
      const known = answers.flatMap((a, i) => (a ? [[cells[i].pose.id, a] as const] : []));
      setTold({ of: asked.id, cells: new Map(known) });
    };
    // what cannot be measured is told by the card
    const timer = setTimeout(() => void measure().catch(() => undefined), REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [piece, assets, asked, waits, strip]);
  return asked && told?.of === asked.id ? told.cells : NONE;
}
const NONE: ReadonlyMap<string, ToldCell> = new Map();
