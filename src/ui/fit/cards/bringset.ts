/** Pictures dropped where finishes are made: into Stock first, as all files; then what is known of them. */
import { ulid } from 'ulid';
import type { SetPicture } from '@/core/intake/sets';
import { add, batch, type StockItem } from '@/core/piece';
import { say } from '../../kit/say';
import type { PieceStore } from '../../piece/store';
import { sendGroup } from '../../stock/arrivals';

/** Rejects where they cannot be sent. */
export async function bringSet(store: PieceStore, files: readonly File[]): Promise<SetPicture[]> {
  const { id } = store.getState();
  say.message(`${files.length === 1 ? files[0].name : `${files.length} files`}: on the way into Stock.`);
  const answer = await sendGroup(
    id,
    files.map((file) => ({ name: file.name, file })),
  );
  const { addAsset, commit } = store.getState();
  const out: SetPicture[] = [];
  const fresh: StockItem[] = [];
  for (const { item, asset } of answer.items) {
    addAsset(asset);
    const there = Object.values(store.getState().history.doc.stock).find((s) => s.original === item.original && s.kind === item.kind);
    const row = there ?? ({ ...item, id: ulid() } as StockItem);
    if (!there) fresh.push(row);
    if (asset.facts?.kind === 'picture') {
      const { name, sha, look, width, height } = asset.facts;
      out.push({ stock: row.id, name: name || item.name, sha, look, width, height });
    } else say.message(`${item.name} is in Stock; it is no picture, and no map.`);
  }
  if (fresh.length > 0) commit(batch(fresh.map((row) => add('stock', row))));
  return out;
}
