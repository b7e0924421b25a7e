'use client';
import { useEffect, useRef } from 'react';
import { useAddress } from '../kit';
import { usePiece, usePieceStore } from '../piece/context';

/** What is chosen stands in the address: a reload and a link find it again. */
export function useSelectionInAddress(): void {
  const [named, put] = useAddress('parts');
  const selection = usePiece((s) => s.selection);
  const store = usePieceStore();
  const read = useRef(false);
  useEffect(() => {
    if (read.current) return put(selection.length > 0 ? selection.join(',') : null);
    read.current = true;
    const { history, selectAll } = store.getState();
    const ids = (named ?? '').split(',').filter((id) => history.doc.parts[id]);
    if (selection.length === 0 && ids.length > 0) selectAll(ids);
    else put(selection.length > 0 ? selection.join(',') : null);
  }, [named, put, selection, store]);
}
