/** What the table of files says of each, and how it sorts. */
import {
  columnFilteringFeature,
  createColumnHelper,
  createFilteredRowModel,
  createSortedRowModel,
  globalFilteringFeature,
  rowSortingFeature,
  tableFeatures,
} from '@tanstack/react-table';
import { type AtHand, type FileFacts, judgeStock, KINDS } from '@/core/intake';
import type { Piece, StockItem } from '@/core/piece';

const KIND_WORDS: Record<StockItem['kind'], string> = {
  model: 'Model',
  picture: 'Picture',
  sequence: 'Sequence',
  sound: 'Sound',
  environment: 'Environment',
  motion: 'Motion clip',
  footage: 'Test film',
};
function kindWords(item: StockItem, facts: FileFacts | null): string {
  if (item.kind === 'model') return item.stated ? KINDS[item.stated].label : KIND_WORDS.model;
  return facts?.kind === 'sequence' ? `Picture, ${facts.frames} frames` : KIND_WORDS[item.kind];
}

export interface Row {
  id: string;
  item: StockItem;
  name: string;
  kind: string;
  bytes: number;
  /** null: it has none. */
  widthMm: number | null;
  wrongSize: boolean;
  counts: { blocker: number; warning: number; note: number } | null;
  /** Sorts by what is worst. */
  trouble: number;
}

export function rowsOf(doc: Piece, assets: readonly AtHand[]): Row[] {
  return Object.values(doc.stock).map((item) => {
    const judged = judgeStock(doc, item.id, assets);
    const counts = { blocker: 0, warning: 0, note: 0 };
    for (const f of judged?.findings ?? []) counts[f.level]++;
    return {
      id: item.id,
      item,
      name: item.name,
      kind: kindWords(item, judged?.facts ?? null),
      bytes: item.bytes,
      widthMm: judged && 'sizeMm' in judged.facts ? judged.facts.sizeMm[0] : null,
      wrongSize: judged?.findings.some((f) => f.code === 'placing/scale') ?? false,
      counts: judged ? counts : null,
      trouble: counts.blocker * 1e6 + counts.warning * 1e3 + counts.note,
    };
  });
}

export const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
});
const helper = createColumnHelper<typeof features, Row>();
const byName = (a: string, b: string) => a.localeCompare(b, undefined, { numeric: true, sensitivity: 'base' });
export const columns = helper.columns([
  helper.accessor('name', { header: 'File', sortFn: (a, b) => byName(a.original.name, b.original.name) }),
  helper.accessor('kind', { header: 'Kind', sortFn: (a, b) => byName(a.original.kind, b.original.kind) }),
  helper.accessor('bytes', { header: 'MB', sortFn: (a, b) => a.original.bytes - b.original.bytes }),
  helper.accessor('widthMm', { header: 'Width, mm', sortFn: (a, b) => (a.original.widthMm ?? -1) - (b.original.widthMm ?? -1) }),
  helper.accessor('trouble', { header: 'Findings', sortFn: (a, b) => a.original.trouble - b.original.trouble }),
]);
/** Of the columns. */
export const WIDTHS: Record<string, string> = { name: '32%', kind: '24%', bytes: '9%', widthMm: '15%', trouble: '20%' };
/** Columns of numbers. */
export const RIGHT = new Set(['bytes', 'widthMm']);
