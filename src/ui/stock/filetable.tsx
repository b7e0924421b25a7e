'use client';
import {
  columnFilteringFeature,
  createColumnHelper,
  createFilteredRowModel,
  createSortedRowModel,
  globalFilteringFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { type KeyboardEvent, type MouseEvent, useEffect, useMemo, useRef, useState } from 'react';
import { type AtHand, type FileFacts, judgeStock, KINDS } from '@/core/intake';
import { showCount, showMegabytes } from '@/core/math';
import { change, type Piece, partsOf, remove, type StockItem } from '@/core/piece';
import { keyOf, useActs } from '../acts';
import { FlagCounts, NameInPlace, openMenuAt } from '../kit';
/** The files of a piece: sorted by any column, searched, walked through by arrows; as many rows are drawn as are seen. */
import { say } from '../kit/say';
import { useDocument, usePiece } from '../piece/context';
import { useHangStock } from './hang';

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

interface Row {
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

function rowsOf(doc: Piece, assets: readonly AtHand[]): Row[] {
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

const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
});
const helper = createColumnHelper<typeof features, Row>();
const byName = (a: string, b: string) => a.localeCompare(b, undefined, { numeric: true, sensitivity: 'base' });
const columns = helper.columns([
  helper.accessor('name', { header: 'File', sortFn: (a, b) => byName(a.original.name, b.original.name) }),
  helper.accessor('kind', { header: 'Kind', sortFn: (a, b) => byName(a.original.kind, b.original.kind) }),
  helper.accessor('bytes', { header: 'MB', sortFn: (a, b) => a.original.bytes - b.original.bytes }),
  helper.accessor('widthMm', { header: 'Width, mm', sortFn: (a, b) => (a.original.widthMm ?? -1) - (b.original.widthMm ?? -1) }),
  helper.accessor('trouble', { header: 'Findings', sortFn: (a, b) => a.original.trouble - b.original.trouble }),
]);
const WIDTHS: Record<string, string> = { name: '32%', kind: '24%', bytes: '9%', widthMm: '15%', trouble: '20%' };
const RIGHT = new Set(['bytes', 'widthMm']);

const ROW_PX = 29;
/** With fewer files neither search nor scrolling is of use. */
const FEW = 12;

export function FileTable({ open, onOpen }: { open: string | undefined; onOpen: (id: string) => void }) {
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  const undo = usePiece((s) => s.undo);
  const commit = usePiece((s) => s.commit);
  const hang = useHangStock();
  const [naming, setNaming] = useState<string | null>(null);
  const [words, setWords] = useState('');
  const data = useMemo(() => rowsOf(doc, assets), [doc, assets]);
  const table = useTable(
    {
      features,
      columns,
      data,
      getRowId: (r) => r.id,
      globalFilterFn: (row, _column, asked: string) =>
        `${row.original.name} ${row.original.kind}`.toLowerCase().includes(asked.toLowerCase()),
      state: { globalFilter: words },
    },
    (s) => s.sorting,
  );
  const { rows } = table.getRowModel();
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW_PX,
    getItemKey: (i) => rows[i].id,
    overscan: 10,
    initialRect: { width: 460, height: 360 },
  });
  const at = rows.findIndex((r) => r.id === open);
  const scrollTo = virtual.scrollToIndex;
  useEffect(() => {
    if (at >= 0) scrollTo(at, { align: 'auto' });
  }, [at, scrollTo]);
  // a row far off is drawn some time after it was walked to: it has the focus as soon as it is there
  const walkedTo = useRef<string | null>(null);
  useEffect(() => {
    const row = walkedTo.current && scroll.current?.querySelector<HTMLElement>(`[data-file="${walkedTo.current}"]`);
    if (!row) return;
    walkedTo.current = null;
    row.focus();
  });
  const item = open ? doc.stock[open] : undefined;
  const worn = item ? partsOf(doc, item.id).length > 0 : false;
  const takeOut = (f: StockItem) => {
    if (commit(remove('stock', f.id))) say.message(`${f.name} is deleted.`, { action: { label: 'Undo', onClick: undo } });
  };
  useActs({
    'rename-file': { run: () => setNaming(open ?? null), off: item ? null : 'choose a file first.' },
    'delete-file': {
      run: () => item && takeOut(item),
      off: !item ? 'choose a file first.' : worn ? `a part is made of ${item.name}; delete the part in Fit first.` : null,
    },
  });
  const menu = (e: MouseEvent, f: StockItem) => {
    onOpen(f.id);
    openMenuAt(e, `More for ${f.name}`, [
      {
        id: 'What can be done',
        entries: [
          { id: 'rename', label: 'Rename', hint: keyOf('rename-file'), act: () => setNaming(f.id) },
          ...(f.kind === 'model' ? [{ id: 'hang', label: 'Hang a part', hint: keyOf('hang-file'), act: () => void hang(f) }] : []),
          {
            id: 'delete',
            label: 'Delete',
            hint: keyOf('delete-file'),
            off: partsOf(doc, f.id).length > 0 ? 'A part is made of it' : undefined,
            act: () => takeOut(f),
          },
        ],
      },
    ]);
  };
  const walk = (e: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, Home: -rows.length, End: rows.length }[e.key];
    if (!by || !(e.target instanceof HTMLElement) || e.target.closest('input')) return;
    e.preventDefault();
    const next = rows[Math.min(rows.length - 1, Math.max(0, at + by))];
    if (!next) return;
    onOpen(next.id);
    walkedTo.current = next.id;
  };
  const seen = virtual.getVirtualItems();
  const [above, below] = [seen[0]?.start ?? 0, virtual.getTotalSize() - (seen.at(-1)?.end ?? 0)];
  return (
    <div className="sheet overflow-hidden flex-none flex flex-col">
      {data.length > FEW && (
        <input
          type="search"
          className="field h-[28px]! text-small m-1.5 w-auto!"
          aria-label="Search the files"
          placeholder="Search by name or kind"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: arrows of the rows' own buttons */}
      <div ref={scroll} className="overflow-y-auto" style={{ maxHeight: 'min(52vh, 420px)' }} onKeyDown={walk}>
        <table className="ledger" style={{ tableLayout: 'fixed' }} aria-rowcount={rows.length + 1}>
          <thead className="sticky top-0 z-[1] bg-[color:var(--color-base-100)]">
            <tr>
              {table.getHeaderGroups()[0].headers.map(({ id, column }) => {
                const sorted = column.getIsSorted();
                return (
                  <th
                    key={id}
                    className={RIGHT.has(id) ? 'r' : undefined}
                    style={{ width: WIDTHS[id] }}
                    aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : 'none'}
                  >
                    <button
                      type="button"
                      className="cursor-pointer inline-flex items-center gap-0.5"
                      onClick={column.getToggleSortingHandler()}
                    >
                      {String(column.columnDef.header)}
                      {sorted === 'asc' && <ArrowUp className="ico" style={{ width: 11 }} />}
                      {sorted === 'desc' && <ArrowDown className="ico" style={{ width: 11 }} />}
                    </button>
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {above > 0 && (
              <tr style={{ height: above }}>
                <td colSpan={5} />
              </tr>
            )}
            {seen.map(({ index }) => {
              const r = rows[index].original;
              return (
                <tr
                  key={r.id}
                  aria-selected={open === r.id}
                  aria-rowindex={index + 2}
                  className="cursor-pointer"
                  style={{ height: ROW_PX }}
                  onClick={() => onOpen(r.id)}
                  onDoubleClick={() => setNaming(r.id)}
                  onContextMenu={(e) => menu(e, r.item)}
                >
                  <td className="font-medium truncate" title={r.name}>
                    {naming === r.id ? (
                      <NameInPlace
                        label={`Name of ${r.name}`}
                        initial={r.name}
                        className="h-[24px]! px-1!"
                        onDone={(name) => commit(change('stock', r.id, { name }))}
                        onLeave={() => setNaming(null)}
                      />
                    ) : (
                      <button
                        type="button"
                        data-file={r.id}
                        tabIndex={open === r.id || (at < 0 && index === 0) ? 0 : -1}
                        className="cursor-pointer truncate max-w-full align-middle"
                        dir="auto"
                        onClick={() => onOpen(r.id)}
                      >
                        {r.name}
                      </button>
                    )}
                  </td>
                  <td className="soft truncate" title={r.kind}>
                    {r.kind}
                  </td>
                  <td className="r">{showMegabytes(r.bytes)}</td>
                  <td className="r" style={r.wrongSize ? { color: 'var(--vermilion)', fontWeight: 600 } : undefined}>
                    {r.widthMm === null ? '—' : showCount(Math.round(r.widthMm))}
                  </td>
                  <td>{r.counts ? <FlagCounts counts={r.counts} /> : <span className="soft">—</span>}</td>
                </tr>
              );
            })}
            {below > 0 && (
              <tr style={{ height: below }}>
                <td colSpan={5} />
              </tr>
            )}
          </tbody>
          <tfoot className="sticky bottom-0 bg-[color:var(--color-base-100)]">
            <tr>
              <td>
                <span className="num">{rows.length}</span>
                {rows.length < data.length && (
                  <>
                    {' '}
                    of <span className="num">{data.length}</span>
                  </>
                )}{' '}
                file{data.length === 1 ? '' : 's'}
              </td>
              <td />
              <td className="r">{showMegabytes(data.reduce((s, r) => s + r.bytes, 0))}</td>
              <td />
              <td />
            </tr>
          </tfoot>
        </table>
      </div>
    </div>
  );
}
