'use client';
import type { Model } from '@/core/model';
/** A figure's skeleton that a file brought: which of its bones are known, and as what. */
import type { KnownSkeleton } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { Flag } from '../kit';
import { jointWords } from './jointwords';

export function KnownBones({ known, model }: { known: KnownSkeleton; model: Model }) {
  const others = known.others.map((n) => model.nodes[n].name).filter((n) => n !== '');
  return (
    <section className="mb-2 pb-2 border-b border-[color:var(--hair)] text-small" aria-label="The figure in it">
      <p className="flex gap-1.5 items-start">
        <Flag kind="done" size={14} />
        <span>
          The file came with a figure’s bones: {counted(known.nodeOf.size, 'bone')} known by{' '}
          {known.by === 'names' ? 'their names' : 'how they branch and how long they are, for their names say nothing'}.
          {others.length > 0 && (
            <>
              {' '}
              <span className="soft">
                None of a figure’s: {others.slice(0, 6).join(', ')}
                {others.length > 6 ? ` and ${others.length - 6} more` : ''}.
              </span>
            </>
          )}
        </span>
      </p>
      <details className="mt-1">
        <summary className="soft cursor-pointer">What each was taken for</summary>
        <ul className="mt-1 grid grid-cols-2 gap-x-4 list-none p-0">
          {[...known.nodeOf].map(([bone, node]) => (
            <li key={bone} className="flex gap-2 min-w-0">
              <span>{jointWords(bone)}</span>
              <span className="soft ml-auto truncate" title={model.nodes[node].name}>
                {model.nodes[node].name}
              </span>
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}
