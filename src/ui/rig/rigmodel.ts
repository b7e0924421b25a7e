'use client';
/** What Rig works on: the model as it is drawn, and the clips that lie in Stock beside it. */
import { useMemo, useState } from 'react';
import { judgeStock } from '@/core/intake';
import { usedFile } from '@/core/piece';
import { useDocument, usePiece } from '../piece/context';
import { useModelData } from '../piece/modeldata';
import type { StockClip } from './taken';

/** Clips of every other file in Stock: captures, and models that came with some. */
export function useStockClips(but: string): StockClip[] {
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  return useMemo(
    () =>
      Object.values(doc.stock).flatMap((s) => {
        const file = s.id === but ? null : usedFile(doc, s.id);
        const facts = file ? judgeStock(doc, s.id, assets)?.facts : null;
        if (!file || !facts || (facts.kind !== 'motion' && facts.kind !== 'model')) return [];
        return facts.clips.map((c) => ({ name: s.name, file, clip: c.name, seconds: c.seconds }));
      }),
    [doc, assets, but],
  );
}

/** The model as it is drawn; while another is on its way, the one before. */
export function useDrawn(piece: string, sha: string) {
  const { data, error } = useModelData(piece, sha);
  const [before, setBefore] = useState<{ sha: string; data: NonNullable<typeof data> } | null>(null);
  if (data && before?.sha !== sha) setBefore({ sha, data });
  return data || error || !before ? { sha, data, error, stale: false } : { ...before, error, stale: true };
}
