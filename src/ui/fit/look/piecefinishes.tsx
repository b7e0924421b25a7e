'use client';
/** Every finish of the piece as a ball, with how many parts wear it; pressed, it opens in its sheet. */
import { useState } from 'react';
import { ulid } from 'ulid';
import { finishLike } from '@/core/fit/dress';
import { change, remove, wearersOf } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { lazily } from '../../kit';
import { useDocument, usePiece } from '../../piece/context';
import { FinishBall } from '../cards/ball';
import { Card } from '../cards/card';

const ManySheet = lazily(() => import('../cards/manysheet'), 'ManySheet');
const FinishSheet = lazily(() => import('../cards/finishsheet'), 'FinishSheet');

export function PieceFinishes() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const [open, setOpen] = useState<string | null>(null);
  const [many, setMany] = useState(false);
  const finishes = Object.values(doc.finishes).sort((a, b) => a.name.localeCompare(b.name));
  const shown = open ? doc.finishes[open] : undefined;
  const users = (id: string) => wearersOf(doc, id);
  return (
    <Card title="Finishes of this piece">
      {finishes.length === 0 && (
        <p className="text-small soft">
          None yet: all is as its files have it. Choose a part; its card brings one or makes the file’s own.
        </p>
      )}
      <ul className="grid gap-1" style={{ gridTemplateColumns: 'repeat(auto-fill, minmax(132px, 1fr))' }} aria-label="Finishes">
        {finishes.map((f) => (
          <li key={f.id}>
            <button
              type="button"
              className="flex items-center gap-2 w-full text-left min-w-0 p-0.5 hover:bg-[color:var(--brass-wash)]"
              onClick={() => setOpen(f.id)}
            >
              <FinishBall finish={f} material="" sha={null} px={34} />
              <span className="min-w-0">
                <span className="named block truncate text-[13.5px] leading-4" title={f.name}>
                  {f.name}
                </span>
                <span className="block text-micro soft leading-4">{users(f.id) === 0 ? 'worn by none' : counted(users(f.id), 'part')}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {shown && (
        <FinishSheet
          finish={shown}
          material=""
          sha={null}
          usedBy={users(shown.id)}
          onChange={(set) => commit(change('finishes', shown.id, set))}
          onCopy={() => {
            const id = ulid();
            if (commit(finishLike(doc, shown, id))) setOpen(id);
          }}
          onDiscard={() => {
            if (commit(remove('finishes', shown.id))) setOpen(null);
          }}
          onMany={() => setMany(true)}
          onClose={() => setOpen(null)}
        />
      )}
      {shown && many && <ManySheet finish={shown} onClose={() => setMany(false)} />}
    </Card>
  );
}
