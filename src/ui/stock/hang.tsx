'use client';
import { Plus } from 'lucide-react';
import { useRef } from 'react';
import { ulid } from 'ulid';
import { add, createModelPart, partNameOf, type StockItem } from '@/core/piece';
import { useActs } from '../acts';
import { seatFor } from '../fit/seating';
import { useGo } from '../kit';
import { usePieceStore } from '../piece/context';

/** The second press of two meant one. */
const TWICE_MS = 1_500;

/** Makes a part of a stock file and goes to Fit with it, once, however often it is pressed before one is there. */
export function useHangStock(): (item: StockItem) => Promise<void> {
  const store = usePieceStore();
  const go = useGo();
  const last = useRef({ id: '', at: 0 });
  return async (item) => {
    const now = Date.now();
    if (last.current.id === item.id && now - last.current.at < TWICE_MS) return;
    last.current = { id: item.id, at: now };
    const seat = await seatFor(store.getState(), item.id);
    const { id, commit, select } = store.getState();
    const part = createModelPart(ulid(), item.id, partNameOf(item.name));
    if (!commit(add('parts', { ...part, offset: { ...part.offset, ...seat } }))) return;
    select(part.id);
    void go(`/piece/${id}/fit?parts=${part.id}`);
  };
}

/** `waits`: a blocker's fix has the ink. `ready` makes what is not drawn yet. */
export function HangButton({ item, waits, ready }: { item: StockItem; waits: boolean; ready?: () => Promise<boolean> }) {
  const hang = useHangStock();
  const press = async () => {
    if (!ready || (await ready())) await hang(item);
  };
  useActs({ 'hang-file': { run: () => void press() } });
  return (
    <button
      type="button"
      className={`btn btn-sm ${waits ? 'btn-line' : 'btn-primary'}`}
      title={waits ? 'A blocker is open: mend it first, or hang the part as it is' : undefined}
      onClick={() => void press()}
    >
      <Plus className="ico" />
      Hang a part
    </button>
  );
}
