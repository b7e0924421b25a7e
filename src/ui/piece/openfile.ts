'use client';
import { useCallback, useEffect } from 'react';
import type { StockItem } from '@/core/piece';
import { useAddress } from '../kit';
import { useDocument, usePiece } from './context';

/**
 * The stock file that is open: the one the address names, else the one looked at last, else the newest. Choosing one is a visit: Back
 * leads to the file before. `of`: only these count.
 */
export function useOpenFile<T extends StockItem = StockItem>(
  of?: (f: StockItem) => f is T,
): { file: T | undefined; choose: (id: string) => void } {
  const doc = useDocument();
  const [named, put] = useAddress('file');
  const looked = usePiece((s) => s.looked);
  const look = usePiece((s) => s.look);
  const files = Object.values(doc.stock).filter((f): f is T => !of || of(f));
  const file = [named, looked].flatMap((id) => files.find((f) => f.id === id) ?? [])[0] ?? (of ? files[0] : files.at(-1));
  useEffect(() => {
    if (named && file?.id === named) look(named);
  }, [named, file, look]);
  const choose = useCallback(
    (id: string) => {
      look(id);
      put(id, 'visit');
    },
    [look, put],
  );
  return { file, choose };
}
