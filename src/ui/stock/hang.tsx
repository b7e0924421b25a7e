'use client';
import { Plus } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { ulid } from 'ulid';
import { add, createModelPart, partNameOf, type StockItem } from '@/core/piece';
import { usePiece } from '../piece/context';

/** Makes a part of a stock file and goes to Fit with it. `waits`: a blocker's fix has the ink. `ready` makes what is not drawn yet. */
export function HangButton({ item, waits, ready }: { item: StockItem; waits: boolean; ready?: () => Promise<boolean> }) {
  const id = usePiece((s) => s.id);
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const router = useRouter();
  return (
    <button
      type="button"
      className={`btn btn-sm ${waits ? 'btn-line' : 'btn-primary'}`}
      title={waits ? 'A blocker is open: mend it first, or hang the part as it is' : undefined}
      onClick={async () => {
        if (ready && !(await ready())) return;
        const part = createModelPart(ulid(), item.id, partNameOf(item.name));
        if (!commit(add('parts', part))) return;
        select(part.id);
        router.push(`/piece/${id}/fit`);
      }}
    >
      <Plus className="ico" />
      Hang a part
    </button>
  );
}
