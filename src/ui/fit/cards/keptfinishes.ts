/** Finishes that outlive a piece: the yard's, by name; and the one that was copied last, for another slot or piece. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { api, type KeptFinish } from '@/api';
import type { FinishRow } from '@/core/finish';
import { copyFinishRow, FinishClip, type Piece } from '@/core/piece';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';

export function useKeptFinishes() {
  const yard = usePiece((s) => s.yard);
  const client = useQueryClient();
  const { data: kept = [] } = useQuery({ queryKey: ['finishes', yard.id], queryFn: () => api.listFinishes(yard.id) });
  const put = (list: Promise<KeptFinish[]>, said: string) =>
    list.then(
      (all) => {
        client.setQueryData(['finishes', yard.id], all);
        say.message(said);
      },
      (e: Error) => say.error(e.message),
    );
  return {
    kept,
    keep: (doc: Piece, finish: FinishRow) =>
      put(
        api.keepFinish(yard.id, { name: finish.name, clip: copyFinishRow(doc, finish) }),
        `${finish.name} is kept in ${yard.name}, for every piece.`,
      ),
    drop: ({ id, name }: KeptFinish) =>
      put(api.dropFinish(yard.id, id), `${name} is no more kept in the yard; pieces that have it keep it.`),
  };
}

const KEY = 'scaphos.finish';
export function copyFinishToClip(doc: Piece, finish: FinishRow): void {
  localStorage.setItem(KEY, JSON.stringify(copyFinishRow(doc, finish)));
  say.message(`${finish.name} copied. Paste it on any material, in this piece or in another of this yard.`);
}
/** What was copied last; null: nothing, or something that is no finish. */
export function copiedFinish(): FinishClip | null {
  try {
    return FinishClip.parse(JSON.parse(localStorage.getItem(KEY) ?? 'null'));
  } catch {
    return null;
  }
}
