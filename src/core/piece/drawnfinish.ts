/** A finish with its pictures as they are drawn. */
import type { DrawnFinish, DrawnMap, FinishRow } from '../finish/row';
import type { MapRole } from '../finish/words';
import type { Piece } from './schema';
import { drawnModel } from './selectors';

const kept = new WeakMap<FinishRow, { files: string; drawn: DrawnFinish }>();

/** The same object as long as the row and the files of its pictures are the same. */
export function drawnFinish(piece: Piece, row: FinishRow): DrawnFinish {
  const sets = Object.values(row.maps).flatMap((m) => (m && m !== 'own' ? [m] : []));
  // without a picture of Stock it is drawn as it stands
  if (sets.length === 0) return row as DrawnFinish;
  const fileOf = (stock: string) => drawnModel(piece, stock);
  const files = sets.map((m) => fileOf(m.stock)).join(' ');
  const before = kept.get(row);
  if (before?.files === files) return before.drawn;
  const maps = Object.fromEntries(
    Object.entries(row.maps).map(([role, use]): [string, DrawnMap] => {
      if (!use || use === 'own') return [role, use];
      const { stock, ...set } = use;
      return [role, { ...set, file: fileOf(stock) }];
    }),
  );
  const drawn: DrawnFinish = { ...row, maps: maps as Record<MapRole, DrawnMap> };
  kept.set(row, { files, drawn });
  return drawn;
}
