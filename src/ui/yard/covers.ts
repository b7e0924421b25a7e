'use client';
/** Covers are made when the Yard is opened: real renderings, kept with the revision they show. */
import { useEffect, useState } from 'react';
import type { PieceSummary } from '@/api';
import { ask } from '@/api/ask';

/** What draws them is fetched when one is missing. */
const drawer = () => import('../piece/portrait');

/** What was made, or is being made, while this page is open: a list that comes anew must not have it drawn again. */
const making = new Map<string, Promise<unknown>>();

function coverMade({ id, revision }: PieceSummary): Promise<unknown> {
  const key = `${id} ${revision}`;
  const known = making.get(key);
  if (known) return known;
  const made = drawer()
    .then(async ({ portraitOf }) => portraitOf(id, (await ask((api) => api.getPiece(id))).document))
    .then((png) => ask((api) => api.putCover(id, revision, png)));
  making.set(key, made);
  // one that failed may be tried again
  made.catch(() => making.delete(key));
  return made;
}

/** Piece → revision of its newest cover, or why it could not be drawn. Missing and outdated ones are made one after another. */
export function useCovers(pieces: readonly PieceSummary[]): Readonly<Record<string, number | string>> {
  const [fresh, setFresh] = useState<Readonly<Record<string, number | string>>>({});
  useEffect(() => {
    let gone = false;
    void (async () => {
      for (const piece of pieces) {
        if (gone || piece.deletedAt || piece.coverRevision === piece.revision) continue;
        // a cover that cannot be made leaves the old one, or the dashed outline
        const made = await coverMade(piece).then(
          () => piece.revision,
          (e: Error) => e.message,
        );
        if (!gone) setFresh((f) => ({ ...f, [piece.id]: made }));
      }
    })();
    return () => {
      gone = true;
    };
  }, [pieces]);
  return fresh;
}
