'use client';
import type { UnreadablePiece } from '@/api';
import { FlagLabel } from '../kit';

/** Says of a piece that cannot be read what is so, and that nothing of it is lost. */
export function UnreadableCard({ piece }: { piece: UnreadablePiece }) {
  return (
    <article className="sheet px-4 py-3 flex flex-col gap-2 min-h-[284px]" aria-label="A piece that cannot be read">
      <h3 className="text-[15px] font-semibold">
        <FlagLabel kind="blocker">This piece cannot be read</FlagLabel>
      </h3>
      <p className="text-small">{piece.unreadable}</p>
      <p className="text-small soft mt-auto">
        It is kept as it was saved, revision <span className="num">{piece.revision}</span> of{' '}
        {new Date(piece.updatedAt).toLocaleDateString(undefined, { day: 'numeric', month: 'long', year: 'numeric' })}. Whoever runs this
        Scaphos finds it as <span className="num break-all">{piece.id}</span>.
      </p>
    </article>
  );
}
