/** Files that came in become rows of Stock; what belongs to a file that is there takes its place. */

import { ulid } from 'ulid';
import type { UploadAnswer } from '@/api';
import { factsOfStock, judgeFindings } from '@/core/intake';
import { add, batch, type MediaItem, type StockItem } from '@/core/piece';
import { say } from '../kit/say';
import type { PieceStore } from '../piece/store';
import { bringIn, groupFiles } from './arrivals';
import { mend, putInPlace } from './mending';
import { placeOf, repaintDraft } from './repaint';

/** Takes in what the server read. @param look shows a file */
export function takeAnswer(store: PieceStore, look: (id: string) => void, answer: UploadAnswer): void {
  const { addAsset, commit } = store.getState();
  for (const { asset } of answer.items) addAsset(asset);
  const { doc: now } = store.getState().history;
  const fresh: StockItem[] = [];
  for (const { item, asset } of answer.items) {
    // the same file brought in twice is one
    const same = item.kind === 'model' ? undefined : Object.values(now.stock).find((s) => s.original === item.original);
    if (same) {
      say.message(`${item.name} is in Stock already${same.name === item.name ? '' : `, as ${same.name}`}.`);
      continue;
    }
    const place = item.kind === 'picture' ? placeOf(now, store.getState().assets, item) : null;
    if (!place || asset.facts?.kind !== 'picture') {
      fresh.push({ ...item, id: ulid() } as StockItem);
      continue;
    }
    const put =
      place.kind === 'texture'
        ? mend(store.getState, place.stockId, [repaintDraft(place, { sha: asset.facts.sha, name: item.name })], {
            keepFit: true,
            all: false,
          })
        : putInPlace(store.getState, now.stock[place.stockId] as MediaItem, item as Omit<MediaItem, 'id'>, asset);
    put.then(
      () => {
        look(place.stockId);
        say.message(
          `${item.name} takes the place of ${place.kind === 'texture' ? `${place.texture} in ${place.of}` : 'the picture of that name'}. Undo brings the old one back.`,
        );
      },
      (e: Error) => say.error(e.message),
    );
  }
  const edits = fresh.map((item) => add('stock', item));
  if (edits.length === 0 || !commit(batch(edits))) return;
  for (const item of fresh) {
    const facts = factsOfStock(store.getState().history.doc, item.id, store.getState().assets);
    if (facts?.kind !== 'model' || !facts.form || facts.form.mirrored) continue;
    const fixes = judgeFindings(facts, { kind: null, credit: item.credit, changed: false, pictures: [] }).flatMap((f) =>
      f.fix && f.code.startsWith('form/') ? [f.fix] : [],
    );
    mend(store.getState, item.id, fixes, { keepFit: true, all: false }).then(
      () =>
        say.message(
          `Form ${facts.form?.size} came back in ${item.name}. ${fixes.flatMap((f) => f.changes).join(' ')} Undo leaves it as delivered.`,
          { duration: 12_000 },
        ),
      (e: Error) => say.error(e.message),
    );
  }
  const wants = (s: StockItem) => {
    const facts = factsOfStock(now, s.id, store.getState().assets);
    return facts?.kind === 'model' && facts.wanted.length > 0;
  };
  // pictures for a model that misses some: one stays with the model
  if (fresh.every((i) => i.kind === 'picture') && Object.values(now.stock).some(wants)) return;
  look((fresh.find((i) => i.kind === 'model') ?? fresh[0]).id);
}

/** Sends what was dropped, pasted or chosen, in groups that belong together. */
export function sendDropped(store: PieceStore, look: (id: string) => void, dropped: readonly File[]): void {
  const named = dropped.map((file) => ({
    name: (file as File & { path?: string }).path?.replace(/^\.?\//, '') || file.webkitRelativePath || file.name,
    file,
  }));
  for (const group of groupFiles(named)) bringIn(store.getState().id, group, (answer) => takeAnswer(store, look, answer));
}
