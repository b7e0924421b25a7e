'use client';
/** Covers are made when the Yard is opened: real renderings, kept with the revision they show. */
import { useEffect, useState } from 'react';
import type { PieceSummary } from '@/api';
import { ask } from '@/api/ask';

/** What draws them is fetched when one is missing. */
const drawer = () => import('../piece/portrait');

/** Piece → revision of its newest cover, or why it could not be drawn. Missing and outdated ones are made one after another. */
export function useCovers(pieces: readonly PieceSummary[]): Readonly<Record<string, number | string>> {
  const [fresh, setFresh] = useState<Readonly<Record<string, number | string>>>({});
  useEffect(() => {
    let gone = false;
    void (async () => {
      for (const piece of pieces) {
        if (gone || piece.deletedAt || piece.coverRevision === piece.revision) continue;
        // a cover that cannot be made leaves the old one, or the dashed outline
        const made = await drawer()
          .then(async ({ portraitOf }) => portraitOf(piece.id, (await ask((api) => api.getPiece(piece.id))).document))
          .then((png) => ask((api) => api.putCover(piece.id, piece.revision, png)))
          .then(
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
